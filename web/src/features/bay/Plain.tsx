/** A step that is ticked, chosen or typed: its checklist and its fields. */
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import TextField from '@mui/material/TextField';
import { type Kind, useShow } from '../../app/session';
import { Choice } from '../../ui/Choice';
import { QuantityField } from '../../ui/QuantityField';
import type { BodyProps } from './StepCard';
import type { Values } from './useService';

export const text = (draft: Values, name: string): string => (draft[name] === null || draft[name] === undefined ? '' : String(draft[name]));
/** What stands in a field: the text as typed, or a canonical value from an earlier entry shown in the person's units. */
export function useTyped(draft: Values) {
  const { show } = useShow();
  return (name: string, kind: Kind): string => {
    const value = draft[name];
    return typeof value === 'number' ? show(value, kind) : text(draft, name);
  };
}
const QUANTITIES = ['volume', 'mass', 'temperature', 'torque'];

function Ticks({ items, draft, change }: { items: string[]; draft: Values; change: (part: Values) => void }) {
  const ticked = Array.isArray(draft.ticked) ? (draft.ticked as string[]) : [];
  return (
    <Box sx={{ display: 'grid', gap: 0.75 }}>
      {items.map((item) => {
        const on = ticked.includes(item);
        return (
          <Box
            key={item}
            component="label"
            sx={{
              display: 'flex',
              gap: 1,
              alignItems: 'center',
              minHeight: 52,
              border: 2,
              borderRadius: 2,
              px: 1,
              bgcolor: 'background.paper',
              borderColor: on ? 'text.primary' : 'divider',
              cursor: 'pointer',
              fontSize: 18,
            }}>
            <Checkbox
              checked={on}
              onChange={() => change({ ticked: on ? ticked.filter((t) => t !== item) : [...ticked, item] })}
              sx={{ '& svg': { fontSize: 30 }, p: 0.5 }}
            />
            {item}
          </Box>
        );
      })}
    </Box>
  );
}

export function Plain({ step, draft, change, problem }: BodyProps) {
  const typed = useTyped(draft);
  return (
    <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 640 }}>
      {step.checklist.length > 0 && <Ticks items={step.checklist} draft={draft} change={change} />}
      {step.fields.map((f) => {
        if (f.name === 'reason') return null;
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
        if (QUANTITIES.includes(f.kind))
          return (
            <QuantityField
              key={f.name}
              label={f.label}
              kind={f.kind as Kind}
              value={typed(f.name, f.kind as Kind)}
              onChange={(v) => change({ [f.name]: v })}
              problem={problem(f.name)}
            />
          );
        return (
          <TextField
            key={f.name}
            label={f.label}
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
