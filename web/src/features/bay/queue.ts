/** Acts that are not acknowledged yet, kept in the browser in their order, so that a reload or a closed page loses none. */
import type { Act } from './useService';

/** `at`: when it was done, by the clock of this device. */
export type Queued = Act & { event_id: string; at?: number };
/** By person too: what one has done is never sent in another's name. */
const key = (service: number, who: string) => `barodex.queue.${who}.${service}`;
const MOST = 200;

function isQueued(value: unknown): value is Queued {
  const act = value as Queued;
  return typeof act === 'object' && act !== null && typeof act.event_id === 'string' && typeof act.kind === 'string' && typeof act.step === 'string';
}

export function readQueue(service: number, who: string): Queued[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key(service, who)) ?? '[]');
    return Array.isArray(kept) ? kept.filter(isQueued).slice(0, MOST) : [];
  } catch {
    return [];
  }
}

export function keepQueue(service: number, who: string, acts: Queued[]): void {
  if (acts.length) localStorage.setItem(key(service, who), JSON.stringify(acts));
  else localStorage.removeItem(key(service, who));
}

/** What may be said while an earlier act still waits: it opens no step. */
export const WAITS_ITS_TURN = ['note', 'reading', 'add'];
/** From when on an act is sent with the time at which it was done, ms. */
export const WAITED = 4000;
