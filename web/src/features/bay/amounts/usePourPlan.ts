import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';

export type With = { pump: string; stroke: string };

export const NOTHING: With = { pump: '', stroke: '' };

export function usePourPlan(service: number, compartment: string, using: With = NOTHING) {
  const query = { ...(using.pump ? { pump_ml: using.pump } : {}), ...(using.stroke ? { stroke_ml: using.stroke } : {}) };
  return useQuery({
    queryKey: ['pour', service, compartment, query],
    queryFn: () => ask(client.GET('/api/services/{service}/pour/{compartment}', { params: { path: { service, compartment }, query } })),
    enabled: compartment !== '',
    retry: false,
    placeholderData: keepPreviousData,
  });
}
