/** What is chosen before a service, what the server says of it, and the start itself. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { type Choice, firstChoice, jobRequest } from './startChoice';

type Draft = { choices: Record<number, Choice>; day: { meter: string; ambient: string; coldest: string; warmest: string }; there: string[]; fetches: string };

function draftOf(key: string): Partial<Draft> {
  try {
    return JSON.parse(sessionStorage.getItem(key) ?? '{}') as Partial<Draft>;
  } catch {
    return {};
  }
}

export function useStart() {
  const vehicle = Number(useParams().vehicle);
  const [search] = useSearchParams();
  const wanted = (search.get('c') ?? '').split(',').map(Number);
  const go = useNavigate();
  const cache = useQueryClient();
  // What was typed stays while somebody looks at what to fetch, or loads the page anew.
  const draftKey = `barodex.start.${vehicle}.${search.get('c') ?? ''}`;
  const [begun] = useState(() => draftOf(draftKey));
  const [choices, setChoices] = useState<Record<number, Choice>>(begun.choices ?? {});
  const [d, setD] = useState(begun.day ?? { meter: '', ambient: '', coldest: '', warmest: '' });
  const [there, setThere] = useState<string[]>(begun.there ?? []);
  const [fetches, setFetches] = useState(begun.fetches ?? '');
  useEffect(() => sessionStorage.setItem(draftKey, JSON.stringify({ choices, day: d, there, fetches })), [draftKey, choices, d, there, fetches]);
  const due = useQuery({ queryKey: ['due', vehicle], queryFn: () => ask(client.GET('/api/due/{vehicle}', { params: { path: { vehicle } } })) });
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
      sessionStorage.removeItem(draftKey);
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
  return {
    vehicle,
    due: due.data?.vehicles[0],
    today: due.data?.today ?? '',
    view,
    start,
    begin: () => {
      if (!start.isPending) start.mutate(chosen.map((j) => jobRequest(j.compartment, choiceOf(j))));
    },
    chosen,
    choiceOf,
    choose: (compartment: number, next: Choice) => setChoices((old) => ({ ...old, [compartment]: next })),
    day: d,
    setDay: (part: Partial<typeof d>) => setD((old) => ({ ...old, ...part })),
    there,
    setThere,
    fetches,
    setFetches,
    missing: planned.length ? (kit.data ?? []).filter((l) => l.state === 'missing') : [],
    short: oils.length ? (short.data ?? []) : [],
    asking: (planned.length > 0 && kit.isFetching) || (oils.length > 0 && short.isFetching), // what is lacking is not known yet
  };
}
