/** Acts that are not acknowledged yet, kept in the browser in their order, so that a reload or a closed page loses none. */
import { Refused, Unreachable } from '../../../app/api';
import type { Act } from './service';

/** `at`: when it was done, by the clock of this device. */
export type Queued = Act & { act_id: string; at?: number };
/** By person too: what one has done is never sent in another's name. */
const key = (service: number, who: string) => `barodex.queue.${who}.${service}`;
const MOST = 200;

/** What an earlier page left here called the act's id `event_id`, and the act that an undo takes back `event`. */
function today(value: unknown): unknown {
  if (typeof value !== 'object' || value === null || !('event_id' in value)) return value;
  const { event_id, ...rest } = value as Queued & { event_id: unknown };
  const { event, ...values } = rest.values ?? {};
  return { ...rest, act_id: event_id, values: event === undefined ? values : { ...values, act: event } };
}

function isQueued(value: unknown): value is Queued {
  const act = value as Queued;
  return typeof act === 'object' && act !== null && typeof act.act_id === 'string' && typeof act.kind === 'string' && typeof act.step === 'string';
}

export function readQueue(service: number, who: string): Queued[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key(service, who)) ?? '[]');
    return Array.isArray(kept) ? kept.map(today).filter(isQueued).slice(0, MOST) : [];
  } catch {
    return [];
  }
}

export function keepQueue(service: number, who: string, acts: Queued[]): void {
  if (acts.length) localStorage.setItem(key(service, who), JSON.stringify(acts));
  else localStorage.removeItem(key(service, who));
}

/** How many acts wait on this device, by person: said where somebody signs in again. */
export function waitingActs(): [string, number][] {
  const found: Record<string, number> = {};
  for (let k = 0; k < localStorage.length; k++) {
    const [, who, service] = /^barodex\.queue\.(.*)\.(\d+)$/.exec(localStorage.key(k) ?? '') ?? [];
    if (who && service) found[who] = (found[who] ?? 0) + readQueue(Number(service), who).length;
  }
  return Object.entries(found).filter(([, n]) => n > 0);
}

/** A failure that says nothing of the act itself: signed out, not allowed just now, too many at once, a fault of the server. */
export function keepsIt(error: unknown): boolean {
  return error instanceof Unreachable || (error instanceof Refused && ([401, 403, 429].includes(error.problem.status) || error.problem.status >= 500));
}

/** What an act said, for the person who did it: never dropped without a word. */
export function actInWords(act: Act, title: string): string {
  const said = Object.entries(act.values)
    .filter(([name, v]) => (typeof v === 'string' || typeof v === 'number') && v !== '' && !['container', 'act'].includes(name))
    .map(([, v]) => String(v));
  const ticked = Array.isArray(act.values.ticked) ? act.values.ticked.length : 0;
  const what = [...said, ...(ticked ? [`${ticked} ticked`] : [])].join(', ');
  return `${title || act.kind}${what ? `: ${what}` : ''}`;
}

/** What may be said while an earlier act still waits: it opens no step. */
export const WAITS_ITS_TURN = ['note', 'reading', 'add'];
/** From when on an act is sent with the time at which it was done, ms. */
export const WAITED = 4000;
