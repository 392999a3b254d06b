import { describe, expect, it, vi } from 'vitest';
import { ask, client } from './api';

type Sent = { key: string | null; method: string };

/** Answers in turn; an Error is a server that does not answer. */
function answers(...turns: (number | Error)[]): Sent[] {
  const sent: Sent[] = [];
  vi.stubGlobal('fetch', async (request: Request) => {
    sent.push({ key: request.headers.get('Idempotency-Key'), method: request.method });
    const turn = turns.shift() ?? 201;
    if (turn instanceof Error) throw turn;
    return new Response(JSON.stringify({ id: 1, detail: '', errors: [], type: '/problems/fault' }), {
      status: turn,
      headers: { 'Content-Type': 'application/json' },
    });
  });
  return sent;
}

const read = (value: string) =>
  ask(client.POST('/api/vehicles/{vehicle}/readings', { params: { path: { vehicle: 3 } }, body: { value, swap: false, duty: null } as never })).catch(
    () => undefined,
  );

describe('the id of a change', () => {
  it('is one while nothing is known of it, and a new one once it is answered', async () => {
    const sent = answers(new TypeError('away'), 503, 201, 201);
    for (let k = 0; k < 4; k++) await read('71 000 km');
    expect(sent[0]?.key).toMatch(/^[0-9a-f-]{36}$/);
    expect(new Set(sent.slice(0, 3).map((s) => s.key)).size).toBe(1);
    expect(sent[3]?.key).not.toBe(sent[0]?.key);
  });

  it('is one for two presses at once, and another for another change', async () => {
    const sent = answers();
    await Promise.all([read('71 000 km'), read('71 000 km'), read('72 000 km')]);
    expect(sent[0]?.key).toBe(sent[1]?.key);
    expect(sent[2]?.key).not.toBe(sent[0]?.key);
  });

  it('is left out where nothing is changed, or the change has one of its own', async () => {
    const sent = answers(200, 200, 200);
    await ask(client.GET('/api/session'));
    await ask(client.POST('/api/bench/read', { body: { text: '2 L', kind: 'volume' } as never }));
    const act = { act_id: 'x', kind: 'note', step: '', values: {}, done_at: null };
    await ask(client.POST('/api/services/{service}/acts', { params: { path: { service: 1 } }, body: act as never }));
    expect(sent.map((s) => s.key)).toEqual([null, null, null]);
  });
});
