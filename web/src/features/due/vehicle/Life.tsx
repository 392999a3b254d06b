/** The oil life of a compartment: by which limit, whose interval, its working, what the other school says, and what is set for this one. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { ask, client, type Schemas } from '../../../app/api';
import { date, nearDate, useMay, useShow } from '../../../app/session';
import { figure, needed, share } from '../../../app/typed';
import { Amount, Line, OneOf } from '../../../ui/form/fields';
import { How } from '../../../ui/How';
import { LittleForm } from '../../../ui/LittleForm';
import { oilColour } from '../../../ui/oil';
import { SHORT } from '../words';

type Life = Schemas['CompartmentLife'];
const SCHOOLS: [string, string][] = [
  ['', t`as the policy says`],
  ['preventive', t`preventive`],
  ['maker', t`the maker's figure`],
];
const LINKS: [string, string][] = [
  ['', t`nothing`],
  ['engine oil', t`the engine oil`],
  ['season', t`the season: before it starts`],
];

/** A tube per limit, filled as far as the life is used, with a notch where it falls due. */
export function Tubes({ limits, family, colour }: { limits: Life['limits']; family: string; colour: string }) {
  return (
    <Box sx={{ display: 'grid', gap: 0.5, gridTemplateColumns: 'max-content minmax(60px, 220px) max-content', alignItems: 'center', columnGap: 1.25 }}>
      {limits.map((l) => {
        const words = SHORT[l.limit] ?? l.limit;
        return (
          <Box key={l.limit} sx={{ display: 'contents' }}>
            <Box component="span" sx={{ typography: 'body2', color: 'text.secondary' }}>
              {words}
            </Box>
            <Box
              role="meter"
              aria-label={t`Life used, ${words}`}
              aria-valuenow={Math.round(l.used * 100)}
              aria-valuemin={0}
              aria-valuemax={100}
              sx={{
                position: 'relative',
                height: 12,
                border: 1.5,
                borderColor: 'text.primary',
                borderRadius: 6,
                overflow: 'hidden',
                bgcolor: 'background.paper',
              }}>
              <Box
                sx={{ height: '100%', width: `${Math.min(100, l.used * 80)}%`, bgcolor: l.used > 1 ? 'error.main' : oilColour(family, colour || 'fresh') }}
              />
              <Box aria-hidden="true" sx={{ position: 'absolute', left: '80%', top: 0, bottom: 0, width: 2, bgcolor: 'text.primary' }} />
            </Box>
            <b>{Math.round(l.used * 100)} %</b>
          </Box>
        );
      })}
    </Box>
  );
}

/** What the other school would have said. */
export function otherSchool(o: NonNullable<Life['other']>, today: string, meter: string, show: ReturnType<typeof useShow>['show']): string {
  const who = o.school === 'maker' ? t`By the maker's figure (${o.basis})` : t`By the preventive school (${o.basis})`;
  if (o.limit === 'none') return t`${who} it would never fall due.`;
  const at = o.at_meter === null ? '' : `, at ${show(o.at_meter, meter === 'h' ? 'engine_hours' : 'distance')}`;
  return t`${who} it would ${o.used > 1 ? t`have been due` : t`be due`} ${o.on ? nearDate(o.on, today) : t`at no date`}${at}.`;
}

/** What the core calls the parts of an interval, and the fields that they are typed in. */
const OF_RULE: Record<string, string> = { hours: 'interval_h', distance_km: 'interval_km', months: 'interval_months' };

function SetApart({ life, meter }: { life: Life; meter: string }) {
  const { show } = useShow();
  const r = life.rule;
  const start = {
    school: r.school,
    interval_km: r.interval_km === null ? '' : show(r.interval_km, 'distance'),
    interval_h: r.interval_h === null ? '' : show(r.interval_h, 'engine_hours'),
    interval_months: r.interval_months === null ? '' : String(r.interval_months),
    load_share: r.load_share === null ? '' : String(Math.round(r.load_share * 1000) / 10),
    severe_factor: r.severe_factor === null ? '' : String(Math.round(r.severe_factor * 100)),
    linked: r.linked,
    why: '',
  };
  return (
    <LittleForm
      small
      open={r.at ? t`Set it otherwise` : t`Set this one apart`}
      of={life.name}
      submit={t`From now on so`}
      columns="1fr 1fr 1fr"
      start={start}
      again={t`Set mine over theirs`}
      version={r.version}
      pathOf={(field) => OF_RULE[field] ?? field}
      send={(d, version) => {
        const shares = { load_share: share(d.load_share), severe_factor: share(d.severe_factor) };
        const body = { ...d, ...shares, interval_months: figure(d.interval_months) } as Schemas['RuleRequestRequest'];
        return ask(
          client.POST('/api/compartments/{compartment}/rule', { params: { path: { compartment: life.id }, header: { 'If-Match': String(version) } }, body }),
        );
      }}>
      <OneOf name="school" label={t`School`} options={SCHOOLS} />
      <OneOf name="linked" label={t`It goes with`} options={LINKS} />
      {meter === 'h' ? (
        <Amount name="interval_h" label={t`Interval`} kind="engine_hours" hint={t`empty: the sheet's`} />
      ) : (
        <Amount name="interval_km" label={t`Interval`} kind="distance" hint={t`empty: the sheet's`} />
      )}
      <Line name="interval_months" label={t`Months`} most={4} hint={t`empty: the sheet's`} />
      <Line name="load_share" label={t`Engine torque over the box's rating, %`} most={5} hint={t`up to 75 % changes nothing`} />
      <Line name="severe_factor" label={t`Severe duty counts, % of the interval`} most={4} hint={t`empty: as the table says`} />
      <Box sx={{ gridColumn: '1 / -1' }}>
        <Line name="why" label={t`Why this one differs`} most={200} hint={t`goes on record with your name`} />
      </Box>
    </LittleForm>
  );
}

function Counter({ life }: { life: Life }) {
  return (
    <LittleForm
      small
      open={t`Read its counter`}
      of={life.name}
      submit={t`Note it`}
      start={{ used: '' }}
      send={(d) =>
        ask(client.POST('/api/compartments/{compartment}/counter', { params: { path: { compartment: life.id } }, body: { used: needed(share(d.used)) } }))
      }>
      <Line name="used" label={t`Life used, as the vehicle's own counter says, %`} most={5} hint={t`a counter that counts down: 100 less what it shows`} />
    </LittleForm>
  );
}

export function LifeOf({ life, meter, today, family, colour }: { life: Life; meter: string; today: string; family: string; colour: string }) {
  const { show } = useShow();
  const lead = useMay('lead');
  const mayWork = useMay('technician');
  const r = life.rule;
  return (
    <Box sx={{ display: 'grid', gap: 0.75, justifyItems: 'start' }}>
      {life.unknown_why.length > 0 && (
        <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
          {life.unknown_why.map((w) => (
            <li key={w}>{w}</li>
          ))}
        </Box>
      )}
      {life.limits.length > 0 && <Tubes limits={life.limits} family={family} colour={colour} />}
      <Box sx={{ typography: 'body2' }}>
        {life.other && otherSchool(life.other, today, meter, show)} <How working={life.working} title={t`${life.name}: its oil life`} />
      </Box>
      {r.at && (
        <Box sx={{ typography: 'body2', color: 'text.secondary' }}>
          <Trans>
            Set apart on {date(r.at)} by {r.by}: {r.why}
          </Trans>
        </Box>
      )}
      {life.counter !== null && (
        <Box sx={{ typography: 'body2', color: 'text.secondary' }}>
          <Trans>
            Its own counter said {Math.round(life.counter * 100)} % used on {date(life.counter_on)}.
          </Trans>
        </Box>
      )}
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap' }}>
        {lead && <SetApart key={`${life.id}${r.at ?? ''}`} life={life} meter={meter} />}
        {mayWork && !life.unknown_why.length && <Counter life={life} />}
      </Box>
    </Box>
  );
}
