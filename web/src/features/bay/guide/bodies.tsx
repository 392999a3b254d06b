/** What is asked at a step, by its kind. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { type ComponentType, useState } from 'react';
import type { Schemas } from '../../../app/api';
import { useKeys } from '../../../app/keys';
import { type Kind, useShow } from '../../../app/session';
import { Choice } from '../../../ui/Choice';
import { How } from '../../../ui/How';
import { QuantityField } from '../../../ui/QuantityField';
import { LevelAt } from '../amounts/LevelAt';
import { LossSentence } from '../amounts/LossSentence';
import { Pour } from '../amounts/Pour';
import { Rinse } from '../amounts/Rinse';
import { CaseLevel, Slope } from '../amounts/Slope';
import { VariantSentence } from '../amounts/VariantSentence';
import { Adaptor } from '../amounts/Wrench';
import { ScalePanel } from '../devices/ScalePanel';
import { ScanPanel } from '../devices/ScanPanel';
import { useScan } from '../devices/scan';
import { Inspect } from '../findings/Inspect';
import { listOf } from './answered';
import type { BodyProps } from './body';
import { Calls } from './Calls';
import { Plain, Ticks, text, useTyped } from './Plain';
import { SoList } from './SoList';
import { Summary } from './Summary';

/** A timer: what is called out while it runs, or drops counted while it drains. */
function Wait(props: BodyProps) {
  const { step, service } = props;
  if (step.calls.length) return <Calls step={step} now={service.now} />;
  return step.fields.some((f) => f.name === 'drops') ? <Drops {...props} /> : <Plain {...props} />;
}

/** Drops counted while it drains, and what more waiting yields. */
function Drops({ draft, change, step, bay, ledger, problem }: BodyProps) {
  const box = { htmlInput: { inputMode: 'numeric', maxLength: 6 } } as const;
  const [drops, seconds] = [text(draft, 'drops'), text(draft, 'seconds')];
  const count = () => bay.act('reading', step.id, { drops, seconds }, () => change({ drops: '', seconds: '' }));
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'start', flexWrap: 'wrap' }}>
        <TextField
          label={t`Drops counted`}
          value={drops}
          onChange={(e) => change({ drops: e.target.value })}
          error={Boolean(problem('drops'))}
          helperText={problem('drops') || ' '}
          slotProps={box}
        />
        <TextField
          label={t`in seconds`}
          value={seconds}
          onChange={(e) => change({ seconds: e.target.value })}
          error={Boolean(problem('seconds'))}
          helperText={problem('seconds') || ' '}
          slotProps={box}
        />
        <Button variant="outlined" sx={{ minHeight: 48 }} disabled={!drops.trim() || !seconds.trim() || bay.held} onClick={count}>{t`Count it`}</Button>
      </Box>
      {ledger?.drip && (
        <Box role="status" sx={{ typography: 'h2' }}>
          {ledger.drip.text} <How working={ledger.drip.working} title={t`What waiting yields`} />
        </Box>
      )}
    </Box>
  );
}

function Measure(props: BodyProps) {
  const { draft, change, problem, ledger, trial, id, step, mayWork } = props;
  const drips = step.fields.some((f) => f.name === 'drops');
  const [count, setCount] = useState(Boolean(draft.drops));
  const typed = useTyped(draft);
  const { show } = useShow();
  const [weigh, setWeigh] = useState(Boolean(draft.mass_g));
  const [more, setMore] = useState(Boolean(draft.hose_ml || draft.rag_ml));
  const swap = () => {
    change({ pan_ml: null, mass_g: null });
    setWeigh(!weigh);
  };
  const warmths = step.fields.find((f) => f.name === 'warmth');
  useKeys({ w: { does: t`weigh it instead`, act: swap } });
  const field = (name: string, label: string, kind: Kind, big = false) => (
    <QuantityField label={label} kind={kind} big={big} value={typed(name, kind)} onChange={(v) => change({ [name]: v })} problem={problem(name)} />
  );
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1.6fr 1fr', gap: 1.5, maxWidth: 560 }}>
        {weigh ? field('mass_g', t`It weighs, oil alone`, 'mass', true) : field('pan_ml', t`In the pan`, 'volume', true)}
        {field('temperature_c', t`Oil temperature`, 'temperature', true)}
      </Box>
      {warmths && !draft.temperature_c && (
        <Choice
          label={warmths.label}
          value={text(draft, 'warmth')}
          options={warmths.choices.map((w) => ({ value: w, label: w }))}
          onChange={(warmth) => change({ warmth })}
        />
      )}
      {more && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5, maxWidth: 560 }}>
          {field('hose_ml', t`In the hose`, 'volume')}
          {field('rag_ml', t`On the rag`, 'volume')}
        </Box>
      )}
      <Box>
        <Button variant="text" onClick={swap}>
          {weigh ? t`Measure it by volume` : t`Weigh it instead`}
        </Button>
        {!more && <Button variant="text" onClick={() => setMore(true)}>{t`Add hose and rag`}</Button>}
        {drips && !count && <Button variant="text" onClick={() => setCount(true)}>{t`Count drops`}</Button>}
      </Box>
      {drips && count && <Drops {...props} />}
      {weigh && mayWork && <ScalePanel service={id} take={(grams) => change({ mass_g: `${grams} g` })} />}
      {ledger?.flush_in_ml != null && step.purpose === 'measure' && (
        <span>
          <Trans>
            {show(ledger.flush_in_ml, 'volume')} of flush fluid went in
            {ledger.flush_out_ml !== null && t`, ${show(ledger.flush_out_ml, 'volume')} came out`}.
          </Trans>
        </span>
      )}
      {(trial ?? ledger)?.recovery && (
        <Box role="status" sx={{ typography: 'h3', color: (trial ?? ledger)?.recovery?.enough ? 'text.primary' : 'error.main' }}>
          {(trial ?? ledger)?.recovery?.text}
        </Box>
      )}
      {(trial ?? ledger)?.variant && <VariantSentence verdict={(trial ?? ledger)?.variant as Schemas['VariantVerdict']} />}
      {trial ? <LossSentence ledger={trial} /> : ledger?.last_in_ml === null && <span>{t`No earlier fill is on record: nothing to compare with.`}</span>}
    </Box>
  );
}

function Torque({ step, draft, change, problem }: BodyProps) {
  const { show } = useShow();
  const typed = useTyped(draft);
  const field = step.fields.find((f) => f.name === 'torque_nm');
  const sheet = field?.default_number ?? null;
  const value = draft.torque_nm === undefined && sheet !== null ? show(sheet, 'torque') : typed('torque_nm', 'torque');
  const heads = step.fields.find((f) => f.name === 'head');
  const bolts = step.fields.some((f) => f.name === 'bolts');
  return (
    <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 640 }}>
      {heads ? (
        <Choice
          large
          label={heads.label}
          value={text(draft, 'head')}
          options={heads.choices.map((c) => ({ value: c, label: c }))}
          onChange={(head) => change({ head })}
        />
      ) : (
        <Box sx={{ typography: 'h1', fontSize: '3.2rem' }}>{field?.shown}</Box>
      )}
      <QuantityField
        label={sheet === null ? t`Torque used, with its unit` : t`Torque used (sheet: ${show(sheet, 'torque')})`}
        kind="torque"
        value={value}
        onChange={(v) => change({ torque_nm: v })}
        problem={problem('torque_nm')}
      />
      <SoList items={listOf(step)} draft={draft} change={change} />
      {bolts && (
        <TextField
          label={t`How many bolts`}
          value={text(draft, 'bolts')}
          onChange={(e) => change({ bolts: e.target.value })}
          slotProps={{ htmlInput: { inputMode: 'numeric', maxLength: 3 } }}
          sx={{ maxWidth: 200 }}
        />
      )}
      <Adaptor torque={value} />
    </Box>
  );
}

function Sign({ service }: BodyProps) {
  return <Summary service={service} />;
}

function Level(props: BodyProps) {
  return props.step.fields.some((f) => f.kind === 'temperature') ? <LevelAt {...props} /> : <Plain {...props} />;
}

function Confirm(props: BodyProps) {
  const { step, id, mayWork } = props;
  if (step.purpose === 'rinse') return <Rinse {...props} />;
  if (step.purpose === 'levelled') return <Slope {...props} />;
  if (step.purpose === 'case') return <CaseLevel {...props} />;
  if (step.purpose === 'thermostat')
    return (
      <Box sx={{ display: 'grid', gap: 1.5 }}>
        <ScanPanel service={id} compartment={step.compartment} mayWork={mayWork} />
        <Plain {...props} />
      </Box>
    );
  return step.resets.length ? <Resets {...props} /> : <Plain {...props} />;
}

/** What a tool set back needs no tick; without a tool it is said by hand. */
function Resets(props: BodyProps) {
  const { step, id, draft, change, mayWork } = props;
  const connected = useScan(id, step.compartment, false).scan.data?.connected;
  const byTool = step.resets.every((r) => r.outcome === 'done');
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <ScanPanel service={id} compartment={step.compartment} mayWork={mayWork} resets />
      <Plain {...props} step={byTool ? { ...step, checklist: [] } : step} />
      {(connected ? [] : step.resets).map((r) =>
        r.outcome ? (
          <Box key={r.name} role="status" sx={{ display: 'flex', gap: 1.5, color: r.outcome === 'failed' ? 'error.main' : 'text.primary' }}>
            <b>{r.name}</b>
            <span>{r.outcome === 'failed' ? t`failed, says the tool. ${r.why}` : t`done, says the tool`}</span>
          </Box>
        ) : (
          <Ticks key={r.name} items={[r.name]} words={(name) => t`${name}: done, by hand`} draft={draft} change={change} />
        ),
      )}
    </Box>
  );
}

/** Values that a scan tool can read are read by it. */
function Note(props: BodyProps) {
  const { step, id, mayWork } = props;
  const cool = step.purpose === 'cool';
  const reads = cool || step.purpose === 'before' || step.purpose === 'values';
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      {reads && (
        <ScanPanel
          service={id}
          compartment={step.compartment}
          mayWork={mayWork}
          resets={!cool}
          readOnly
          {...(cool ? {} : { takeValues: (words: string) => props.change({ [step.fields[0]?.name ?? '']: words }) })}
          {...(cool ? { take: (c: number) => props.change({ temperature_c: `${c} °C` }) } : {})}
        />
      )}
      <Plain {...props} />
    </Box>
  );
}

const BODIES: Record<string, ComponentType<BodyProps>> = {
  confirm: Confirm,
  note: Note,
  timer: Wait,
  level: Level,
  measure: Measure,
  inspect: Inspect,
  torque: Torque,
  pour: Pour,
  sign: Sign,
};

export function bodyOf(kind: string): ComponentType<BodyProps> | undefined {
  return BODIES[kind];
}
