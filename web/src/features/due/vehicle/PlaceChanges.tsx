/** A compartment changed: renamed, on another sheet, another box fitted, taken out. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { date } from '../../../app/session';
import { Amount, Day, Line, OneOf } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';

type Place = Schemas['CompartmentOfVehicle'];

/** The boxes that were fitted here, where there was more than one. */
function Fitted({ c }: { c: Place }) {
  const fittings = useQuery({
    queryKey: ['fittings', c.id],
    queryFn: () => ask(client.GET('/api/compartments/{compartment}/fittings', { params: { path: { compartment: c.id } } })),
  });
  if ((fittings.data?.length ?? 0) < 2) return null;
  return (
    <Box component="ul" aria-label={t`Boxes fitted: ${c.name}`} sx={{ m: 0, pl: 3, typography: 'body2', color: 'text.secondary' }}>
      {fittings.data?.map((f) => (
        <li key={`${f.box}${f.on}`}>
          {f.number || t`box ${f.box}`}
          {f.here ? t`, fitted now` : ''}
          {f.on ? t` since ${date(f.on)}` : t` from the beginning`}
          {f.off ? t` until ${date(f.off)}` : ''}
          {f.why ? `: ${f.why}` : ''}
        </li>
      ))}
    </Box>
  );
}

function OtherBox({ c, meter, today }: { c: Place; meter: string; today: string }) {
  const store = useQuery({ queryKey: ['boxes'], queryFn: () => ask(client.GET('/api/boxes')) });
  const path = { compartment: c.id };
  const options = (store.data ?? [])
    .filter((b) => !b.kind || b.kind === c.kind)
    .map((b) => [String(b.id), t`${b.number || t`box ${b.id}`}${b.last_fitted ? t`, was in ${b.last_fitted}` : ''}, ${b.changes} changes on record`] as const);
  return (
    <LittleForm
      small
      open={t`Another box fitted`}
      of={c.name}
      submit={t`It is fitted`}
      start={{ on: today, meter_value: '', box_id: '', number: '', note: '', why: '' }}
      send={({ box_id, ...d }) =>
        ask(client.POST('/api/compartments/{compartment}/box', { params: { path }, body: { ...d, on: d.on || null, box_id: box_id ? Number(box_id) : null } }))
      }>
      <OneOf name="box_id" label={t`Which one`} options={options} empty={t`one that the book does not know`} />
      <Line name="number" label={t`Its number`} most={40} hint={t`if it is not from the store`} />
      <Line name="note" label={t`What is known of it`} most={300} hint={t`used or new, what it ran, its oil`} />
      <Day name="on" label={t`Fitted on`} latest={today} />
      <Amount
        name="meter_value"
        label={meter === 'h' ? t`Engine hours then` : t`Odometer then`}
        kind={meter === 'h' ? 'engine_hours' : 'distance'}
        hint={t`empty: unknown`}
      />
      <Line name="why" label={t`Why`} most={200} hint={t`the old one takes its past along into the store`} />
    </LittleForm>
  );
}

export function PlaceChanges({ c, meter, today }: { c: Place; meter: string; today: string }) {
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => ask(client.GET('/api/sheets')) });
  const path = { compartment: c.id };
  if (c.removed)
    return (
      <Box sx={{ color: 'text.secondary' }}>
        <Trans>
          {c.name}: taken out, {c.removed}
        </Trans>
      </Box>
    );
  return (
    <Box sx={{ borderTop: 1, borderColor: 'divider', pt: 1, display: 'grid', gap: 0.5 }}>
      <b>
        {c.name}
        {c.box ? t`, box ${c.box}` : ''}
      </b>
      <Fitted c={c} />
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'start' }}>
        <LittleForm
          small
          open={t`Rename, other sheet`}
          of={c.name}
          submit={t`Write it`}
          columns="1fr"
          start={{ name: c.name, sheet_id: String(c.sheet_id) }}
          send={(d) => ask(client.PATCH('/api/compartments/{compartment}', { params: { path }, body: { name: d.name, sheet_id: Number(d.sheet_id) } }))}>
          <Line name="name" autoFocus label={t`What it is called`} />
          <OneOf name="sheet_id" label={t`Its sheet`} options={(sheets.data ?? []).map((s) => [String(s.id), `${s.name} (${s.kind})`] as const)} />
        </LittleForm>
        <OtherBox c={c} meter={meter} today={today} />
        <LittleForm
          small
          open={t`Take it out`}
          of={c.name}
          submit={t`It is gone`}
          columns="1fr"
          start={{ why: '' }}
          send={(d) => ask(client.DELETE('/api/compartments/{compartment}', { params: { path }, body: d } as never))}>
          <Line name="why" autoFocus label={t`Why`} most={200} hint={t`its past stays in the Book`} />
        </LittleForm>
      </Box>
    </Box>
  );
}
