/** Before a service: which compartments, which oil and why, what to fetch or buy, the meter. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { ask, client, Refused, type Schemas } from '../../app/api';
import { useShow } from '../../app/session';
import { Bones } from '../../ui/Bones';
import { Page } from '../../ui/Page';
import { Pick } from '../../ui/Pick';
import { QuantityField } from '../../ui/QuantityField';
import { Trouble } from '../../ui/Trouble';

type Choice = { on: boolean; oil: number; override: string };
const VERDICTS: Record<string, string> = { meets: 'meets the sheet', equivalent: 'equivalent', caution: 'with caution', reject: 'must not go in' };

function firstChoice(job: Schemas['StartJob'], wanted: number[]): Choice {
  const best = job.offers[0]?.lubricant ?? 0;
  const same = job.offers.find((o) => o.name === job.last_oil && o.verdict !== 'reject' && o.verdict !== 'caution');
  return { on: wanted.includes(job.compartment) && job.guided && !job.in_service, oil: same?.lubricant ?? best, override: '' };
}

function Oil({ job, choice, change, problem }: { job: Schemas['StartJob']; choice: Choice; change: (c: Choice) => void; problem: string }) {
  const { show } = useShow();
  const offer = job.offers.find((o) => o.lubricant === choice.oil);
  const bad = offer?.verdict === 'reject';
  return (
    <Box sx={{ display: 'grid', gap: 0.5 }}>
      <Pick
        label={`Oil for ${job.name}`}
        value={String(choice.oil)}
        options={job.offers.map((o) => [String(o.lubricant), `${o.name}: ${VERDICTS[o.verdict]}`])}
        onChange={(oil) => change({ ...choice, oil: Number(oil) })}
        problem={problem}
      />
      {offer?.reasons.map((r) => (
        <Box
          key={r.rule}
          sx={{ typography: 'body2', color: r.verdict === 'reject' ? 'error.main' : r.verdict === 'caution' ? (t) => t.tones.amberText : 'text.secondary' }}>
          {r.text} ({r.compared})
        </Box>
      ))}
      {bad && (
        <TextField
          label="Reason to use it all the same (goes on the record)"
          value={choice.override}
          onChange={(e) => change({ ...choice, override: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
      )}
      {offer && (
        <Box sx={{ typography: 'body2' }}>
          <b>{show(offer.on_hand_ml, 'volume')}</b> on the shelf
          {offer.short_ml > 0 && (
            <>
              , <b>{show(offer.short_ml, 'volume')} short</b>
              {offer.buy.length
                ? `: buy ${offer.buy.map((b) => `${b.count} × ${show(b.size_ml, 'volume')}`).join(' and ')}, ${offer.buy_cost.toFixed(2)}`
                : ': no pack is on offer'}
            </>
          )}
          {job.capacity_ml === null && ' (the need is unknown)'}
        </Box>
      )}
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
  const [meter, setMeter] = useState('');
  const [ambient, setAmbient] = useState('');
  const view = useQuery({
    queryKey: ['start', vehicle],
    queryFn: () => ask(client.GET('/api/services/start/{vehicle}', { params: { path: { vehicle } } })),
    staleTime: 0,
  });
  const start = useMutation({
    mutationFn: (jobs: Schemas['JobRequestRequest'][]) =>
      ask(client.POST('/api/services', { body: { vehicle_id: vehicle, jobs, meter_value: meter, ambient_c: ambient } })),
    onSuccess: async (made) => {
      await cache.invalidateQueries();
      go(`/bay/${made.id}`);
    },
  });
  if (view.isPending) return <Bones />;
  if (view.isError) return <Trouble error={view.error} again={() => view.refetch()} />;
  const v = view.data;
  const choiceOf = (job: Schemas['StartJob']) => choices[job.compartment] ?? firstChoice(job, wanted);
  const chosen = v.jobs.filter((j) => choiceOf(j).on);
  const at = (field: string) => (start.error instanceof Refused ? start.error.at(field) : '');
  const kind = v.meter === 'h' ? 'engine_hours' : 'distance';
  return (
    <Page
      title={v.vehicle}
      note={
        <>
          start a service · <Link to={`/due/vehicle/${v.vehicle_id}`}>the vehicle</Link>
        </>
      }>
      <Box
        component="form"
        sx={{ display: 'grid', gap: 2, maxWidth: 1080 }}
        onSubmit={(e) => {
          e.preventDefault();
          start.mutate(chosen.map((j) => ({ compartment_id: j.compartment, lubricant_id: choiceOf(j).oil, override: choiceOf(j).override })));
        }}>
        <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr auto' }, gap: 2, alignItems: 'start' }}>
          <QuantityField
            label={v.meter === 'h' ? 'Engine hours now' : 'Odometer now'}
            kind={kind}
            value={meter}
            onChange={setMeter}
            problem={at('meter_value') || at('value')}
            hint={v.meter_now === null ? 'empty: unknown' : `last ${show(v.meter_now, kind)}; empty: unknown`}
          />
          <QuantityField label="Air temperature" kind="temperature" value={ambient} onChange={setAmbient} problem={at('ambient_c')} hint="empty: unknown" />
          <Button
            type="submit"
            variant="contained"
            disabled={start.isPending || !chosen.length}
            sx={{ justifySelf: 'start', minHeight: 56, fontSize: '1.4rem', px: 4 }}>
            {chosen.length ? `Start on ${chosen.map((j) => j.name.toLowerCase()).join(', ')}` : 'Choose a compartment'}
          </Button>
        </Box>
        <Trouble error={start.error} />
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
                  disabled={!job.guided || job.in_service}
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
                    : !job.guided
                      ? `No guide for this kind (${job.kind}) yet: work by the maker's manual and write the change into the Book.`
                      : `Takes ${job.capacity_ml === null ? 'an unknown amount' : show(job.capacity_ml, 'volume')} · ${job.sheet}, revision ${job.revision}`}
                  {job.guided && job.doubtful.length > 0 && <Box sx={{ color: (t) => t.tones.amberText }}>To confirm: {job.doubtful.join(', ')}</Box>}
                  {!job.guided && <Link to={`/book/${job.compartment}`}>Write it in</Link>}
                </Box>
              </Box>
              {choice.on && (
                <Oil
                  job={job}
                  choice={choice}
                  change={change}
                  problem={index >= 0 ? at(`jobs.${index}.lubricant_id`) || at(`jobs.${index}.compartment_id`) : ''}
                />
              )}
            </Box>
          );
        })}
      </Box>
    </Page>
  );
}
