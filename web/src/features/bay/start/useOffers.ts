import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { useRested } from '../../../ui/QuantityField';
import { type Choice, dosesOf } from './startChoice';

export type Job = Schemas['StartJob'];

export type Weather = { coldest_c: string; warmest_c: string };

/** The shelf judged for this compartment as its questions are answered; the page's own offers until something is asked. */
export function useOffers(job: Job, choice: Choice, weather: Weather) {
  const { kind, cycles, school, target } = choice.work;
  const work = { work: kind, cycles, school, target_fresh: target };
  const asked = useRested({ slip: choice.slip, variant: choice.variant, doses: dosesOf(choice), ...weather, ...work });
  const usual = !asked.work && !asked.cycles && asked.school === 'drain and refill';
  const plain = usual && !asked.slip && asked.variant === job.variant && !asked.doses.length && !asked.coldest_c && !asked.warmest_c;
  const view = useQuery({
    queryKey: ['compartment-oils', job.compartment, asked],
    queryFn: () => ask(client.POST('/api/compartments/{compartment}/oils', { params: { path: { compartment: job.compartment } }, body: asked })),
    enabled: !plain && choice.on,
    retry: false,
    placeholderData: (before) => before,
  });
  return { offers: plain ? job.offers : (view.data?.offers ?? job.offers), error: plain ? null : view.error };
}
