/** What is chosen before a service, what the server says of it, and the start itself. */
import { useQuery } from '@tanstack/react-query';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { z } from 'zod';
import { ask, client, type Schemas } from '../../../app/api';
import { useTyped } from '../../../ui/form/useTyped';
import { type Choice, firstChoice, jobRequest } from './startChoice';

const DAY = z.object({ meter: z.string(), ambient: z.string(), coldest: z.string(), warmest: z.string() });
const START = z.object({ choices: z.record(z.string(), z.custom<Choice>()), day: DAY, there: z.array(z.string()), fetches: z.string() });
type Draft = z.infer<typeof START>;
type Choices = Draft['choices'];
type Job = Schemas['StartJob'];
const BLANK: Draft = { choices: {}, day: { meter: '', ambient: '', coldest: '', warmest: '' }, there: [], fetches: '' };
const AT: Record<string, string> = {
  meter_value: 'day.meter',
  value: 'day.meter',
  ambient_c: 'day.ambient',
  coldest_c: 'day.coldest',
  warmest_c: 'day.warmest',
};

export function useStart() {
  const vehicle = Number(useParams().vehicle);
  const [search] = useSearchParams();
  const wanted = (search.get('c') ?? '').split(',').map(Number);
  const go = useNavigate();
  const due = useQuery({ queryKey: ['due', vehicle], queryFn: () => ask(client.GET('/api/due/{vehicle}', { params: { path: { vehicle } } })) });
  const view = useQuery({
    queryKey: ['start', vehicle],
    queryFn: () => ask(client.GET('/api/services/start/{vehicle}', { params: { path: { vehicle } } })),
    staleTime: 0,
  });
  const choiceIn = (choices: Choices, job: Job): Choice => choices[job.compartment] ?? firstChoice(job, wanted);
  const chosenOf = (choices: Choices) => view.data?.jobs.filter((j) => choiceIn(choices, j).on) ?? [];
  // What was typed stays while somebody looks at what to fetch, or loads the page anew.
  const { form, act, submit, at } = useTyped<Draft, { id: number }>({
    start: BLANK,
    schema: START,
    keep: `barodex.start.${vehicle}.${search.get('c') ?? ''}`,
    pathOf: (field) => AT[field] ?? field,
    send: ({ choices, day, there, fetches }) =>
      ask(
        client.POST('/api/services', {
          body: {
            vehicle_id: vehicle,
            jobs: chosenOf(choices).map((j) => jobRequest(j.compartment, choiceIn(choices, j))),
            meter_value: day.meter,
            ambient_c: day.ambient,
            coldest_c: day.coldest,
            warmest_c: day.warmest,
            at_hand: there,
            fetches,
          },
        }),
      ),
    settled: (made) => go(`/bay/${made.id}`),
  });
  const { choices, day, there, fetches } = form.watch();
  const choiceOf = (job: Job) => choiceIn(choices, job);
  const chosen = chosenOf(choices);
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
    act,
    at,
    begin: submit,
    chosen,
    choiceOf,
    choose: (compartment: number, next: Choice) => form.setValue(`choices.${compartment}`, next),
    day,
    setDay: (part: Partial<Draft['day']>) => form.setValue('day', { ...form.getValues('day'), ...part }),
    there,
    setThere: (names: string[]) => form.setValue('there', names),
    fetches,
    setFetches: (words: string) => form.setValue('fetches', words),
    missing: planned.length ? (kit.data ?? []).filter((l) => l.state === 'missing') : [],
    short: oils.length ? (short.data ?? []) : [],
    asking: (planned.length > 0 && kit.isFetching) || (oils.length > 0 && short.isFetching), // what is lacking is not known yet
  };
}
