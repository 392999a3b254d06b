/** Acts while the server is away: kept in order, sent once each, through a reload too; what no longer fits is said. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { describe, expect, it, vi } from 'vitest';
import open from '../../../../../tests/fixtures/open.json';
import pour from '../../../../../tests/fixtures/pour.json';
import atMeasure from '../../../../../tests/fixtures/service-measure.json';
import session from '../../../../../tests/fixtures/session.json';
import { all, keep, waitingActs } from '../../../app/outbox/kept';
import { outbox } from '../../../app/outbox/outbox';
import { PACE } from '../../../app/pace';
import { Shell } from '../../../app/Shell';
import { type Call, problem, reads, serve, show } from '../../../testing';
import { StepPhotos } from './Photos';
import { ServicePage } from './ServicePage';
import type { Service } from './service';

const id = atMeasure.id;
const who = session.username;
const note = (text: string, act_id: string, by = who) => ({ kind: 'note' as const, step: 'x', values: { text }, act_id, who: by, service: id });
const kept = async () => (await all()).filter((act) => act.who === who);

function bay(answers: (call: Call) => object) {
  const calls = serve({
    [`GET /api/services/${id}`]: atMeasure,
    [`GET /api/services/${id}/pour`]: pour,
    'GET /api/services': open,
    'POST /api/bench/read': reads,
    [`POST /api/services/${id}/acts`]: answers,
  });
  show(
    <Routes>
      <Route path="/bay/:service" element={<ServicePage />} />
    </Routes>,
    { path: `/bay/${id}`, role: 'technician' },
  );
  return calls;
}
const sent = (calls: Call[]) => calls.filter((c) => c.path.endsWith('/acts')).map((c) => c.body as { act_id: string; values: { text?: string } });

async function write(text: string) {
  await userEvent.click(await screen.findByRole('button', { name: 'Note' }));
  fireEvent.change(await screen.findByLabelText('Note'), { target: { value: text } });
  await userEvent.click(screen.getByRole('button', { name: 'Add it' }));
}

describe('acts that wait', () => {
  it('sends what a closed page had not been told of, in order and once', async () => {
    await keep(note('first', 'a-1'));
    await keep(note('second', 'a-2'));
    const calls = bay(() => ({ body: atMeasure }));
    await waitFor(() => expect(sent(calls).map((e) => e.values.text)).toEqual(['first', 'second']));
    await waitFor(async () => expect(await kept()).toEqual([]));
    expect(sent(calls).map((e) => e.act_id)).toEqual(['a-1', 'a-2']);
  });

  it('sends what an earlier page left in its own words', async () => {
    const left = [{ kind: 'undo', step: '', values: { event: 'a-0' }, event_id: 'a-1' }];
    localStorage.setItem(`barodex.queue.${who}.${id}`, JSON.stringify(left));
    const calls = bay(() => ({ body: atMeasure }));
    await waitFor(() => expect(sent(calls).map((e) => [e.act_id, e.values])).toEqual([['a-1', { act: 'a-0' }]]));
  });

  it('keeps an act until it is answered, counts those that wait, and sends them in order', async () => {
    let away = true;
    const calls = bay(() => (away ? new TypeError('away') : { body: atMeasure }));
    await write('one');
    expect(await screen.findByText(/does not answer: one act waits/)).toBeInTheDocument();
    await waitFor(async () => expect(await kept()).toHaveLength(1));
    fireEvent.change(screen.getByLabelText('Note'), { target: { value: 'two' } });
    await userEvent.click(screen.getByRole('button', { name: 'Add it' }));
    expect(await screen.findByText(/2 acts wait and are sent again in order/)).toBeInTheDocument();
    away = false;
    await waitFor(async () => expect(await kept()).toEqual([]));
    const texts = sent(calls).map((e) => e.values.text);
    expect(texts.filter((t) => t === 'two')).toHaveLength(1);
    expect(texts.at(-1)).toBe('two');
    expect(new Set(sent(calls).map((e) => e.act_id)).size).toBe(2);
  });

  it('says what no longer fits, and goes on with the rest', async () => {
    await keep({ ...note('', 'b-1'), kind: 'done', step: 'gone.1', values: {} });
    await keep(note('still right', 'b-2'));
    const calls = bay((call) =>
      (call.body as { act_id: string }).act_id === 'b-1'
        ? { status: 409, body: problem('gate-closed', 'It is done already; undo it first to change it.', 409, 'step') }
        : { body: atMeasure },
    );
    expect(await screen.findByText(/An act that waited no longer fits: It is done already.*It said: done/)).toBeInTheDocument();
    await waitFor(() => expect(sent(calls).map((e) => e.act_id)).toEqual(['b-1', 'b-2']));
  });

  for (const [status, kind, detail] of [
    [401, 'sign-in', 'Sign in first.'],
    [403, 'not-allowed', 'Reload the page: its key has expired.'],
    [429, 'busy', 'Too many at once.'],
    [500, 'fault', 'Nothing was changed. The fault is logged.'],
    [503, 'busy', 'The book is busy.'],
  ] as const)
    it(`keeps an act that met ${status}, names it, and sends it once that is over`, async () => {
      let wrong = true;
      const calls = bay(() => (wrong ? { status, body: problem(kind, detail, status) } : { body: atMeasure }));
      await write('do not lose me');
      expect(await screen.findByText(/Kept on this device:.*do not lose me/)).toBeInTheDocument();
      await waitFor(async () => expect(await kept()).toHaveLength(1));
      expect(await waitingActs()).toEqual([[who, 1]]);
      wrong = false;
      await waitFor(async () => expect(await kept()).toEqual([]));
      expect(new Set(sent(calls).map((e) => e.act_id)).size).toBe(1);
    });

  it('no longer says that it is kept once it was refused for good', async () => {
    let status = 403;
    bay(() => ({
      status,
      body: problem(status === 403 ? 'not-allowed' : 'gate-closed', status === 403 ? 'Its key has expired.' : 'It is done already.', status),
    }));
    await write('twice unlucky');
    await screen.findByText(/Kept on this device:.*twice unlucky/);
    status = 409;
    await waitFor(async () => expect(await kept()).toEqual([]));
    await waitFor(() => expect(screen.queryByText(/Kept on this device/)).toBeNull());
  });

  it('leaves out what the person gives up, and only that', async () => {
    PACE.again = 600_000; // it waits until the person has decided
    await keep(note('poison', 'd-1'));
    await keep(note('fine', 'd-2'));
    const calls = bay((call) =>
      (call.body as { act_id: string }).act_id === 'd-1' ? { status: 500, body: problem('fault', 'The fault is logged.', 500) } : { body: atMeasure },
    );
    await userEvent.click(await screen.findByRole('button', { name: 'Leave it out' }));
    await waitFor(() => expect(sent(calls).at(-1)?.values.text).toBe('fine'));
    await waitFor(async () => expect(await kept()).toEqual([]));
  });

  it('keeps nothing that is not an act, and sends nobody else’s', async () => {
    localStorage.setItem(`barodex.queue.${who}.${id}`, '{"broken": ');
    localStorage.setItem(`barodex.queue.fergus.${id}`, '[1, null, {"kind": "done"}]');
    expect(await all()).toEqual([]);
    expect(Object.keys(localStorage)).toEqual([]);
    await keep(note('not mine', 'c-1', 'fergus'));
    await keep(note('mine', 'c-2'));
    const calls = bay(() => ({ body: atMeasure }));
    await waitFor(async () => expect(await waitingActs()).toEqual([['fergus', 1]]));
    expect(sent(calls).map((e) => e.values.text)).toEqual(['mine']);
  });

  it('sends what waits from another page too, and says so there', async () => {
    await keep(note('left in a hurry', 'e-1'));
    let away = true;
    const calls = serve({ 'GET /api/services': [], [`POST /api/services/${id}/acts`]: () => (away ? new TypeError('away') : { body: atMeasure }) });
    show(<Shell>the shelf</Shell>, { role: 'technician' });
    expect(await screen.findByText('One act waits on this device for the server')).toBeInTheDocument();
    away = false;
    await waitFor(async () => expect(await kept()).toEqual([]));
    await waitFor(() => expect(screen.queryByText(/waits on this device/)).toBeNull());
    expect(new Set(sent(calls).map((e) => e.act_id))).toEqual(new Set(['e-1']));
  });

  it('keeps a photo with its file while the server is away, beside the acts', async () => {
    let away = true;
    const photos: FormData[] = [];
    serve({
      [`GET /api/services/${id}`]: atMeasure,
      'GET /api/services': open,
      [`GET /api/services/${id}/pour`]: pour,
      [`POST /api/services/${id}/photos`]: () => (away ? new TypeError('away') : { body: atMeasure }),
    });
    const answered = globalThis.fetch;
    vi.stubGlobal('fetch', (input: string, init?: RequestInit) => {
      if (init?.body instanceof FormData) photos.push(init.body);
      return answered(input, init?.body instanceof FormData ? { method: 'POST' } : init);
    });
    show(<StepPhotos service={atMeasure as unknown as Service} step="measure.0" mayWork />, { role: 'technician' });
    outbox.open(who);
    await userEvent.upload(screen.getByLabelText('Photo file'), new File(['a pan'], 'pan.jpg', { type: 'image/jpeg' }));
    expect(await screen.findByText(/The photo is kept on this device/)).toBeInTheDocument();
    const [photo] = await kept();
    expect(photo?.file).toBeDefined();
    away = false;
    await waitFor(async () => expect(await kept()).toEqual([]));
    expect(new Set(photos.map((form) => form.get('photo_id'))).size).toBe(1);
    expect(photos.at(-1)?.get('step')).toBe('measure.0');
    expect((photos.at(-1)?.get('file') as File | null)?.name).toBe('pan.jpg');
  });
});
