/** An earlier change that is written in: what was typed, and where it is sent. */
import { useQuery } from '@tanstack/react-query';
import { z } from 'zod';
import { ask, client } from '../../../app/api';
import { useTyped } from '../../../ui/form/useTyped';
import { type FindingDraft, NOTHING } from '../../bay/findings/words';

const text = z.string();
const EARLIER = z.object({
  on: text,
  meter_value: text,
  lubricant_id: text,
  drained_ml: text,
  drained_c: text,
  poured_ml: text,
  note: text,
  factory_fill: z.boolean(),
  shift: text,
  noise: text,
  reason: text,
  looking: z.boolean(),
  finding: z.custom<FindingDraft>((value) => typeof value === 'object' && value !== null && 'colour' in value),
});
export type Earlier = z.infer<typeof EARLIER>;

const BLANK: Earlier = {
  on: '',
  meter_value: '',
  lubricant_id: '',
  drained_ml: '',
  drained_c: '',
  poured_ml: '',
  note: '',
  factory_fill: false,
  shift: '',
  noise: '',
  reason: '',
  looking: false,
  finding: NOTHING,
};
const number = (chosen: string) => (chosen ? Number(chosen) : null);

export function useEarlierRecord(compartment: number, close: () => void) {
  const oils = useQuery({ queryKey: ['lubricants'], queryFn: () => ask(client.GET('/api/lubricants')) });
  const typed = useTyped<Earlier, unknown>({
    schema: EARLIER,
    start: BLANK,
    keep: `barodex.earlier ${compartment}`,
    pathOf: (field) => (field === 'value' ? 'meter_value' : field),
    send: ({ looking, finding, lubricant_id, shift, noise, ...d }) =>
      ask(
        client.POST('/api/book/{compartment}', {
          params: { path: { compartment } },
          body: { ...d, oil: '', lubricant_id: number(lubricant_id), shift: number(shift), noise: number(noise), finding: looking ? { ...finding } : null },
        }),
      ),
    taken: close,
  });
  return { ...typed, oils };
}
