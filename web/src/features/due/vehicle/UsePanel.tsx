/** How a vehicle is used: its duties as one bar, its season, its engine oil and warranty; the lead says it anew. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useQuery } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';
import { date, useMay, useShow } from '../../../app/session';
import { figure, needed, share } from '../../../app/typed';
import { Bones } from '../../../ui/Bones';
import { Amount, Day, Line } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { DutyBar, type Use } from './DutyBar';

function Change({ use, vehicle, words }: { use: Use; vehicle: number; words: Record<string, string> }) {
  const { show } = useShow();
  const kind = use.meter === 'h' ? 'engine_hours' : 'distance';
  const others = Object.keys(words).filter((d) => d !== 'road');
  const start = {
    duty_split: Object.fromEntries(others.map((o) => [o, use.duty_split[o] ? String(Math.round((use.duty_split[o] ?? 0) * 1000) / 10) : ''])),
    season_from: use.season_from,
    season_to: use.season_to,
    engine_oil_run: use.engine_oil_run === null ? '' : show(use.engine_oil_run, kind),
    engine_oil_months: use.engine_oil_months === null ? '' : String(use.engine_oil_months),
    engine_oil_on: use.engine_oil_on ?? '',
    engine_oil_meter: use.engine_oil_meter === null ? '' : show(use.engine_oil_meter, kind),
    warranty_until: use.warranty_until ?? '',
  };
  return (
    <LittleForm
      small
      open={t`Change how it is used`}
      submit={t`From now on so`}
      columns="repeat(auto-fit, minmax(190px, 1fr))"
      again={t`Keep mine over theirs`}
      start={start}
      version={use.version}
      pathOf={(field) => (others.includes(field) ? `duty_split.${field}` : field === 'duty_split' ? `duty_split.${others[0]}` : field)}
      send={(d, version) => {
        const shares = Object.entries(d.duty_split).filter(([, text]) => text.trim());
        return ask(
          client.POST('/api/vehicles/{vehicle}/use', {
            params: { path: { vehicle }, header: { 'If-Match': String(version) } },
            body: {
              ...d,
              duty_split: Object.fromEntries(shares.map(([duty, text]) => [duty, needed(share(text))])),
              season_from: d.season_from.trim(),
              season_to: d.season_to.trim(),
              engine_oil_months: figure(d.engine_oil_months),
              engine_oil_on: d.engine_oil_on || null,
              warranty_until: d.warranty_until || null,
            },
          }),
        );
      }}>
      {others.map((duty) => (
        <Line key={duty} name={`duty_split.${duty}`} label={`${words[duty]}, %`} most={5} hint={duty === others[0] ? t`the rest is road` : ''} />
      ))}
      <Line name="season_from" label={t`Season from, month-day`} most={5} hint={t`such as 12-01; empty: all year`} />
      <Line name="season_to" label={t`to`} most={5} hint={t`it may run over the new year`} />
      <Amount name="engine_oil_run" label={t`Engine oil every`} kind={kind} />
      <Line name="engine_oil_months" label={t`or every, months`} most={3} />
      <Day name="engine_oil_on" label={t`Engine oil changed on`} />
      <Amount name="engine_oil_meter" label={t`at`} kind={kind} />
      <Day name="warranty_until" label={t`Warranty to`} />
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
    u.engine_oil_months === null ? '' : t`${u.engine_oil_months} months`,
  ].filter(Boolean);
  return (
    <Section title={t`How it is used`}>
      <DutyBar split={u.duty_split} words={words.data.duties} />
      <span>
        {u.season_days === null
          ? u.all_year
            ? t`Runs all the year.`
            : t`No season is set.`
          : t`Runs from ${u.season_from} to ${u.season_to}, ${u.season_days} days a year.`}
      </span>
      {every.length > 0 && (
        <span>
          <Trans>
            Engine oil every {every.join(' or ')}
            {u.engine_oil_on ? t`, last on ${date(u.engine_oil_on)}` : ''}.
          </Trans>
        </span>
      )}
      {u.warranty_until && (
        <span>
          <Trans>Warranty to {date(u.warranty_until)}.</Trans>
        </span>
      )}
      {lead && <Change use={u} vehicle={vehicle} words={words.data.duties} />}
    </Section>
  );
}
