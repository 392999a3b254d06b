/** Before a service: which compartments, which oil and why, what to fetch or buy, seals and tools, the meter, the weather. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { Barred } from '../../../ui/Barred';
import { Bones } from '../../../ui/Bones';
import { problemAt } from '../../../ui/LittleForm';
import { Page, Section } from '../../../ui/Page';
import { QuantityField } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';
import { StartJob } from './StartJob';
import { type Choice, firstChoice, jobRequest } from './startChoice';

function Kit({ lines, there, change }: { lines: Schemas['KitLine'][]; there: string[]; change: (names: string[]) => void }) {
  if (!lines.length) return null;
  const missing = lines.filter((l) => l.item.mandatory);
  return (
    <Section title="Not in the store">
      <Box sx={{ borderLeft: 6, borderColor: missing.length ? 'error.main' : 'divider', pl: 1.5, display: 'grid' }}>
        {lines.map((l) => (
          <FormControlLabel
            key={l.item.name}
            control={
              <Checkbox
                checked={there.includes(l.item.name)}
                onChange={(e) => change(e.target.checked ? [...there, l.item.name] : there.filter((n) => n !== l.item.name))}
              />
            }
            label={
              <span>
                {l.item.count} × <b>{l.item.name}</b>, {l.in_store ?? 0} counted ({l.item.use}){l.item.mandatory ? '' : ', if wanted'}: it is in my hand all the
                same
              </span>
            }
          />
        ))}
        {missing.length > 0 && <Box sx={{ color: 'text.secondary' }}>A missing seal or tool stops the start, not the middle.</Box>}
      </Box>
    </Section>
  );
}

/** Oil of which the shelf holds too little for the visit and for what is open beside it. */
function OilShort(p: {
  lines: Schemas['OilShort'][];
  there: string[];
  change: (names: string[]) => void;
  fetches: string;
  setFetches: (name: string) => void;
  problem: string;
}) {
  const { show } = useShow();
  if (!p.lines.length) return null;
  const open = p.lines.filter((l) => !p.there.includes(l.name));
  return (
    <Section title="Not oil enough">
      <Box sx={{ borderLeft: 6, borderColor: open.length ? 'error.main' : 'divider', pl: 1.5, display: 'grid', gap: 1 }}>
        {p.lines.map((l) => (
          <FormControlLabel
            key={l.lubricant}
            control={
              <Checkbox
                checked={p.there.includes(l.name)}
                onChange={(e) => p.change(e.target.checked ? [...p.there, l.name] : p.there.filter((n) => n !== l.name))}
              />
            }
            label={
              <span>
                <b>{l.name}</b>: {show(l.on_hand_ml, 'volume')} of {show(l.need_ml, 'volume')} on the shelf and free: the rest is here all the same
              </span>
            }
          />
        ))}
        {open.length > 0 && (
          <Words
            label="Or who fetches it"
            value={p.fetches}
            onChange={p.setFetches}
            problem={p.problem}
            most={60}
            hint="the drain stays locked until it is there"
          />
        )}
      </Box>
    </Section>
  );
}

/** The meter by its feed, for one press; nothing is taken without it. */
function Feed({ vehicle, take }: { vehicle: number; take: (value: number) => void }) {
  const [said, setSaid] = useState('');
  const feed = useMutation({
    mutationFn: () => ask(client.GET('/api/vehicles/{vehicle}/meter-feed', { params: { path: { vehicle } } })),
    onSuccess: (view) => {
      setSaid(view.text);
      if (view.reading?.value != null) take(view.reading.value);
    },
  });
  return (
    <Box sx={{ typography: 'body2' }}>
      <Button variant="text" size="small" sx={{ px: 0, minHeight: 32 }} disabled={feed.isPending} onClick={() => feed.mutate()}>
        Read the meter feed
      </Button>
      <span role="status">
        {' '}
        {said}
        {feed.data?.simulated && said ? ' Simulated.' : ''}
      </span>
    </Box>
  );
}

export function StartPage() {
  const vehicle = Number(useParams().vehicle);
  const [search] = useSearchParams();
  const wanted = (search.get('c') ?? '').split(',').map(Number);
  const go = useNavigate();
  const cache = useQueryClient();
  const { show } = useShow();
  const [choices, setChoices] = useState<Record<number, Choice>>({});
  const [d, setD] = useState({ meter: '', ambient: '', coldest: '', warmest: '' });
  const [there, setThere] = useState<string[]>([]);
  const [fetches, setFetches] = useState('');
  const view = useQuery({
    queryKey: ['start', vehicle],
    queryFn: () => ask(client.GET('/api/services/start/{vehicle}', { params: { path: { vehicle } } })),
    staleTime: 0,
  });
  const start = useMutation({
    mutationFn: (jobs: Schemas['JobRequestRequest'][]) =>
      ask(
        client.POST('/api/services', {
          body: { vehicle_id: vehicle, jobs, meter_value: d.meter, ambient_c: d.ambient, coldest_c: d.coldest, warmest_c: d.warmest, at_hand: there, fetches },
        }),
      ),
    onSuccess: async (made) => {
      await cache.invalidateQueries();
      go(`/bay/${made.id}`);
    },
  });
  const choiceOf = (job: Schemas['StartJob']) => choices[job.compartment] ?? firstChoice(job, wanted);
  const chosen = view.data?.jobs.filter((j) => choiceOf(j).on) ?? [];
  const planned = chosen.map((j) => {
    const { variant, work } = choiceOf(j);
    return { compartment_id: j.compartment, variant, work: work.kind, attached: work.attached };
  });
  const oils = chosen.flatMap((j) => {
    const { compartment_id, lubricant_id, variant, work } = jobRequest(j.compartment, choiceOf(j));
    return lubricant_id ? [{ compartment_id, lubricant_id, variant, work }] : [];
  });
  const short = useQuery({
    queryKey: ['visit-oil', oils],
    queryFn: () => ask(client.POST('/api/services/oil', { body: { jobs: oils } })),
    enabled: oils.length > 0,
    placeholderData: (before) => before,
  });
  const kit = useQuery({
    queryKey: ['visit-kit', planned],
    queryFn: () => ask(client.POST('/api/services/kit', { body: { jobs: planned } })),
    enabled: planned.length > 0,
    placeholderData: (before) => before,
  });
  if (view.isPending) return <Bones />;
  if (view.isError) return <Trouble error={view.error} again={() => view.refetch()} />;
  const v = view.data;
  const at = problemAt(start);
  const kind = v.meter === 'h' ? 'engine_hours' : 'distance';
  const asking = chosen.filter((j) => j.ask_limited_slip && !choiceOf(j).slip);
  const words = !chosen.length
    ? 'Choose a compartment'
    : asking.length
      ? `Answer for the ${asking[0]?.name.toLowerCase()} first`
      : `Start on ${chosen.map((j) => j.name.toLowerCase()).join(', ')}`;
  return (
    <Page
      title={v.vehicle}
      note={
        <>
          start a service · <Link to={`/due/vehicle/${v.vehicle_id}`}>the vehicle</Link> ·{' '}
          <Link to={`/shelf/shopping?c=${chosen.map((j) => j.compartment).join(',')}`}>what to fetch</Link>
        </>
      }>
      <Box
        component="form"
        sx={{ display: 'grid', gap: 2, maxWidth: 1080 }}
        onSubmit={(e) => {
          e.preventDefault();
          if (!start.isPending) start.mutate(chosen.map((j) => jobRequest(j.compartment, choiceOf(j))));
        }}>
        <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr', md: '1.3fr 1fr 1fr 1fr auto' }, gap: 1.5, alignItems: 'start' }}>
          <Box>
            <QuantityField
              label={v.meter === 'h' ? 'Engine hours now' : 'Odometer now'}
              kind={kind}
              value={d.meter}
              onChange={(meter) => setD({ ...d, meter })}
              problem={at('meter_value') || at('value')}
              hint={v.meter_now === null ? 'empty: unknown' : `last ${show(v.meter_now, kind)}; empty: unknown`}
            />
            <Feed vehicle={vehicle} take={(value) => setD({ ...d, meter: show(value, kind) })} />
          </Box>
          <QuantityField
            label="Air temperature"
            kind="temperature"
            value={d.ambient}
            onChange={(ambient) => setD({ ...d, ambient })}
            problem={at('ambient_c')}
            hint="empty: unknown"
          />
          <QuantityField
            label="Coldest expected"
            kind="temperature"
            value={d.coldest}
            onChange={(coldest) => setD({ ...d, coldest })}
            problem={at('coldest_c')}
            hint="until the next change"
          />
          <QuantityField label="Warmest" kind="temperature" value={d.warmest} onChange={(warmest) => setD({ ...d, warmest })} problem={at('warmest_c')} />
          <Button
            type="submit"
            variant="contained"
            disabled={start.isPending || !chosen.length || asking.length > 0}
            sx={{ justifySelf: 'start', minHeight: 56, fontSize: '1.4rem', px: 4 }}>
            {words}
          </Button>
        </Box>
        <Trouble error={start.error} />
        {v.vehicle_says.length > 0 && (
          <Barred>
            {v.vehicle_says.map((words) => (
              <Box key={words}>{words}</Box>
            ))}
          </Barred>
        )}
        <Kit lines={planned.length ? (kit.data ?? []).filter((l) => l.state === 'missing') : []} there={there} change={setThere} />
        <OilShort
          lines={oils.length ? (short.data ?? []) : []}
          there={there}
          change={setThere}
          fetches={fetches}
          setFetches={setFetches}
          problem={at('fetches')}
        />
        {v.jobs.map((job) => {
          const choice = choiceOf(job);
          const change = (next: Choice) => setChoices({ ...choices, [job.compartment]: next });
          const index = chosen.indexOf(job);
          return (
            <Box
              key={job.compartment}
              sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '300px minmax(0, 1fr)' }, gap: 2, borderTop: 1, borderColor: 'divider', pt: 1.5 }}>
              <Box>
                <FormControlLabel
                  disabled={job.in_service}
                  control={<Checkbox checked={choice.on} onChange={(e) => change({ ...choice, on: e.target.checked })} sx={{ '& svg': { fontSize: 32 } }} />}
                  label={
                    <Box component="b" sx={{ typography: 'h3' }}>
                      {job.name}
                    </Box>
                  }
                />
                <Box sx={{ color: 'text.secondary', typography: 'body2', pl: 5.5 }}>
                  {job.in_service
                    ? 'in service already'
                    : `Takes ${job.capacity_ml === null ? 'an unknown amount' : show(job.capacity_ml, 'volume')} · ${job.asks}`}
                  <Box>
                    <Link to={`/shelf/sheets/${job.sheet_id}`}>{job.sheet}</Link>, revision {job.revision}
                  </Box>
                  {job.doubtful.length > 0 && <Box sx={{ color: (t) => t.tones.amberText }}>To confirm: {job.doubtful.join(', ')}</Box>}
                </Box>
              </Box>
              <Box sx={{ display: 'grid', gap: 2, minWidth: 0 }}>
                {choice.on && job.warranty && choice.work.kind !== 'top-up' && (
                  <Box sx={{ borderLeft: 6, borderColor: (t) => t.tones.amberText, pl: 1.5, display: 'grid', gap: 1 }}>
                    {job.warranty} Opening it may cost the warranty.
                    <Words
                      label={`Why ${job.name.toLowerCase()} is opened all the same`}
                      value={choice.warranty}
                      onChange={(warranty) => change({ ...choice, warranty })}
                      problem={index >= 0 ? at(`jobs.${index}.warranty`) : ''}
                      most={200}
                      hint="goes on the record"
                    />
                  </Box>
                )}
                {choice.on && (
                  <StartJob
                    job={job}
                    choice={choice}
                    change={change}
                    at={(field) => (index >= 0 ? at(`jobs.${index}.${field}`) : '')}
                    weather={{ coldest_c: d.coldest, warmest_c: d.warmest }}
                    additives={v.additives}
                  />
                )}
              </Box>
            </Box>
          );
        })}
      </Box>
    </Page>
  );
}
