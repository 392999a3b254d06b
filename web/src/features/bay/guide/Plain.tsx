/** A step that is ticked, chosen or typed: its checklist and its fields. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { type Kind, useShow } from '../../../app/session';
import { Choice } from '../../../ui/Choice';
import { QuantityField } from '../../../ui/QuantityField';
import { Tick } from '../../../ui/Tick';
import { VariantSentence } from '../amounts/VariantSentence';
import { WrongOil } from '../start/WrongOil';
import type { BodyProps } from './body';
import { SoList } from './SoList';
import type { Values } from './service';

export const text = (draft: Values, name: string): string => (draft[name] === null || draft[name] === undefined ? '' : String(draft[name]));
/** What stands in a field: the text as typed, or a canonical value from an earlier entry shown in the person's units. */
export function useTyped(draft: Values) {
  const { show } = useShow();
  return (name: string, kind: Kind): string => {
    const value = draft[name];
    return typeof value === 'number' ? show(value, kind) : text(draft, name);
  };
}
const QUANTITIES = ['volume', 'mass', 'temperature', 'torque', 'length', 'distance', 'engine_hours'];

export function Ticks({
  items,
  draft,
  change,
  words = (item) => item,
}: {
  items: string[];
  draft: Values;
  change: (part: Values) => void;
  words?: (item: string) => string;
}) {
  const ticked = Array.isArray(draft.ticked) ? (draft.ticked as string[]) : [];
  return (
    <Box sx={{ display: 'grid', gap: 0.75 }}>
      {items.map((item) => {
        const on = ticked.includes(item);
        return <Tick key={item} label={words(item)} on={on} change={() => change({ ticked: on ? ticked.filter((t) => t !== item) : [...ticked, item] })} />;
      })}
    </Box>
  );
}

const named = (draft: Values, name: string): string[] => (Array.isArray(draft[name]) ? (draft[name] as string[]) : []);

/** Parts that are good or bad; what is bad is said. */
export function Checks({ items, draft, change, problem }: { items: string[]; draft: Values; change: (part: Values) => void; problem: BodyProps['problem'] }) {
  const [good, bad] = [named(draft, 'ticked'), named(draft, 'bad')];
  const without = (list: string[], item: string) => list.filter((x) => x !== item);
  const answer = (item: string, to: string) =>
    change({
      ticked: to === 'good' ? [...without(good, item), item] : without(good, item),
      bad: to === 'bad' ? [...without(bad, item), item] : without(bad, item),
    });
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      {items.map((item) => (
        <Choice
          key={item}
          label={item}
          value={good.includes(item) ? 'good' : bad.includes(item) ? 'bad' : ''}
          options={[
            { value: 'good', label: t`good` },
            { value: 'bad', label: t`bad` },
          ]}
          onChange={(to) => answer(item, to)}
        />
      ))}
      {good.length < items.length && bad.length === 0 && <Button variant="outlined" onClick={() => change({ ticked: items, bad: [] })}>{t`All good`}</Button>}
      {bad.length > 0 && (
        <TextField
          label={t`What was seen?`}
          value={text(draft, 'bad_seen')}
          onChange={(e) => change({ bad_seen: e.target.value })}
          error={Boolean(problem('bad_seen'))}
          helperText={problem('bad_seen') || ' '}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
      )}
    </Box>
  );
}

export function Plain({ step, draft, change, problem, ledger, bay }: BodyProps) {
  const typed = useTyped(draft);
  const asksVariant = step.fields.some((f) => f.name === 'variant');
  const { show } = useShow();
  return (
    <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 640 }}>
      {asksVariant && ledger?.variant && (
        <VariantSentence verdict={ledger.variant} take={step.purpose === 'which' ? (variant) => bay.act('done', step.id, { variant }) : undefined} />
      )}
      {step.checks ? (
        <Checks items={step.checklist} draft={draft} change={change} problem={problem} />
      ) : (
        step.checklist.length > 0 && <SoList items={step.checklist} draft={draft} change={change} />
      )}
      {step.fields.map((f) => {
        if (f.name === 'reason') return null;
        if (f.kind === 'choice' && step.kind === 'level' && f.choices.length === 1)
          return (
            <Box key={f.name} sx={{ typography: 'h3' }}>
              {f.label}: {f.choices[0]}
            </Box>
          );
        if (f.kind === 'choice')
          return (
            <Choice
              key={f.name}
              large
              label={f.label}
              value={text(draft, f.name)}
              options={f.choices.map((c) => ({ value: c, label: c }))}
              onChange={(v) => change({ [f.name]: v })}
            />
          );
        if (f.kind === 'bool') return <Tick key={f.name} label={f.label} on={draft[f.name] === true} change={(on) => change({ [f.name]: on })} />;
        if (QUANTITIES.includes(f.kind))
          return (
            <QuantityField
              key={f.name}
              label={f.label}
              kind={f.kind as Kind}
              value={draft[f.name] === undefined && f.default_number !== null ? show(f.default_number, f.kind as Kind) : typed(f.name, f.kind as Kind)}
              onChange={(v) => change({ [f.name]: v })}
              problem={problem(f.name)}
            />
          );
        if (f.name === 'wrong_oil')
          return (
            <WrongOil
              key={f.name}
              label={f.label}
              value={draft[f.name] === undefined ? (f.default_text ?? '') : text(draft, f.name)}
              change={(said) => change({ [f.name]: said })}
              problem={problem(f.name)}
            />
          );
        return (
          <TextField
            key={f.name}
            label={f.label}
            sx={f.kind === 'number' ? { maxWidth: 260 } : undefined}
            multiline={f.kind === 'lines'}
            minRows={f.kind === 'lines' ? 4 : undefined}
            value={text(draft, f.name)}
            onChange={(e) => change({ [f.name]: e.target.value })}
            error={Boolean(problem(f.name))}
            helperText={problem(f.name) || ' '}
            slotProps={{ htmlInput: { maxLength: 1000 } }}
          />
        );
      })}
    </Box>
  );
}
