/** The rows of what waits, as a page sees them. */
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useSyncExternalStore } from 'react';
import { useSession } from '../session';
import { type Lane, type LaneName, outbox } from './outbox';

/** What waits is sent while this is shown, in the name of the person who is signed in. */
export function useSending(): void {
  const cache = useQueryClient();
  const who = useSession().data?.username ?? '';
  useEffect(() => outbox.open(who, cache), [who, cache]);
}

export const useLane = (name: LaneName): Lane => useSyncExternalStore(outbox.listen, () => outbox.lane(name));

/** How much waits for a server that does not take it. */
export const useWaiting = (): number => useSyncExternalStore(outbox.listen, outbox.waiting);
