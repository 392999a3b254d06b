/** The start page: questions before the oil, the wrong oil unmistakable, variants, additives, the kit. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { describe, expect, it } from 'vitest';
import oils from '../../../../../tests/fixtures/compartment-oils.json';
import start from '../../../../../tests/fixtures/start.json';
import type { Schemas } from '../../../app/api';
import { type Call, problem, reads, serve, show } from '../../../testing';
import { StartPage } from './StartPage';
import { firstChoice, firstOil, jobRequest } from './startChoice';

type Job = Schemas['StartJob'];
const [gearbox] = start.jobs as unknown as Job[];
const box = gearbox as Job;

function at(job: Partial<Job>, routes: object = {}, more: object = {}) {
  const calls = serve({
    [`GET /api/services/start/${start.vehicle_id}`]: { ...start, ...more, jobs: [{ ...box, ...job }] },
    [`POST /api/compartments/${box.compartment}/oils`]: oils,
    'POST /api/bench/read': reads,
    'POST /api/services': { id: 9 },
    'POST /api/services/kit': [],
    ...routes,
  });
  show(
    <Routes>
      <Route path="/bay/start/:vehicle" element={<StartPage />} />
      <Route path="/bay/:service" element={<h1>in the bay</h1>} />
    </Routes>,
    { path: `/bay/start/${start.vehicle_id}?c=${box.compartment}`, role: 'technician' },
  );
  return calls;
}
const started = (calls: Call[]) => calls.filter((c) => c.method === 'POST' && c.path === '/api/services').map((c) => c.body);

describe('before a service', () => {
  it('takes the oil used last and starts', async () => {
    const calls = at({});
    expect(await screen.findByLabelText('Oil for Gearbox')).toHaveDisplayValue(/Light: meets the sheet/);
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    expect(await screen.findByRole('heading', { name: 'in the bay' })).toBeInTheDocument();
    expect(started(calls)[0]).toMatchObject({ jobs: [{ compartment_id: box.compartment, slip: '', variant: '', doses: [] }], at_hand: [] });
  });

  it('makes a wrong oil unmistakable, offers the best one, and sends the reason', async () => {
    const calls = at(
      {},
      { 'POST /api/services': () => ({ status: 409, body: problem('needs-reason', 'Heavy must not go into Gearbox.', 409, 'jobs.0.lubricant_id') }) },
    );
    await userEvent.selectOptions(await screen.findByLabelText('Oil for Gearbox'), 'Heavy: must not go in');
    expect(screen.getByText(/Not this oil: Heavy must not go into the gearbox/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Take the best one instead' }));
    expect(screen.getByLabelText('Oil for Gearbox')).toHaveDisplayValue(/Light/);
    await userEvent.selectOptions(screen.getByLabelText('Oil for Gearbox'), 'Heavy: must not go in');
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    expect(await screen.findByLabelText('Oil for Gearbox')).toHaveAccessibleDescription('Heavy must not go into Gearbox.');
    fireEvent.change(screen.getByLabelText(/Reason to use it all the same/), { target: { value: 'nothing else here' } });
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    await waitFor(() => expect(started(calls)[1]).toMatchObject({ jobs: [{ override: 'nothing else here' }] }));
  });

  it('asks why a compartment under warranty is opened, and not for a top-up', async () => {
    const text = 'Under warranty until 04 Jun 2027: its maker never asks for a change.';
    const calls = at(
      {
        warranty: text,
        works: [
          { value: 'change', label: 'oil change' },
          { value: 'top-up', label: 'check and top-up' },
        ],
      },
      { 'POST /api/services': () => ({ status: 409, body: problem('needs-reason', `Gearbox: ${text}`, 409, 'jobs.0.warranty') }) },
    );
    expect(await screen.findByText(/its maker never asks for a change/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    expect(await screen.findByLabelText('Why gearbox is opened all the same')).toHaveAccessibleDescription(`Gearbox: ${text}`);
    fireEvent.change(screen.getByLabelText('Why gearbox is opened all the same'), { target: { value: 'dealer asked' } });
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    await waitFor(() => expect(started(calls)[1]).toMatchObject({ jobs: [{ warranty: 'dealer asked' }] }));
    await userEvent.click(screen.getByText('check and top-up'));
    expect(screen.queryByLabelText('Why gearbox is opened all the same')).toBeNull();
  });

  it('asks for limited slip before an oil can be chosen, and judges by the answer', async () => {
    const calls = at({ ask_limited_slip: true });
    expect(await screen.findByRole('button', { name: 'Answer for the gearbox first' })).toBeDisabled();
    expect(screen.queryByLabelText('Oil for Gearbox')).toBeNull();
    await userEvent.click(screen.getByRole('radio', { name: 'nobody knows' }));
    expect(await screen.findByLabelText('Oil for Gearbox')).toBeInTheDocument();
    await waitFor(() => expect(calls.find((c) => c.path.endsWith('/oils'))?.body).toMatchObject({ slip: 'unknown' }));
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    await waitFor(() => expect(started(calls)[0]).toMatchObject({ jobs: [{ slip: 'unknown' }] }));
  });

  it('follows the answer with the best oil until one is picked by hand', async () => {
    const offer = (lubricant: number, name: string, verdict: string) => ({ ...(box.offers[0] as object), lubricant, name, verdict });
    const calls = at(
      { ask_limited_slip: true, last_oil: '', offers: [offer(1, 'Plain', 'meets'), offer(2, 'With modifier', 'caution')] as Job['offers'] },
      { [`POST /api/compartments/${box.compartment}/oils`]: { ...oils, offers: [offer(2, 'With modifier', 'meets'), offer(1, 'Plain', 'caution')] } },
    );
    await userEvent.click(await screen.findByRole('radio', { name: 'clutch-type' }));
    await waitFor(() => expect(screen.getByLabelText('Oil for Gearbox')).toHaveDisplayValue(/With modifier: meets/));
    await userEvent.selectOptions(screen.getByLabelText('Oil for Gearbox'), 'Plain: with caution');
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    await waitFor(() => expect(started(calls)[0]).toMatchObject({ jobs: [{ lubricant_id: 1, slip: 'yes' }] }));
  });

  it('judges again when the weather is typed', async () => {
    const calls = at({});
    fireEvent.change(await screen.findByLabelText('Coldest expected'), { target: { value: '-15 °C' } });
    await waitFor(() => expect(calls.find((c) => c.path.endsWith('/oils'))?.body).toMatchObject({ coldest_c: '-15 °C', warmest_c: '' }));
  });

  it('lets a variant be chosen, with its mark and its amount', async () => {
    const variants = [
      { name: 'short', mark: 'R2', capacity_ml: 1700, grade: '', categories: '', heads: [] },
      { name: 'long', mark: 'R1', capacity_ml: 2100, grade: '', categories: '', heads: [] },
    ];
    const calls = at({ variants, casing_marks: [{ where: 'pad', reads: 'R1 or R2', tells: '' }], need_ml: 2100 });
    const pick = await screen.findByLabelText('Which gearbox is it?');
    expect(pick).toHaveAccessibleDescription('pad: R1 or R2');
    expect(screen.getByText(/for 2\s100\smL with margins/)).toBeInTheDocument();
    await userEvent.selectOptions(pick, 'long');
    expect(pick).toHaveAccessibleDescription(/Takes 2\s100\smL; kept for next time/);
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    await waitFor(() => expect(started(calls)[0]).toMatchObject({ jobs: [{ variant: 'long' }] }));
  });

  it('takes an additive with its dose, and leaves an empty one out', async () => {
    const additives = [{ id: 3, name: 'Moly', kind: 'solid lubricant', max_share: 0.08, note: '' }];
    const calls = at({}, {}, { additives });
    await userEvent.click(await screen.findByRole('button', { name: 'Put an additive in' }));
    await userEvent.click(screen.getByRole('button', { name: 'Put an additive in' }));
    fireEvent.change(screen.getAllByLabelText('Dose')[0] as HTMLElement, { target: { value: '60 mL' } });
    await waitFor(() => expect(calls.filter((c) => c.path.endsWith('/oils')).at(-1)?.body).toMatchObject({ doses: [{ additive_id: 3, volume_ml: '60 mL' }] }));
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    await waitFor(() => expect(started(calls)[0]).toMatchObject({ jobs: [{ doses: [{ additive_id: 3, volume_ml: '60 mL' }] }] }));
  });

  it('names what the store lacks, and takes the word that it is in the hand', async () => {
    const item = { name: 'washer', kind: 'seal', count: 1, mandatory: true, use: 'drain plug' };
    const there = { item: { ...item, name: 'key', kind: 'tool' }, in_store: 1, state: 'there' };
    const calls = at({}, { 'POST /api/services/kit': [{ item: { ...item, use: 'Gearbox: drain plug' }, in_store: 0, state: 'missing' }, there] });
    const tick = await screen.findByRole('checkbox', { name: /1 × washer, 0 counted \(Gearbox: drain plug\)/ });
    expect(screen.getByText(/stops the start, not the middle/)).toBeInTheDocument();
    expect(screen.queryByText(/1 × key/)).toBeNull();
    expect(calls.find((c) => c.path === '/api/services/kit')?.body).toEqual({
      jobs: [{ compartment_id: box.compartment, variant: '', work: '', attached: [] }],
    });
    await userEvent.click(tick);
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    await waitFor(() => expect(started(calls)[0]).toMatchObject({ at_hand: ['washer'] }));
  });

  it('says that there is not oil enough, and takes who fetches it', async () => {
    const short = [{ lubricant: 1, name: 'Light', need_ml: 4500, on_hand_ml: 1700 }];
    const calls = at({}, { 'POST /api/services/oil': short });
    expect(await screen.findByRole('checkbox', { name: /Light: 1\s700\smL of 4\s500\smL on the shelf/ })).not.toBeChecked();
    fireEvent.change(screen.getByLabelText('Or who fetches it'), { target: { value: 'Ann' } });
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    await waitFor(() => expect(started(calls)[0]).toMatchObject({ fetches: 'Ann', at_hand: [] }));
  });

  it('leads to the data sheet when a value is missing', async () => {
    const offers = [{ ...(box.offers[0] as object), locked: true }] as Job['offers'];
    at({ offers });
    expect(await screen.findByRole('link', { name: 'Enter it' })).toHaveAttribute('href', `/shelf/oils/${offers[0]?.lubricant}`);
  });

  it('keeps everything when the server is away', async () => {
    at({}, { 'POST /api/services': () => new TypeError('away') });
    fireEvent.change(await screen.findByLabelText('Odometer now'), { target: { value: '72 000 km' } });
    await userEvent.click(screen.getByRole('button', { name: 'Start on gearbox' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('What you typed is kept');
    expect(screen.getByLabelText('Odometer now')).toHaveValue('72 000 km');
  });
});

describe('what is chosen', () => {
  const offer = (lubricant: number, verdict: string, on_hand_ml = 0) => ({ lubricant, name: `oil ${lubricant}`, verdict, on_hand_ml }) as Schemas['OilOffer'];

  it('begins with the last oil where it is good, else with an equally good one on hand, else with the best', () => {
    expect(firstOil([offer(1, 'meets'), offer(2, 'equivalent')], 'oil 2')).toBe(2);
    expect(firstOil([offer(1, 'meets'), offer(2, 'caution')], 'oil 2')).toBe(1);
    expect(firstOil([offer(1, 'meets'), offer(2, 'meets', 500)], '')).toBe(2);
    expect(firstOil([offer(1, 'reject')], '')).toBe(1);
    expect(firstOil([], '')).toBe(0);
  });

  it('does not tick what is in service', () => {
    expect(firstChoice({ ...box, in_service: true }, [box.compartment]).on).toBe(false);
    expect(jobRequest(4, { ...firstChoice(box, []), doses: [{ key: 'a', additive: 1, amount: ' ' }] }).doses).toEqual([]);
  });
});
