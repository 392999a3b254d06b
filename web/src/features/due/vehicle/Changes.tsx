/** A vehicle changed: called anew, laid up or sold, back again; deleted where it has no past. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { date, useMay, useSession } from '../../../app/session';
import { Day, Line, OneOf, pairs } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { PlaceChanges } from './PlaceChanges';
import { Twice } from './Twice';

type Called = Schemas['CalledRequestRequest'];
type Retire = Schemas['RetireRequestRequest'];

/** A vehicle that is no more in use says so, and may come back. */
function Away({ v }: { v: Schemas['VehicleDetails'] }) {
  const lead = useMay('lead');
  const cache = useQueryClient();
  const merged = v.retired_how === 'merged';
  const back = useMutation({
    mutationFn: () => ask(client.DELETE('/api/vehicles/{vehicle}/retire', { params: { path: { vehicle: v.id } } })),
    onSuccess: () => cache.invalidateQueries(),
  });
  return (
    <Box role="status" sx={{ borderLeft: 6, borderColor: (t) => t.tones.amberText, pl: 1.5, display: 'grid', gap: 0.5, justifyItems: 'start' }}>
      <span>
        <Trans>
          <b>
            {v.retired_how[0]?.toUpperCase()}
            {v.retired_how.slice(1)}
          </b>{' '}
          on {date(v.retired_on)}
          {v.retired_note ? `: ${v.retired_note}` : ''}.{' '}
          {merged ? t`Its past is with that one, on whose page they are taken apart.` : t`It is not on Due; its past stays in the Book.`}
        </Trans>
      </span>
      {lead && !merged && <Button size="small" variant="outlined" disabled={back.isPending} onClick={() => back.mutate()}>{t`It is back`}</Button>}
      <Trouble error={back.error} />
    </Box>
  );
}

function Delete({ v }: { v: Schemas['VehicleDetails'] }) {
  const go = useNavigate();
  const cache = useQueryClient();
  const drop = useMutation({
    mutationFn: () => ask(client.DELETE('/api/vehicles/{vehicle}', { params: { path: { vehicle: v.id } } })),
    onSuccess: async () => {
      go('/due');
      await cache.invalidateQueries();
    },
  });
  return (
    <Box>
      <Button
        size="small"
        variant="text"
        disabled={drop.isPending}
        onClick={() => drop.mutate()}
        sx={{ px: 0, color: 'text.secondary' }}>{t`Entered by mistake: delete it`}</Button>
      <Trouble error={drop.error} />
    </Box>
  );
}

export const detailsOf = (vehicle: number) => ({
  queryKey: ['vehicle', vehicle],
  queryFn: () => ask(client.GET('/api/vehicles/{vehicle}', { params: { path: { vehicle } } })),
});

/** On top of the page of a vehicle that is no more in use. */
export function AwayNotice({ vehicle }: { vehicle: number }) {
  const v = useQuery(detailsOf(vehicle)).data;
  return v?.retired_on ? <Away v={v} /> : null;
}

export function Changes({ vehicle }: { vehicle: number }) {
  const lead = useMay('lead');
  const today = useSession().data?.today ?? '';
  const path = { vehicle };
  const details = useQuery({ ...detailsOf(vehicle), enabled: lead });
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY, enabled: lead });
  const v = details.data;
  if (!v || !lead) return null;
  const called: Called = {
    name: v.name,
    plate: v.plate,
    kind: v.kind as Called['kind'],
    layout: v.layout as Called['layout'],
    note: v.note,
    depot: v.depot,
    driver: v.driver,
  };
  return (
    <Section title={t`Its life`}>
      {!v.retired_on && (
        <LittleForm
          open={t`Laid up, sold, scrapped`}
          submit={t`Take it off Due`}
          start={{ on: today, how: 'sold', note: '' }}
          send={(d) => ask(client.POST('/api/vehicles/{vehicle}/retire', { params: { path }, body: { ...d, on: d.on || null } as Retire }))}>
          <OneOf name="how" label={t`It is`} options={pairs(v.left_by)} />
          <Day name="on" label={t`Since`} latest={today} />
          <Line name="note" label={t`Note`} most={200} hint={t`to whom, where it stands`} />
        </LittleForm>
      )}
      <LittleForm
        key={v.version}
        open={t`Change what it is called, where it stands, who drives it`}
        of={v.name}
        submit={t`Write it`}
        again={t`Write mine over theirs`}
        start={called}
        version={v.version}
        send={(d, from) => ask(client.POST('/api/vehicles/{vehicle}', { params: { path, header: { 'If-Match': String(from) } }, body: d }))}>
        <Line name="name" autoFocus label={t`What people call it`} />
        <Line name="plate" label={t`Plate`} most={20} />
        <OneOf name="kind" label={t`Kind`} options={pairs(words.data?.vehicle_kinds ?? [v.kind])} />
        <OneOf name="layout" label={t`Layout`} options={pairs(words.data?.layouts ?? [v.layout])} />
        <Line name="depot" label={t`Depot`} most={60} hint={t`where it stands`} />
        <Line name="driver" label={t`Driver`} most={60} hint={t`who is asked for its reading`} />
        <Line name="note" label={t`Note`} most={300} />
      </LittleForm>
      {v.compartments.map((c) => (
        <PlaceChanges key={c.id} c={c} meter={v.meter} today={today} />
      ))}
      <Twice vehicle={v.id} />
      <Delete v={v} />
    </Section>
  );
}
