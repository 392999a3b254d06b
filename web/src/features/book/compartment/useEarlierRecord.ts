/** An earlier change that is written in: what was typed, and where it is sent. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, Refused } from '../../../app/api';
import { type FindingDraft, NOTHING } from '../../bay/findings/words';

export function useEarlierRecord(compartment: number, close: () => void) {
  const [d, setD] = useState({
    on: '',
    meter_value: '',
    lubricant: '',
    drained_ml: '',
    drained_c: '',
    poured_ml: '',
    note: '',
    factory: false,
    shift: '',
    noise: '',
    reason: '',
  });
  const [finding, setFinding] = useState<FindingDraft>(NOTHING);
  const [looking, setLooking] = useState(false);
  const oils = useQuery({ queryKey: ['lubricants'], queryFn: () => ask(client.GET('/api/lubricants')) });
  const cache = useQueryClient();
  const send = useMutation({
    mutationFn: () =>
      ask(
        client.POST('/api/book/{compartment}', {
          params: { path: { compartment } },
          body: {
            on: d.on,
            meter_value: d.meter_value,
            oil: '',
            lubricant_id: d.lubricant ? Number(d.lubricant) : null,
            drained_ml: d.drained_ml,
            drained_c: d.drained_c,
            poured_ml: d.poured_ml,
            note: d.note,
            factory_fill: d.factory,
            shift: d.shift ? Number(d.shift) : null,
            noise: d.noise ? Number(d.noise) : null,
            finding: looking ? { ...finding } : null,
            reason: d.reason,
          },
        }),
      ),
    onSuccess: async () => {
      await cache.invalidateQueries();
      close();
    },
  });
  const at = (name: string) => (send.error instanceof Refused ? send.error.at(name) : '');
  const set = (part: Partial<typeof d>) => setD({ ...d, ...part });
  return { d, set, finding, setFinding, looking, setLooking, oils, send, at };
}
