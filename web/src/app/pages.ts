/** The places' own parts of the page, each loaded when it is first gone to; the one of the address begins to load at once. */
import type { QueryClient } from '@tanstack/react-query';
import { ask, client } from './api';
import { loadSession } from './session';

export const PAGES = {
  due: () => import('../features/due'),
  bay: () => import('../features/bay'),
  book: () => import('../features/book'),
  shelf: () => import('../features/shelf'),
  bench: () => import('../features/bench'),
};

/** Asks for what the address will need, all at once, before anything is drawn. */
export function warm(path: string, queries: QueryClient): void {
  const [, place = 'due', rest = ''] = path.split('/');
  const load = PAGES[place as keyof typeof PAGES];
  load?.().catch(() => undefined); // it is asked for again when it is drawn, and says so then
  queries.prefetchQuery({ queryKey: ['session'], queryFn: loadSession, staleTime: Number.POSITIVE_INFINITY });
  const service = Number(rest);
  if (place === 'bay' && Number.isInteger(service) && service > 0)
    queries.prefetchQuery({ queryKey: ['service', service], queryFn: () => ask(client.GET('/api/services/{service}', { params: { path: { service } } })) });
}
