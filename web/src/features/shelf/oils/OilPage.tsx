/** One oil: what its data sheet says, where it may go and where it must not, and its containers with their movements. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { ask, askAll, client, type Schemas, standing } from '../../../app/api';
import { date, useMay, useShow } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { Empty } from '../../../ui/Empty';
import { LittleForm } from '../../../ui/LittleForm';
import { Page, Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { Reasons, VERDICTS, VerdictDrop } from '../../../ui/Reasons';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';
import { Nav } from '../Nav';
import { Bottle } from '../store/Bottle';
import { Stock } from './AddOil';
import { OilFields } from './OilFields';
import { type OilDraft, oilDraft, oilRequest } from './oilDraft';

type Oil = Schemas['LubricantView'];

function Facts({ oil }: { oil: Oil }) {
  const t = oil.thickness;
  const stated = (value: string | number | null, unit = '') => (value === null || value === '' ? 'not stated' : `${value}${unit}`);
  const rows: [string, string][] = [
    ['Grade and class', [oil.grade, oil.categories].filter(Boolean).join(' · ') || 'not stated'],
    ['Viscosity', t ? `${t.kv40.toFixed(1)} mm²/s at 40 °C, ${t.kv100.toFixed(2)} at 100 °C` : 'not known'],
    ['', t?.estimated ? `estimated: ${t.basis}` : oil.viscosity_index === null ? '' : `viscosity index ${Math.round(oil.viscosity_index)} (ASTM D2270)`],
    ['Density at 15 °C', stated(oil.density15, ' kg/m³')],
    ['Copper strip (ASTM D130)', oil.copper_strip || (oil.safe_for_yellow_metal ? 'declared safe for yellow metal' : 'not stated')],
    ['Base', stated(oil.base)],
    ['Claims', oil.approvals.join(', ') || 'no approval'],
    ['In it', [oil.friction_modifier ? 'friction modifier' : '', oil.detergent ? 'detergent' : ''].filter(Boolean).join(', ') || 'nothing stated'],
  ];
  return (
    <Box component="dl" sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 2, rowGap: 0.5, m: 0, '& dd': { m: 0 } }}>
      {rows
        .filter(([, value]) => value)
        .map(([name, value]) => (
          <Box key={name + value} sx={{ display: 'contents' }}>
            <Box component="dt" sx={{ color: 'text.secondary' }}>
              {name}
            </Box>
            <Box component="dd" sx={{ color: /^estimated|not (stated|known)/.test(value) ? (th) => th.tones.amberText : 'text.primary' }}>
              {value}
            </Box>
          </Box>
        ))}
    </Box>
  );
}

function Edit({ oil }: { oil: Oil }) {
  const lead = useMay('lead');
  const may = useMay('technician');
  const cache = useQueryClient();
  const stands = useMemo(() => oilDraft(oil), [oil]);
  const [typed, setTyped] = useState<{ d: OilDraft; from: number } | null>(null);
  const [overtaken, setOvertaken] = useState(false);
  if (!may) return null;
  const { d, from } = typed ?? { d: stands, from: oil.version };
  const send = async () => {
    const path = { params: { path: { lubricant: oil.id }, header: { 'If-Match': String(from) } } };
    try {
      return await ask(client.PUT('/api/lubricants/{lubricant}', { ...path, body: oilRequest(d) }));
    } catch (error) {
      if (standing(error)) {
        setOvertaken(true);
        setTyped({ d, from: standing(error) });
        void cache.invalidateQueries({ queryKey: ['lubricants'] });
      }
      throw error;
    }
  };
  const settle = () => {
    setTyped(null);
    setOvertaken(false);
  };
  return (
    <LittleForm
      open={lead ? 'Correct it from the data sheet' : 'Fill in what is missing'}
      submit={overtaken ? 'Keep mine over theirs' : 'Keep it'}
      send={send}
      taken={settle}>
      {(at) => (
        <>
          <OilFields d={d} set={(part) => setTyped({ d: { ...d, ...part }, from })} at={at} />
          {overtaken && (
            <Button variant="outlined" onClick={settle} sx={{ gridColumn: '1 / -1', justifySelf: 'start' }}>
              Take what stands there
            </Button>
          )}
        </>
      )}
    </LittleForm>
  );
}

function Movements({ container }: { container: number }) {
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

function Handle({ c, vehicles }: { c: Schemas['ContainerView']; vehicles: Schemas['VehicleDue'][] }) {
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

function Containers({ oil }: { oil: Oil }) {
  const { show } = useShow();
  const may = useMay('technician');
  const [shown, setShown] = useState(0);
  const due = useQuery({ queryKey: ['due', 'all'], queryFn: askAll });
  if (!oil.containers.length)
    return (
      <Empty title="None on hand">
        <Stock oil={oil} />
      </Empty>
    );
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      {oil.containers.map((c) => (
        <Box key={c.id} sx={{ display: 'grid', gridTemplateColumns: '48px 1fr', gap: 1.5, borderTop: 1, borderColor: 'divider', pt: 1 }}>
          <Bottle c={c} family={oil.family} />
          <Box>
            <b>{c.label}</b>, {c.kind}: <b>{show(c.content_ml, 'volume')}</b> of {show(c.size_ml, 'volume')}
            <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
              {[
                c.opened_on ? `opened ${date(c.opened_on)}` : 'sealed',
                c.carried_in ? `carried in ${c.carried_in}` : '',
                c.graduated ? '' : 'no marks: measure in a jug',
              ]
                .filter(Boolean)
                .join(' · ')}{' '}
              <Box
                component="button"
                type="button"
                onClick={() => setShown(shown === c.id ? 0 : c.id)}
                aria-expanded={shown === c.id}
                sx={{ border: 0, bgcolor: 'transparent', color: 'inherit', font: 'inherit', textDecoration: 'underline', cursor: 'pointer', minHeight: 28 }}>
                movements of {c.label}
              </Box>
            </Box>
            {shown === c.id && <Movements container={c.id} />}
            {may && <Handle c={c} vehicles={due.data?.vehicles ?? []} />}
          </Box>
        </Box>
      ))}
      <Stock oil={oil} />
    </Box>
  );
}

function Places({ oil }: { oil: Oil }) {
  const [coldest, setColdest] = useState('');
  const rested = useRested(coldest);
  const places = useQuery({
    queryKey: ['places', oil.id, rested],
    queryFn: () => ask(client.POST('/api/lubricants/{lubricant}/places', { params: { path: { lubricant: oil.id } }, body: { coldest_c: rested } })),
    placeholderData: (before) => before,
  });
  const counts = (verdict: string) => places.data?.filter((p) => p.verdict === verdict).length ?? 0;
  return (
    <Section
      title="Where it may go"
      right={
        <Box sx={{ width: 210 }}>
          <QuantityField label="Coldest air expected" kind="temperature" value={coldest} onChange={setColdest} hint="empty: not asked" />
        </Box>
      }>
      <Trouble error={places.error} />
      {places.data && (
        <Box sx={{ color: 'text.secondary' }}>
          {counts('meets')} meet, {counts('equivalent')} equivalent, {counts('caution')} with caution, <b>{counts('reject')} must not</b>
        </Box>
      )}
      {places.data?.map((p) => (
        <Box key={p.compartment} sx={{ display: 'grid', gridTemplateColumns: '30px minmax(0, 1fr)', gap: 1.5, borderTop: 1, borderColor: 'divider', pt: 0.75 }}>
          <VerdictDrop verdict={p.verdict} />
          <Box>
            <Link to={`/shelf/choose?c=${p.compartment}`}>{p.name}</Link>: {VERDICTS[p.verdict]}{' '}
            <Box component="span" sx={{ color: 'text.secondary', typography: 'body2' }}>
              asks {p.asks}
            </Box>
            <Reasons reasons={p.reasons} all={false} />
          </Box>
        </Box>
      ))}
    </Section>
  );
}

export function OilPage() {
  const id = Number(useParams().oil);
  const oils = useQuery({ queryKey: ['lubricants'], queryFn: () => ask(client.GET('/api/lubricants')) });
  if (oils.isPending) return <Bones lines={7} />;
  if (oils.isError) return <Trouble error={oils.error} />;
  const oil = oils.data.find((o) => o.id === id);
  if (!oil) return <Trouble error={new Error('There is no such oil on the list.')} />;
  return (
    <Page title={oil.name} note={`${oil.family} oil${oil.settles ? ' · shake it' : ''}`}>
      <Nav />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', lg: '440px minmax(0, 1fr)' }, gap: 4 }}>
        <Box sx={{ display: 'grid', gap: 3, alignContent: 'start' }}>
          <Facts oil={oil} />
          <Typography variant="body2" color="text.secondary">
            {oil.packs.length
              ? `Sold as ${oil.packs.map((p) => `${(p.size_ml / 1000).toLocaleString('en-GB')} L for ${p.price.toFixed(2)}`).join(', ')}`
              : 'No pack on offer: the shopping list cannot price it.'}
          </Typography>
          <Edit oil={oil} key={oil.id} />
          <Section title="On hand">
            <Containers oil={oil} />
          </Section>
        </Box>
        <Places oil={oil} />
      </Box>
    </Page>
  );
}
