/** A container of an oil: its movements, and what is done with it. */

import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { Amount, Line, OneOf } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { Trouble } from '../../../ui/Trouble';

export function Movements({ container }: { container: number }) {
  const { show } = useShow();
  const rows = useQuery({
    queryKey: ['movements', container],
    queryFn: () => ask(client.GET('/api/containers/{container}', { params: { path: { container } } })),
  });
  if (!rows.data) return <Trouble error={rows.error} />;
  return (
    <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none', typography: 'body2', color: 'text.secondary' }}>
      {rows.data.map((m) => (
        <li key={m.at + m.why}>
          {date(m.at)}: {m.change_ml === 0 ? m.why : `${m.change_ml > 0 ? 'in' : 'out'} ${show(Math.abs(m.change_ml), 'volume')}, ${m.why}`}; {m.by}
        </li>
      ))}
    </Box>
  );
}

export function Handle({ c, vehicles }: { c: Schemas['ContainerView']; vehicles: Schemas['VehicleDue'][] }) {
  const params = { path: { container: c.id } };
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2 }}>
      <LittleForm
        small
        open={t`Take out`}
        of={c.label}
        submit={t`Take it out`}
        start={{ volume_ml: '', why: '' }}
        send={(body) => ask(client.POST('/api/containers/{container}/take', { params, body }))}>
        <Amount name="volume_ml" label={t`How much`} kind="volume" />
        <Line name="why" label={t`What for`} most={80} />
      </LittleForm>
      <LittleForm
        small
        open={t`Count it`}
        of={c.label}
        submit={t`That is in it`}
        start={{ content_ml: '', why: '' }}
        send={(body) => ask(client.POST('/api/containers/{container}/count', { params, body }))}>
        <Amount name="content_ml" label={t`What is in it`} kind="volume" />
        <Line name="why" label={t`How you know`} />
      </LittleForm>
      <LittleForm
        small
        open={c.carried_in ? t`Back on the shelf` : t`Carry it in a vehicle`}
        of={c.label}
        submit={t`It is there`}
        start={{ vehicle_id: String(c.vehicle_id ?? '') }}
        send={(d) => ask(client.POST('/api/containers/{container}/carry', { params, body: { vehicle_id: d.vehicle_id ? Number(d.vehicle_id) : null } }))}>
        <OneOf name="vehicle_id" label={t`It is`} empty={t`on the shelf`} options={vehicles.map((v) => [String(v.id), t`in ${v.name}`])} />
      </LittleForm>
    </Box>
  );
}
