/** The scan tool of a service, asked once a second while it is connected; and what is done with it. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { ask, client, type Schemas } from '../../../app/api';

export type Scan = Schemas['ScanView'];
type Turn = Schemas['PatchedTurnRequestRequest'];

export function useScan(service: number, compartment: string, on = true) {
  const cache = useQueryClient();
  const path = { service };
  const query = { compartment };
  const key = ['scan', service, compartment];
  const keep = (view: Scan) => cache.setQueryData(key, view);
  const scan = useQuery({
    queryKey: key,
    queryFn: () => ask(client.GET('/api/services/{service}/scan', { params: { path, query } })),
    enabled: on,
    retry: false,
    refetchInterval: (q) => (q.state.data?.connected ? 1000 : false),
  });
  // What the tool has answered stands in the service as an act: its page is asked again.
  const answered = (scan.data?.resets ?? [])
    .filter((r) => r.state === 'done' || r.state === 'failed')
    .map((r) => `${r.name} ${r.state}`)
    .join();
  useEffect(() => {
    if (answered) void cache.invalidateQueries({ queryKey: ['service', service] });
  }, [answered, cache, service]);
  const connect = useMutation({ mutationFn: () => ask(client.POST('/api/services/{service}/scan', { params: { path, query } })), onSuccess: keep });
  const turn = useMutation({
    mutationFn: (body: Turn) => ask(client.PATCH('/api/services/{service}/scan', { params: { path, query }, body })),
    onSuccess: keep,
  });
  const reset = useMutation({
    mutationFn: (name: string) => ask(client.POST('/api/services/{service}/scan/reset', { params: { path }, body: { name } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: key }),
  });
  return { scan, connect, turn, reset };
}
