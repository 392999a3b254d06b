/** A container of an oil: its movements, and what is done with it. */
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { LittleForm } from '../../../ui/LittleForm';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';

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
  const [amount, setAmount] = useState('');
  const [why, setWhy] = useState('');
  const [vehicle, setVehicle] = useState(String(c.vehicle_id ?? ''));
  const clear = () => {
    setAmount('');
    setWhy('');
  };
  const path = { params: { path: { container: c.id } } };
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2 }}>
      <LittleForm
        small
        open="Take out"
        of={c.label}
        submit="Take it out"
        send={() => ask(client.POST('/api/containers/{container}/take', { ...path, body: { volume_ml: amount, why } }))}
        taken={clear}>
        {(at) => (
          <>
            <QuantityField label="How much" kind="volume" value={amount} onChange={setAmount} problem={at('volume_ml')} />
            <Words label="What for" value={why} onChange={setWhy} problem={at('why')} most={80} />
          </>
        )}
      </LittleForm>
      <LittleForm
        small
        open="Count it"
        of={c.label}
        submit="That is in it"
        send={() => ask(client.POST('/api/containers/{container}/count', { ...path, body: { content_ml: amount, why } }))}
        taken={clear}>
        {(at) => (
          <>
            <QuantityField label="What is in it" kind="volume" value={amount} onChange={setAmount} problem={at('content_ml')} />
            <Words label="How you know" value={why} onChange={setWhy} problem={at('why')} />
          </>
        )}
      </LittleForm>
      <LittleForm
        small
        open={c.carried_in ? 'Back on the shelf' : 'Carry it in a vehicle'}
        of={c.label}
        submit="It is there"
        send={() => ask(client.POST('/api/containers/{container}/carry', { ...path, body: { vehicle_id: vehicle ? Number(vehicle) : null } }))}>
        {(at) => (
          <Pick
            label="It is"
            value={vehicle}
            empty="on the shelf"
            options={vehicles.map((v) => [String(v.id), `in ${v.name}`])}
            onChange={setVehicle}
            problem={at('vehicle_id')}
          />
        )}
      </LittleForm>
    </Box>
  );
}
