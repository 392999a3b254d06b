/** What is asked at a step, by its kind. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { type ComponentType, useState } from 'react';
import { ask, client } from '../../app/api';
import { useKeys } from '../../app/keys';
import { type Kind, useShow } from '../../app/session';
import { How } from '../../ui/How';
import { QuantityField, useRested } from '../../ui/QuantityField';
import { Trouble } from '../../ui/Trouble';
import { Inspect } from './Inspect';
import { LevelAt } from './LevelAt';
import { LossSentence } from './LossSentence';
import { Plain, text, useTyped } from './Plain';
import { Pour } from './Pour';
import type { BodyProps } from './StepCard';

function Drip(props: BodyProps) {
  const { draft, change, step } = props;
  const { show } = useShow();
  const drops = Number(useRested(text(draft, 'drops')));
  const seconds = Number(useRested(text(draft, 'seconds')));
  const drip = useQuery({
    queryKey: ['drip', drops, seconds],
    queryFn: () => ask(client.POST('/api/bench/drip', { body: { drops, seconds, wait_minutes: 10 } })),
    enabled: drops > 0 && seconds > 0,
    retry: false,
  });
  if (!step.fields.length) return <Plain {...props} />;
  const box = { htmlInput: { inputMode: 'numeric', maxLength: 6 } } as const;
  return (
    <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
      <TextField label="Drops counted" value={text(draft, 'drops')} onChange={(e) => change({ drops: e.target.value })} slotProps={box} />
      <TextField label="in seconds" value={text(draft, 'seconds')} onChange={(e) => change({ seconds: e.target.value })} slotProps={box} />
      {drip.data && (
        <span role="status">
          Ten more minutes would yield <b>at most {show(drip.data.at_most_ml, 'volume')}</b>. <How working={drip.data.working} />
        </span>
      )}
      <Trouble error={drip.error} />
    </Box>
  );
}

function Measure({ draft, change, problem, ledger, trial }: BodyProps) {
  const typed = useTyped(draft);
  const [weigh, setWeigh] = useState(Boolean(draft.mass_g));
  const [more, setMore] = useState(Boolean(draft.hose_ml || draft.rag_ml));
  const swap = () => {
    change({ pan_ml: null, mass_g: null });
    setWeigh(!weigh);
  };
  useKeys({ w: { does: 'weigh it instead', act: swap } });
  const field = (name: string, label: string, kind: Kind, big = false) => (
    <QuantityField label={label} kind={kind} big={big} value={typed(name, kind)} onChange={(v) => change({ [name]: v })} problem={problem(name)} />
  );
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1.6fr 1fr', gap: 1.5, maxWidth: 560 }}>
        {weigh ? field('mass_g', 'It weighs, oil alone', 'mass', true) : field('pan_ml', 'In the pan', 'volume', true)}
        {field('temperature_c', 'Oil temperature', 'temperature', true)}
      </Box>
      {more && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5, maxWidth: 560 }}>
          {field('hose_ml', 'In the hose', 'volume')}
          {field('rag_ml', 'On the rag', 'volume')}
        </Box>
      )}
      <Box>
        <Button variant="text" onClick={swap}>
          {weigh ? 'Measure it by volume' : 'Weigh it instead'}
        </Button>
        {!more && (
          <Button variant="text" onClick={() => setMore(true)}>
            Add hose and rag
          </Button>
        )}
      </Box>
      {trial ? <LossSentence ledger={trial} /> : ledger?.last_in_ml === null && <span>There is no earlier fill to compare with.</span>}
    </Box>
  );
}

function Torque({ step, draft, change, problem }: BodyProps) {
  const { show } = useShow();
  const typed = useTyped(draft);
  const field = step.fields.find((f) => f.name === 'torque_nm');
  const sheet = field?.default_number ?? null;
  const value = draft.torque_nm === undefined && sheet !== null ? show(sheet, 'torque') : typed('torque_nm', 'torque');
  const ticks = step.fields.filter((f) => f.kind === 'bool');
  return (
    <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 640 }}>
      <Box sx={{ typography: 'h1', fontSize: '3.2rem' }}>{field?.shown}</Box>
      <QuantityField
        label={sheet === null ? 'Torque used, with its unit' : `Torque used (sheet: ${show(sheet, 'torque')})`}
        kind="torque"
        value={value}
        onChange={(v) => change({ torque_nm: v })}
        problem={problem('torque_nm')}
      />
      {ticks.map((f) => (
        <Box
          key={f.name}
          component="label"
          sx={{
            display: 'flex',
            gap: 1,
            alignItems: 'center',
            minHeight: 56,
            border: 2,
            borderRadius: 2,
            px: 1,
            bgcolor: 'background.paper',
            borderColor: draft[f.name] ? 'text.primary' : 'divider',
            cursor: 'pointer',
          }}>
          <Checkbox
            checked={draft[f.name] === true}
            onChange={(e) => change({ [f.name]: e.target.checked, torque_nm: draft.torque_nm ?? sheet })}
            sx={{ '& svg': { fontSize: 30 }, p: 0.5 }}
          />
          {f.label}
        </Box>
      ))}
    </Box>
  );
}

function Sign({ service }: BodyProps) {
  const { show } = useShow();
  const required = service.steps.filter((s) => s.required && s.id !== 'sign' && s.status === 'open');
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      {service.ledgers.map((l) => (
        <Box key={l.compartment} sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}>
          <b>{l.name}</b>: {l.drained_ml === null ? 'nothing measured' : `${show(l.drained_ml, 'volume')} out`}, {show(l.poured_ml - l.run_out_ml, 'volume')} of{' '}
          {l.oil} in
          {l.assessment?.level !== undefined && l.assessment?.level !== null
            ? `, debris ${l.assessment.level} (${l.assessment.name})`
            : ', debris not looked at'}
          {l.loss ? `, ${l.loss.band}` : ''}.
        </Box>
      ))}
      {service.gaps.length > 0 ? (
        <Box>
          <b>Gaps, explained:</b>
          <Box component="ul" sx={{ m: 0, pl: 3 }}>
            {service.gaps.map((g) => (
              <li key={g}>{g}</li>
            ))}
          </Box>
        </Box>
      ) : (
        <span>No gap: every step was done.</span>
      )}
      {required.length > 0 && <span>Still open: {required.map((s) => s.title).join('; ')}.</span>}
    </Box>
  );
}

function Level(props: BodyProps) {
  return props.step.fields.some((f) => f.kind === 'temperature') ? <LevelAt {...props} /> : <Plain {...props} />;
}

const BODIES: Record<string, ComponentType<BodyProps>> = {
  confirm: Plain,
  note: Plain,
  timer: Drip,
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
