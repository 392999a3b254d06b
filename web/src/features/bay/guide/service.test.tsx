import { act, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { describe, expect, it, vi } from 'vitest';
import due from '../../../../../tests/fixtures/due.json';
import gaps from '../../../../../tests/fixtures/gaps.json';
import open from '../../../../../tests/fixtures/open.json';
import pour from '../../../../../tests/fixtures/pour.json';
import draining from '../../../../../tests/fixtures/service-measure.json';
import atPour from '../../../../../tests/fixtures/service-pour.json';
import signed from '../../../../../tests/fixtures/service-signed.json';
import start from '../../../../../tests/fixtures/start.json';
import { PACE } from '../../../app/pace';
import { type Call, problem, reads, serve, show } from '../../../testing';
import { BayHome } from '../BayHome';
import { StartPage } from '../start/StartPage';
import { ServicePage } from './ServicePage';

const atMeasure = { ...draining, current: draining.steps.find((s) => s.purpose === 'measure')?.id ?? '' };
type View = typeof atMeasure;
const ACTS = 'POST /api/services/1/acts';
const id = atMeasure.id;

function open_(view: object, routes: Record<string, object | ((call: Call) => object)> = {}, role = 'technician') {
  const calls = serve({
    [`GET /api/services/${id}`]: view,
    [`GET /api/services/${id}/pour`]: pour,
    'GET /api/services': open,
    'POST /api/bench/read': reads,
    ...routes,
  });
  show(
    <Routes>
      <Route path="/bay/:service" element={<ServicePage />} />
      <Route path="/bay" element={<h1>the bay</h1>} />
    </Routes>,
    { path: `/bay/${id}`, role },
  );
  return calls;
}

/** The same service, standing at another step. */
function at(view: View, step: string, part: object = {}): View {
  const steps = view.steps.map((s) => (s.id.startsWith(step) ? { ...s, status: 'open', why_locked: '', act: '', values: {}, ...part } : s));
  return { ...view, current: steps.find((s) => s.id.startsWith(step))?.id ?? '', steps } as View;
}
const posts = (calls: Call[]) =>
  calls.filter((c) => c.path.endsWith('/acts')).map((c) => c.body as { kind: string; step: string; act_id: string; values: Record<string, unknown> });
const title = (name: RegExp) => screen.findByRole('heading', { level: 2, name });

describe('measuring what came out', () => {
  const answer = { ...atPour.ledgers[0], drained_ml: 1640, drained_c: 38 };

  it('answers as it is typed, and notes what was typed in its own units', async () => {
    const calls = open_(atMeasure, { 'POST /api/services/1/trial': answer, [ACTS]: atPour });
    await title(/measure what came out/i);
    fireEvent.change(screen.getByLabelText('In the pan'), { target: { value: '1.64 L' } });
    fireEvent.change(screen.getByLabelText('Oil temperature'), { target: { value: '38' } });
    expect(await screen.findByText(/at 15 °C\./)).toBeInTheDocument();
    expect(screen.getByText(/^A leak: plan the seal/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'It only drips: note it, go on' }));
    await title(/Pour by the plan/);
    expect(posts(calls)).toMatchObject([{ kind: 'done', values: { pan_ml: '1.64 L', temperature_c: '38' } }]);
  });

  it('asks for the reason when the amount is out of line, and sends it with the next try', async () => {
    let tries = 0;
    const calls = open_(atMeasure, {
      'POST /api/services/1/trial': answer,
      [ACTS]: () =>
        tries++ === 0
          ? { status: 409, body: problem('needs-reason', 'More came out than the sheet says. Write the reason to go on.', 409, 'pan_ml') }
          : { body: atPour },
    });
    await title(/measure what came out/);
    fireEvent.change(screen.getByLabelText('In the pan'), { target: { value: '2.4 L' } });
    await userEvent.click(screen.getByRole('button', { name: 'It only drips: note it, go on' }));
    fireEvent.change(await screen.findByLabelText('Reason'), { target: { value: 'overfilled before' } });
    expect(screen.getByLabelText('In the pan')).toHaveValue('2.4 L');
    await userEvent.click(screen.getByRole('button', { name: 'It only drips: note it, go on' }));
    await title(/Pour by the plan/);
    expect(posts(calls)[1]?.values).toMatchObject({ pan_ml: '2.4 L', reason: 'overfilled before' });
    expect(posts(calls)[0]?.act_id).not.toBe(posts(calls)[1]?.act_id);
  });

  it('weighs instead, and adds hose and rag', async () => {
    open_(atMeasure);
    await title(/measure what came out/);
    await userEvent.click(screen.getByRole('button', { name: 'Weigh it instead' }));
    await userEvent.click(screen.getByRole('button', { name: 'Add hose and rag' }));
    for (const label of ['It weighs, oil alone', 'In the hose', 'On the rag']) expect(screen.getByLabelText(label)).toBeInTheDocument();
    expect(screen.queryByLabelText('In the pan')).toBeNull();
  });

  it('keeps what was typed through a reload', async () => {
    sessionStorage.setItem(`barodex.step.${id}.${atMeasure.current}`, JSON.stringify({ pan_ml: '1.8 L' }));
    open_(atMeasure, { 'POST /api/services/1/trial': answer });
    await title(/measure what came out/);
    expect(screen.getByLabelText('In the pan')).toHaveValue('1.8 L');
  });

  it('shows an amount noted earlier in the reader’s own units', async () => {
    open_(at(atMeasure, 'measure.', { status: 'done', act: 'e', values: { pan_ml: 1640, temperature_c: 38 } }), { 'POST /api/services/1/trial': answer });
    await title(/measure what came out/);
    expect((screen.getByLabelText('In the pan') as HTMLInputElement).value).toMatch(/^1\s640\smL$/);
  });
});

describe('a lost server', () => {
  it('sends the same act with the same id until it is answered, and says so meanwhile', async () => {
    PACE.retry = 1500;
    vi.useFakeTimers({ shouldAdvanceTime: true });
    try {
      let away = 2;
      const calls = open_(atMeasure, {
        'POST /api/services/1/trial': atPour.ledgers[0] ?? {},
        [ACTS]: () => (away-- > 0 ? new TypeError('network') : { body: atPour }),
      });
      await title(/measure what came out/);
      fireEvent.change(screen.getByLabelText('In the pan'), { target: { value: '1.64 L' } });
      const go = screen.getByRole('button', { name: 'It only drips: note it, go on' });
      fireEvent.click(go);
      fireEvent.click(go); // pressed twice
      expect(await screen.findByText(/one act waits and is sent again/)).toBeInTheDocument();
      await act(async () => {
        await vi.advanceTimersByTimeAsync(4000);
      });
      await title(/Pour by the plan/);
      const sent = posts(calls);
      expect(sent).toHaveLength(3);
      expect(new Set(sent.map((p) => p.act_id)).size).toBe(1);
    } finally {
      vi.useRealTimers();
    }
  });
});

describe('gates', () => {
  it('a locked step says what opens it and offers no input', async () => {
    open_(atMeasure);
    await title(/measure what came out/);
    await userEvent.click(within(screen.getByRole('navigation', { name: 'Steps' })).getByText('Pour by the plan'));
    await title(/Pour by the plan/);
    expect(screen.getByText('Locked.')).toBeInTheDocument();
    expect(screen.getAllByText(/Opens when this is done: Gearbox: shut the drain plug/).length).toBeGreaterThan(0);
    expect(screen.queryByRole('button', { name: 'All in, go on' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Back to the step at hand' }));
    await title(/measure what came out/);
  });

  it('a gate’s refusal is shown where it was pressed', async () => {
    open_(at(atMeasure, 'ready'), { [ACTS]: () => ({ status: 409, body: problem('gate-closed', 'Not ticked yet: Gearbox: Light.', 409, 'ticked') }) });
    await title(/Right vehicle/);
    await userEvent.click(screen.getByRole('button', { name: 'Done, go on' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('Not ticked yet');
  });

  it('a list is so as it stands, and goes with the act', async () => {
    const calls = open_(at(atMeasure, 'ready'), { [ACTS]: atMeasure });
    await title(/Right vehicle/);
    fireEvent.keyDown(document.body, { key: 'Enter' });
    await waitFor(() => expect(posts(calls)[0]).toMatchObject({ kind: 'done', step: 'ready', values: { ticked: ['Gearbox: Light'] } }));
    expect(posts(calls)[0]?.values).not.toHaveProperty('not_so');
  });

  it('what is not so is tapped, says so, and is told to the server', async () => {
    const refusal = problem('gate-closed', 'Not so yet: Key out until it is needed. It stops here until it is.', 409, 'ticked');
    const calls = open_(at(atMeasure, 'safe'), { [ACTS]: () => ({ status: 409, body: refusal }) });
    await title(/Make it safe/);
    expect(screen.getByRole('button', { name: 'All so, go on' })).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /^Key out until it is needed, tap/ }));
    expect(screen.getByRole('button', { name: 'Key out until it is needed: not so' })).toHaveAttribute('aria-pressed', 'true');
    await userEvent.click(screen.getByRole('button', { name: 'Is it so now? Go on' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('It stops here until it is');
    const values = posts(calls)[0]?.values as { ticked: string[]; not_so: string[] };
    expect(values.not_so).toEqual(['Key out until it is needed']);
    expect(values.ticked).not.toContain('Key out until it is needed');
    expect(values.ticked.length).toBe(4);
    await userEvent.click(screen.getByRole('button', { name: 'Key out until it is needed: not so' }));
    expect(screen.getByRole('button', { name: 'All so, go on' })).toBeInTheDocument();
  });

  it('an amount noted before its time is over says whether it only drips', async () => {
    const calls = open_(atMeasure, { 'POST /api/services/1/trial': atPour.ledgers[0] as object, [ACTS]: atMeasure });
    await title(/measure what came out/);
    fireEvent.change(screen.getByLabelText('In the pan'), { target: { value: '1.64 L' } });
    await userEvent.click(screen.getByRole('button', { name: 'It only drips: note it, go on' }));
    await waitFor(() => expect(posts(calls)[0]?.values).toMatchObject({ drips: true }));
    await userEvent.click(screen.getByRole('button', { name: 'It still runs: note it' }));
    await waitFor(() => expect(posts(calls)[1]?.values).toMatchObject({ drips: false }));
  });

  it('a step that may be passed with a reason is passed only so', async () => {
    const calls = open_(atMeasure, { [ACTS]: atPour });
    await title(/measure what came out/);
    await userEvent.click(screen.getByRole('button', { name: 'Pass with a reason' }));
    fireEvent.change(screen.getByLabelText('Why is it passed?'), { target: { value: 'pan knocked over' } });
    await userEvent.click(screen.getByRole('button', { name: 'Pass' }));
    await waitFor(() => expect(posts(calls)[0]).toMatchObject({ kind: 'skip', values: { reason: 'pan knocked over' } }));
  });

  it('offers the reasons that were written last, of its kind', async () => {
    const calls = open_(atMeasure, { [ACTS]: atPour, 'GET /api/reasons': { torque: ['workshop table'], passed: ['no tool on the island'], other: [] } });
    await title(/measure what came out/);
    await userEvent.click(screen.getByRole('button', { name: 'Pass with a reason' }));
    await userEvent.click(await screen.findByRole('button', { name: 'no tool on the island' }));
    expect(screen.queryByRole('button', { name: 'workshop table' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Pass' }));
    await waitFor(() => expect(posts(calls)[0]).toMatchObject({ kind: 'skip', values: { reason: 'no tool on the island' } }));
  });

  it('a done step shows who did it and can be undone', async () => {
    const calls = open_(atMeasure, { [ACTS]: atMeasure });
    await title(/measure what came out/);
    await userEvent.click(within(screen.getByRole('navigation', { name: 'Steps' })).getByText(/crack the fill plug/));
    expect(await screen.findByText(/Done by Technician at/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Undo this step' }));
    const proven = atMeasure.steps.find((s) => s.id.startsWith('prove.'));
    await waitFor(() => expect(posts(calls)[0]).toMatchObject({ kind: 'undo', values: { act: proven?.act } }));
  });
});

describe('keys of the bay', () => {
  it('undo, note, cautions and the timer have keys', async () => {
    const resting = at(atMeasure, 'measure.', { timer_started: null });
    const calls = open_(resting, { [ACTS]: resting });
    await title(/let it drip, measure what came out/i);
    (document.activeElement as HTMLElement).blur();
    fireEvent.keyDown(document.body, { key: 't' });
    await waitFor(() => expect(posts(calls)[0]).toMatchObject({ kind: 'timer_start' }));
    fireEvent.keyDown(document.body, { key: 'u' });
    await waitFor(() => expect(posts(calls)[1]).toMatchObject({ kind: 'undo', values: { act: atMeasure.last_act } }));
    fireEvent.keyDown(document.body, { key: 'k' });
    const cautions = await screen.findByRole('dialog', { name: 'Cautions' });
    expect(cautions).toHaveTextContent('never on a jack alone');
    await userEvent.click(within(cautions).getByRole('button', { name: 'Close' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    fireEvent.keyDown(document.body, { key: 'n' });
    fireEvent.change(await screen.findByLabelText('Note'), { target: { value: 'weeps at the flange' } });
    await userEvent.click(screen.getByRole('button', { name: 'Add it' }));
    await waitFor(() => expect(posts(calls)[2]).toMatchObject({ kind: 'note', values: { text: 'weeps at the flange' } }));
  });
});

describe('closing and pouring', () => {
  it('shows a torque in both units and sends the sheet’s figure when it was not changed', async () => {
    const calls = open_(at(atMeasure, 'shut.'), { [ACTS]: atPour });
    await title(/Shut the drain plug/);
    expect(screen.getByText(/^43\sN·m \(32\slbf·ft\)$/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'All so: closed, go on' }));
    await waitFor(() => expect(posts(calls)[0]?.values).toMatchObject({ torque_nm: 43, seal_renewed: true, started_by_hand: true }));
  });

  it('says of a plug what was not so', async () => {
    const calls = open_(at(atMeasure, 'shut.'), { [ACTS]: atPour });
    await title(/Shut the drain plug/);
    await userEvent.click(screen.getByRole('button', { name: /^Old seal off/ }));
    await userEvent.click(screen.getByRole('button', { name: 'Is it so now? Go on' }));
    await waitFor(() => expect(posts(calls)[0]?.values).toMatchObject({ seal_renewed: false, started_by_hand: true }));
  });

  it('says that a torque is unknown', async () => {
    const view = at(atMeasure, 'shut.');
    const steps = view.steps.map((s) =>
      s.id.startsWith('shut.')
        ? { ...s, fields: s.fields.map((f) => (f.name === 'torque_nm' ? { ...f, default_number: null, shown: 'torque unknown: look it up' } : f)) }
        : s,
    );
    open_({ ...view, steps });
    await title(/Shut the drain/);
    expect(screen.getByText('torque unknown: look it up')).toBeInTheDocument();
    expect(screen.getByLabelText('Torque used, with its unit')).toBeInTheDocument();
  });

  it('pours bottle by bottle, each a press, and draws the stop mark', async () => {
    const calls = open_(atPour, { [ACTS]: atPour });
    await title(/Pour by the plan/);
    expect(await screen.findByRole('img', { name: 'Light 2: stop at 790' })).toBeInTheDocument();
    expect(screen.getByText(/^Pour 1\s850\smL$/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /Light 0: all of it/ }));
    await waitFor(() => expect(posts(calls)[0]).toMatchObject({ kind: 'add', values: { volume_ml: 640, container: pour.bottles[0]?.container } }));
    // A typed amount asks from which bottle; the next of the plan is proposed, and elsewhere is an answer.
    expect(screen.getByLabelText('From which bottle?')).toHaveValue(String(pour.bottles[0]?.container));
    fireEvent.change(screen.getByLabelText('From which bottle?'), { target: { value: 'elsewhere' } });
    fireEvent.change(screen.getByLabelText('Or another amount'), { target: { value: '200 mL' } });
    await userEvent.click(screen.getByRole('button', { name: 'Add it' }));
    await waitFor(() => expect(posts(calls)[1]?.values).toMatchObject({ volume_ml: '200 mL' }));
  });

  it('takes all that is left by the plan in one press, a container after the other, and goes on when the last is in', async () => {
    const enough = { ...pour, plan: { ...pour.plan, shortage_ml: 0 } };
    let poured = 0;
    const calls = open_(atPour, {
      [`GET /api/services/${id}/pour`]: enough,
      [ACTS]: (call: Call) => {
        const said = call.body as { kind: string; values: { volume_ml: number } };
        if (said.kind === 'add') poured += said.values.volume_ml;
        return { body: { ...atPour, ledgers: [{ ...atPour.ledgers[0], poured_ml: poured }] } };
      },
    });
    await title(/Pour by the plan/);
    await userEvent.click(await screen.findByRole('button', { name: 'All in by the plan, go on' }));
    const used = pour.bottles.filter((b) => b.content_ml - b.left_ml > 0.5);
    await waitFor(() => expect(posts(calls).map((p) => p.kind)).toEqual([...used.map(() => 'add'), 'done']), { timeout: 8000 });
    expect(
      posts(calls)
        .slice(0, -1)
        .map((p) => p.values.container),
    ).toEqual(used.map((b) => b.container));
    expect(poured).toBeCloseTo(1850);
  });

  it('says what is short, and when everything is in', async () => {
    const [ledger] = atPour.ledgers;
    const full = { ...atPour, ledgers: [{ ...ledger, poured_ml: 1850, pours: [{ act: 'p1', volume_ml: 1850, at: atPour.now, by: 'Technician' }] }] };
    const calls = open_(full, { [`GET /api/services/${id}/pour`]: { ...pour, plan: { ...pour.plan, shortage_ml: 0 } }, [ACTS]: full });
    await title(/Pour by the plan/);
    expect(screen.getByText('The whole amount is in')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(posts(calls)[0]).toMatchObject({ kind: 'undo', values: { act: 'p1' } }));
  });

  it('levels by what is seen', async () => {
    const calls = open_(at(atPour as unknown as View, 'level.'), { [ACTS]: atPour });
    await title(/Trickle, then drips/);
    await userEvent.click(screen.getByRole('radio', { name: /then only drips/ }));
    await userEvent.click(screen.getByRole('button', { name: 'Level is set, go on' }));
    await waitFor(() => expect(posts(calls)[0]?.values).toMatchObject({ outcome: 'trickled, then only drips' }));
  });
});

describe('the verdict', () => {
  it('forms from the server’s answer, and nothing noted is not clean', async () => {
    const assessment = {
      level: 4,
      name: 'stop',
      actions: ['Do not drive.'],
      reasons: [{ rule: 'part', level: 4, text: 'Something has broken.', basis: 'common practice' }],
      interval_factor: 0,
      rise: false,
      not_looked_at: [],
      questions: [],
    };
    open_(at(atMeasure, 'look.'), { 'POST /api/services/1/trial': { ...atMeasure.ledgers[0], assessment } });
    await title(/Read oil and magnet/);
    expect(screen.getByText(/Nothing noted is not the same as clean/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: /^a part/ }));
    expect(await screen.findByRole('heading', { name: '4 · Stop' })).toBeInTheDocument();
    expect(screen.getByText('Do not drive.')).toBeInTheDocument();
  });
});

describe('before and after', () => {
  it('a viewer sees the service and cannot act', async () => {
    open_(atMeasure, {}, 'viewer');
    await title(/measure what came out/);
    expect(screen.queryByRole('button', { name: 'It only drips: note it, go on' })).toBeNull();
  });

  it('a signed service says what is right now and offers the paper', async () => {
    open_(signed, { 'GET /api/due/': due, [`GET /api/services/${id}/gaps`]: gaps });
    expect(await screen.findByRole('heading', { name: /^Signed/ })).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Job paper' })).toHaveAttribute('href', `/api/records/${signed.records[0]?.record}/paper`);
    expect(await screen.findByText(/Interval from the sheet/)).toBeInTheDocument();
    expect(await screen.findByRole('heading', { name: 'What is open' })).toBeInTheDocument();
    expect(screen.getByText(/The meter was not read\./)).toBeInTheDocument();
  });

  it('a service is given up with a reason only before the drain', async () => {
    const early = { ...at(atMeasure, 'drain.'), state: 'open' };
    const calls = open_(early, { [`DELETE /api/services/${id}`]: { id } });
    await title(/Pan under/);
    await userEvent.click(screen.getByRole('button', { name: 'Give this service up' }));
    fireEvent.change(screen.getByLabelText('Why is it given up?'), { target: { value: 'called away' } });
    await userEvent.click(screen.getByRole('button', { name: 'Give it up' }));
    expect(await screen.findByRole('heading', { name: 'the bay' })).toBeInTheDocument();
    expect(calls.find((c) => c.method === 'DELETE')?.body).toEqual({ reason: 'called away' });
  });

  it('once drained it can no longer be given up', async () => {
    open_(atMeasure);
    await title(/measure what came out/);
    expect(screen.queryByRole('button', { name: 'Give this service up' })).toBeNull();
  });

  it('the bay’s door lists what is open and what is worth starting', async () => {
    serve({ 'GET /api/services': open, 'GET /api/due': due });
    show(<BayHome />);
    expect(await screen.findByRole('link', { name: 'Go on' })).toHaveAttribute('href', `/bay/${open[0]?.id}`);
    expect(screen.getByRole('link', { name: 'Start' })).toHaveAttribute('href', expect.stringMatching(/^\/bay\/start\/\d+\?c=/));
  });
});

describe('starting', () => {
  const page = (routes: object = {}) => {
    const calls = serve({ 'GET /api/services/start/1': start, 'POST /api/bench/read': reads, ...routes });
    show(
      <Routes>
        <Route path="/bay/start/:vehicle" element={<StartPage />} />
        <Route path="/bay/:service" element={<h1>started</h1>} />
      </Routes>,
      { path: `/bay/start/1?c=${start.jobs[0]?.compartment}` },
    );
    return calls;
  };

  it('chooses the best oil, says why, and what is on the shelf', async () => {
    page();
    expect(await screen.findByText(/Category GL-4 as asked/)).toBeInTheDocument();
    expect(screen.getByText(/2\s640\smL/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Start on gearbox' })).toBeEnabled();
    await userEvent.click(screen.getByRole('checkbox', { name: 'Gearbox' }));
    expect(screen.getByRole('button', { name: 'Choose a compartment' })).toBeDisabled();
  });

  it('makes a harmful oil unmistakable and asks for the reason', async () => {
    const calls = page({
      'POST /api/services': () => ({ status: 409, body: problem('needs-reason', 'Heavy must not go into Gearbox', 409, 'jobs.0.lubricant_id') }),
    });
    await userEvent.selectOptions(await screen.findByLabelText('Oil for Gearbox'), String(start.jobs[0]?.offers[1]?.lubricant));
    expect(screen.getByText(/bonds to brass/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    expect((await screen.findAllByText('Heavy must not go into Gearbox')).length).toBeGreaterThan(0);
    fireEvent.change(screen.getByLabelText(/Reason to use it all the same/), { target: { value: 'nothing else here' } });
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    const starts = calls.filter((c) => c.method === 'POST' && c.path === '/api/services').map((c) => c.body);
    expect(starts[1]).toMatchObject({ jobs: [{ override: 'nothing else here' }] });
  });

  it('says what to buy for what is short', async () => {
    page();
    await userEvent.click(await screen.findByRole('checkbox', { name: 'Rear axle' }));
    expect(screen.getByText(/buy 2 × 1\s000\smL, 16\.00/)).toBeInTheDocument();
  });
});
