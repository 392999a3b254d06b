/** What waits for the server, kept in the browser's own database in its order: acts, and photos with their file. A closed page loses none. */
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { Schemas } from '../api';

export type ActKind = Schemas['ActRequestRequest']['kind'];
export type Values = Record<string, unknown>;
export type Act = { kind: ActKind; step: string; values: Values };
/** `who`: what one has done is never sent in another's name; `at`: when it was done, by the clock of this device; `file`: of a photo. */
export type Waiting = Act & { act_id: string; who: string; service: number; at?: number; file?: File };

interface Book extends DBSchema {
  waiting: { key: number; value: Waiting; indexes: { act_id: string } };
}

let opened: Promise<IDBPDatabase<Book>> | undefined;
function book(): Promise<IDBPDatabase<Book>> {
  opened ??= openDB<Book>('barodex', 1, {
    upgrade: (db) => db.createObjectStore('waiting', { autoIncrement: true }).createIndex('act_id', 'act_id', { unique: true }),
  });
  return opened;
}

function isWaiting(value: unknown): value is Waiting {
  const act = value as Waiting;
  return typeof act === 'object' && act !== null && [act.act_id, act.kind, act.step, act.who].every((part) => typeof part === 'string');
}

/** What a page of before left in the browser's small store, where it called the act's id `event_id`, and the act that an undo takes back `event`. */
function ofBefore(value: unknown, who: string, service: number): unknown {
  if (typeof value !== 'object' || value === null) return value;
  if (!('event_id' in value)) return { ...value, who, service };
  const { event_id, ...rest } = value as unknown as Waiting & { event_id: unknown };
  const { event, ...values } = rest.values ?? {};
  return { ...rest, who, service, act_id: event_id, values: event === undefined ? values : { ...values, act: event } };
}

/** Take over what a page of before kept elsewhere, and leave nothing there. */
async function takeOver(): Promise<void> {
  for (const key of Object.keys(localStorage)) {
    const [, who, service] = /^barodex\.queue\.(.*)\.(\d+)$/.exec(key) ?? [];
    if (!who || !service) continue;
    let left: unknown = [];
    try {
      left = JSON.parse(localStorage.getItem(key) ?? '[]');
    } catch {
      // what cannot be read was no act
    }
    for (const act of Array.isArray(left) ? left.map((value) => ofBefore(value, who, Number(service))).filter(isWaiting) : []) await keep(act);
    localStorage.removeItem(key); // only once all of it is kept
  }
}

/** Everything that waits, in the order in which it was done. */
export async function all(): Promise<Waiting[]> {
  await takeOver();
  return (await (await book()).getAll('waiting')).filter(isWaiting);
}

export async function keep(act: Waiting): Promise<void> {
  const db = await book();
  if (!(await db.getKeyFromIndex('waiting', 'act_id', act.act_id))) await db.add('waiting', act);
}

export async function drop(act_id: string): Promise<void> {
  const db = await book();
  const key = await db.getKeyFromIndex('waiting', 'act_id', act_id);
  if (key !== undefined) await db.delete('waiting', key);
}

export async function clear(): Promise<void> {
  await (await book()).clear('waiting');
}

/** How many acts wait on this device, by person: said where somebody signs in again. */
export async function waitingActs(): Promise<[string, number][]> {
  const found: Record<string, number> = {};
  for (const { who } of await all()) found[who] = (found[who] ?? 0) + 1;
  return Object.entries(found);
}
