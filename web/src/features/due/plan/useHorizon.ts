/** The horizon, the visit that is held on it, and the acts on that. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../../app/api';
import { type Held, visitKey } from './HorizonPicture';
import { dayAfter } from './horizonScale';

export function useHorizon(span: number) {
  const [held, setHeld] = useState<Held | null>(null);
  const cache = useQueryClient();
  const horizon = useQuery({
    queryKey: ['horizon', span],
    queryFn: () => ask(client.GET('/api/plan/horizon', { params: { query: { days: span } } })),
    placeholderData: (old) => old,
  });
  const settled = async () => {
    setHeld(null);
    await cache.invalidateQueries({ queryKey: ['horizon'] });
    await cache.invalidateQueries({ queryKey: ['visit-trial'] });
  };
  const agree = useMutation({
    mutationFn: ({ visit, day, bay, note, technician }: Held) => {
      const on = dayAfter(horizon.data?.today ?? '', day);
      return visit.id === null
        ? ask(
            client.POST('/api/plan/visits', {
              body: {
                vehicle_id: visit.vehicle_id,
                on,
                compartments: visit.compartments,
                note: note ?? '',
                bay: bay ?? null,
                technician_id: technician ?? null,
              },
            }),
          )
        : ask(
            client.PATCH('/api/plan/visits/{visit}', {
              params: { path: { visit: visit.id }, header: { 'If-Match': String(visit.version) } },
              body: { on, bay: bay ?? null, technician_id: technician === undefined ? visit.technician_id : technician },
            }),
          );
    },
    onSuccess: settled,
  });
  const drop = useMutation({
    mutationFn: (visit: number) => ask(client.DELETE('/api/plan/visits/{visit}', { params: { path: { visit } } })),
    onSuccess: settled,
  });
  const choose = (next: Held | null) => {
    if (next && held && visitKey(next.visit) !== visitKey(held.visit)) {
      agree.reset();
      drop.reset();
    }
    setHeld(next);
  };
  return { horizon, held, choose, setHeld, agree, drop };
}
