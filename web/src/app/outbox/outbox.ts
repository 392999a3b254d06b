/** Sends what waits, in its order, once each: from whatever page is open, in the name of the person who is signed in. */
import { t } from '@lingui/core/macro';
import type { QueryClient } from '@tanstack/react-query';
import { ask, client, Refused, type Schemas, sentence, Unreachable, upload } from '../api';
import { newId } from '../ids';
import { PACE } from '../pace';
import { type Act, all, drop, keep, type Waiting } from './kept';

type Service = Schemas['ServiceView'];
/** What may be said while an earlier act still waits: it opens no step. */
const WAITS_ITS_TURN = ['note', 'reading', 'add'];
/** From when on an act is sent with the time at which it was done, ms. */
const WAITED = 4000;

/** A row of what waits: the acts of one service, or its photos. ``away``: the server does not answer; ``paused``: a failure that is not the
 *  act's own; ``refused``: the last act that was; ``unshown``: one that has no field to show it at. */
export type Lane = {
  items: readonly Waiting[];
  sending: boolean;
  away: boolean;
  paused: Error | null;
  refused: Error | null;
  unshown: { act: Waiting; error: Error } | null;
  savedAt: Date | null;
};
type Working = { shown: Lane; pressed: boolean; busy: boolean; timer?: ReturnType<typeof setTimeout> };

const NOTHING: Lane = { items: [], sending: false, away: false, paused: null, refused: null, unshown: null, savedAt: null };
export type LaneName = `${number} ${'acts' | 'photos'}`;
const laneOf = (act: Waiting): LaneName => `${act.service} ${act.file ? 'photos' : 'acts'}`;

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
  const what = [...said, ...(ticked ? [t`${ticked} ticked`] : [])].join(', ');
  return `${title || act.kind}${what ? `: ${what}` : ''}`;
}

class Outbox {
  /** The server's clock less this device's, ms, as of its last answer: a device whose clock is wrong still says the right time. */
  ahead = 0;
  #who = '';
  #cache: QueryClient | undefined;
  #lanes = new Map<LaneName, Working>();
  #after = new Map<string, () => void>();
  #listeners = new Set<() => void>();
  #ready: Promise<void> = Promise.resolve();

  /** Send as a person, telling a page's memory what the server answers; an empty name: nobody is signed in, nothing is sent. */
  open(who: string, cache?: QueryClient): void {
    this.#cache = cache;
    if (who === this.#who) return;
    for (const lane of this.#lanes.values()) clearTimeout(lane.timer);
    this.#lanes.clear();
    this.#after.clear();
    this.#who = who;
    this.#tell();
    if (!who) return;
    this.#ready = all()
      .catch(() => []) // a browser that keeps nothing: what is done from now on is sent all the same
      .then((kept) => {
        if (who !== this.#who) return;
        for (const name of new Set(kept.filter((act) => act.who === who).map(laneOf))) {
          const mine = kept.filter((act) => act.who === who && laneOf(act) === name);
          const since = this.lane(name).items.filter((act) => !mine.some((o) => o.act_id === act.act_id));
          this.#show(name, { items: [...mine, ...since] });
          void this.#run(name);
        }
      });
  }

  listen = (heard: () => void): (() => void) => {
    this.#listeners.add(heard);
    return () => this.#listeners.delete(heard);
  };

  lane = (name: LaneName): Lane => this.#lanes.get(name)?.shown ?? NOTHING;

  /** How many acts and photos wait for a server that does not take them. */
  waiting = (): number => [...this.#lanes.values()].reduce((n, { shown }) => n + (shown.away || shown.paused ? shown.items.length : 0), 0);

  /** Do an act. Pressed twice it counts once: a second one is heard only when the first is settled, or where it may wait behind it. */
  act(service: number, act: Act, done?: () => void): void {
    const name: LaneName = `${service} acts`;
    const lane = this.#working(name);
    const waits = lane.shown.away || lane.shown.paused !== null;
    if (lane.pressed && !(waits && WAITS_ITS_TURN.includes(act.kind))) return;
    lane.pressed = true;
    const item = { ...act, act_id: newId(), who: this.#who, service, at: Date.now() };
    // While an earlier one waits it is kept at once: the field is free for the next.
    this.#after.set(item.act_id, waits || !done ? () => undefined : done);
    this.#add(name, item);
    if (waits) done?.();
  }

  photo(service: number, step: string, file: File): void {
    this.#add(`${service} photos`, { kind: 'note', step, values: {}, act_id: newId(), who: this.#who, service, at: Date.now(), file });
  }

  /** Give up the act at the head of a row. */
  leaveOut(name: LaneName): void {
    const lane = this.#working(name);
    clearTimeout(lane.timer);
    lane.timer = undefined;
    const [head, ...items] = lane.shown.items;
    if (head) void drop(head.act_id).catch(() => undefined);
    this.#show(name, { items, paused: null, away: false });
    void this.#run(name);
  }

  /** What was refused has been seen. */
  forgive(name: LaneName): void {
    if (this.lane(name).refused) this.#show(name, { refused: null });
  }

  #working(name: LaneName): Working {
    const found = this.#lanes.get(name) ?? { shown: NOTHING, pressed: false, busy: false };
    this.#lanes.set(name, found);
    return found;
  }

  #show(name: LaneName, part: Partial<Lane>): void {
    const lane = this.#working(name);
    // A server that stays away is tried again and again: where nothing is new, no page is drawn anew.
    if ((Object.keys(part) as (keyof Lane)[]).every((key) => lane.shown[key] === part[key])) return;
    lane.shown = { ...lane.shown, ...part };
    this.#tell();
  }

  #tell(): void {
    for (const heard of this.#listeners) heard();
  }

  #add(name: LaneName, item: Waiting): void {
    this.#show(name, { items: [...this.lane(name).items, item], unshown: null });
    const kept = keep(item).catch(() => undefined);
    this.#ready = Promise.all([this.#ready, kept]).then(() => undefined); // sent only when it is kept
    void this.#run(name);
  }

  async #run(name: LaneName): Promise<void> {
    const lane = this.#working(name);
    const [head] = lane.shown.items;
    if (!head || lane.busy || lane.timer) return;
    lane.busy = true;
    this.#show(name, { sending: !(lane.shown.away || lane.shown.paused), refused: null });
    await this.#ready;
    if (this.#lanes.get(name) !== lane) return; // somebody else is signed in: nothing goes in their name
    try {
      const state = await this.#send(head);
      if (this.#lanes.get(name) !== lane) return; // somebody else is signed in
      this.#show(name, { savedAt: new Date(), paused: null, away: false });
      this.#heard(state);
      const after = this.#after.get(head.act_id);
      this.#settle(name, lane, head);
      after?.(); // what is done next may be another act
    } catch (error) {
      if (this.#lanes.get(name) === lane) this.#failed(name, lane, head, error as Error);
    }
  }

  async #send(act: Waiting): Promise<Service> {
    if (act.file) return upload<Service>(`/api/services/${act.service}/photos`, act.file, { photo_id: act.act_id, step: act.step });
    const waited = Date.now() - (act.at ?? Date.now());
    const done_at = waited > WAITED ? new Date(Date.now() - waited + this.ahead).toISOString() : null;
    const { act_id, kind, step, values } = act;
    return ask(client.POST('/api/services/{service}/acts', { params: { path: { service: act.service } }, body: { act_id, kind, step, values, done_at } }));
  }

  #failed(name: LaneName, lane: Working, head: Waiting, error: Error): void {
    if (!keepsIt(error)) {
      // An act of before a reload, or one that stood behind another, has no field to show it at.
      const unshown = this.#after.has(head.act_id) ? null : { act: head, error };
      this.#show(name, { refused: unshown ? null : error, unshown, paused: null, away: false });
      this.#settle(name, lane, head);
      return;
    }
    const away = error instanceof Unreachable;
    lane.busy = false;
    if (!away) lane.pressed = false;
    // The key may have been renewed by another page: it is asked for before the next try.
    if (error instanceof Refused && error.problem.status === 403) void this.#cache?.invalidateQueries({ queryKey: ['session'] });
    lane.timer = setTimeout(
      () => {
        lane.timer = undefined;
        void this.#run(name);
      },
      away ? PACE.retry : PACE.again,
    );
    const before = this.lane(name).paused;
    this.#show(name, { sending: false, away, paused: away || before?.message === error.message ? before : error });
  }

  #settle(name: LaneName, lane: Working, head: Waiting): void {
    lane.pressed = lane.busy = false;
    this.#after.delete(head.act_id);
    void drop(head.act_id).catch(() => undefined);
    this.#show(name, { sending: false, items: lane.shown.items.filter((act) => act.act_id !== head.act_id) });
    void this.#run(name);
  }

  #heard(state: Service): void {
    const cache = this.#cache;
    if (!cache) return;
    cache.setQueryData(['service', state.id], state);
    void cache.invalidateQueries({ queryKey: ['open-services'] });
    void cache.invalidateQueries({ queryKey: ['pour', state.id] });
    if (state.state === 'signed') void cache.invalidateQueries();
  }
}

export const outbox = new Outbox();

/** One sentence of an act that waited and no longer fits. */
export const misfitInWords = ({ act, error }: NonNullable<Lane['unshown']>, title: string): string =>
  t`${sentence(error)} It said: ${act.file ? t`a photo, ${act.file.name}` : actInWords(act, title)}.`;
