/** How a vehicle is used: its duties as one bar, its season, its engine oil and warranty; the lead says it anew. */
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../../app/api';
import { date, useMay, useShow } from '../../../app/session';
import { figure, needed, share } from '../../../app/typed';
import { Bones } from '../../../ui/Bones';
import { LittleForm } from '../../../ui/LittleForm';
import { Section } from '../../../ui/Page';
import { QuantityField } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';
import { DutyBar, type Use } from './DutyBar';

function Change({ use, vehicle, words }: { use: Use; vehicle: number; words: Record<string, string> }) {
  const { show } = useShow();
  const kind = use.meter === 'h' ? 'engine_hours' : 'distance';
  const others = Object.keys(words).filter((d) => d !== 'road');
  const [d, setD] = useState({
    duty: Object.fromEntries(others.map((o) => [o, use.duty_split[o] ? String(Math.round((use.duty_split[o] ?? 0) * 1000) / 10) : ''])) as Record<
      string,
      string
    >,
    from: use.season_from,
    to: use.season_to,
    run: use.engine_oil_run === null ? '' : show(use.engine_oil_run, kind),
    months: use.engine_oil_months === null ? '' : String(use.engine_oil_months),
    on: use.engine_oil_on ?? '',
    meter: use.engine_oil_meter === null ? '' : show(use.engine_oil_meter, kind),
    warranty: use.warranty_until ?? '',
  });
  const set = (part: Partial<typeof d>) => setD({ ...d, ...part });
  const day = (label: string, key: 'on' | 'warranty', problem: string) => (
    <TextField
      label={label}
      type="date"
      value={d[key]}
      onChange={(e) => set({ [key]: e.target.value })}
      error={Boolean(problem)}
      helperText={problem || ' '}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
  return (
    <LittleForm
      small
      open="Change how it is used"
      submit="From now on so"
      send={() => {
        const shares = Object.entries(d.duty).filter(([, text]) => text.trim());
        return ask(
          client.POST('/api/vehicles/{vehicle}/use', {
            params: { path: { vehicle } },
            body: {
              duty_split: Object.fromEntries(shares.map(([duty, text]) => [duty, needed(share(text))])),
              season_from: d.from.trim(),
              season_to: d.to.trim(),
              engine_oil_run: d.run,
              engine_oil_months: figure(d.months),
              engine_oil_on: d.on || null,
              engine_oil_meter: d.meter,
              warranty_until: d.warranty || null,
            },
          }),
        );
      }}>
      {(at) => (
        <>
          {others.map((duty) => (
            <Words
              key={duty}
              label={`${words[duty]}, %`}
              value={d.duty[duty] ?? ''}
              onChange={(text) => set({ duty: { ...d.duty, [duty]: text } })}
              problem={at(duty) || at(`duty_split.${duty}`) || (duty === others[0] ? at('duty_split') : '')}
              most={5}
              hint={duty === others[0] ? 'the rest is road' : ''}
            />
          ))}
          <Box />
          <Words
            label="Season from, month-day"
            value={d.from}
            onChange={(from) => set({ from })}
            problem={at('season_from')}
            most={5}
            hint="such as 12-01; empty: all year"
          />
          <Words label="to" value={d.to} onChange={(to) => set({ to })} problem={at('season_to')} most={5} hint="it may run over the new year" />
          <QuantityField label="Engine oil every" kind={kind} value={d.run} onChange={(run) => set({ run })} problem={at('engine_oil_run')} />
          <Words label="or every, months" value={d.months} onChange={(months) => set({ months })} problem={at('engine_oil_months')} most={3} />
          {day('Engine oil changed on', 'on', at('engine_oil_on'))}
          <QuantityField label="at" kind={kind} value={d.meter} onChange={(meter) => set({ meter })} problem={at('engine_oil_meter')} />
          {day('Warranty to', 'warranty', at('warranty_until'))}
        </>
      )}
    </LittleForm>
  );
}

export function UsePanel({ vehicle }: { vehicle: number }) {
  const { show } = useShow();
  const lead = useMay('lead');
  const use = useQuery({ queryKey: ['use', vehicle], queryFn: () => ask(client.GET('/api/vehicles/{vehicle}/use', { params: { path: { vehicle } } })) });
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  if (use.isPending || words.isPending) return <Bones lines={3} />;
  if (!use.data || !words.data) return <Trouble error={use.error ?? words.error} />;
  const u = use.data;
  const every = [
    u.engine_oil_run === null ? '' : show(u.engine_oil_run, u.meter === 'h' ? 'engine_hours' : 'distance'),
    u.engine_oil_months === null ? '' : `${u.engine_oil_months} months`,
  ].filter(Boolean);
  return (
    <Section title="How it is used">
      <DutyBar split={u.duty_split} words={words.data.duties} />
      <span>{u.season_days === null ? 'Runs all the year.' : `Runs from ${u.season_from} to ${u.season_to}, ${u.season_days} days a year.`}</span>
      {every.length > 0 && (
        <span>
          Engine oil every {every.join(' or ')}
          {u.engine_oil_on ? `, last on ${date(u.engine_oil_on)}` : ''}.
        </span>
      )}
      {u.warranty_until && <span>Warranty to {date(u.warranty_until)}.</span>}
      {lead && <Change key={JSON.stringify(u)} use={u} vehicle={vehicle} words={words.data.duties} />}
    </Section>
  );
}
