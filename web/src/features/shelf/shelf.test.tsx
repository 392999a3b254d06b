/** The rooms of the Shelf: which oil, an oil's own page, the pictures, sources and revisions, files, shopping, the store, policy. */
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import additives from '../../../../tests/fixtures/additives.json';
import chart from '../../../../tests/fixtures/chart.json';
import compare from '../../../../tests/fixtures/compare.json';
import oilsOf from '../../../../tests/fixtures/compartment-oils.json';
import declared from '../../../../tests/fixtures/declared.json';
import due from '../../../../tests/fixtures/due.json';
import figures from '../../../../tests/fixtures/figures.json';
import report from '../../../../tests/fixtures/file-report.json';
import guide from '../../../../tests/fixtures/guide.json';
import lubricants from '../../../../tests/fixtures/lubricants.json';
import movements from '../../../../tests/fixtures/movements.json';
import places from '../../../../tests/fixtures/places.json';
import policy from '../../../../tests/fixtures/policy.json';
import scales from '../../../../tests/fixtures/scales.json';
import schedule from '../../../../tests/fixtures/schedule.json';
import revised from '../../../../tests/fixtures/sheet-revised.json';
import shopping from '../../../../tests/fixtures/shopping.json';
import store from '../../../../tests/fixtures/store.json';
import superseded from '../../../../tests/fixtures/superseded.json';
import words from '../../../../tests/fixtures/words.json';
import type { Schemas } from '../../app/api';
import { type Call, problem, reads, serve, show } from '../../testing';
import Shelf from '.';
import { oilDraft, oilRequest } from './oils/oilDraft';
import { beside, lanes } from './oils/scales';
import { apart } from './oils/ViscosityChart';
import { fieldWords } from './sheets/FilePage';

const box = oilsOf.compartment;
const light = lubricants.find((o) => o.name === 'Light');
const sheet = revised.id;
const ALL = {
  'GET /api/lubricants': lubricants,
  'GET /api/due': due,
  'GET /api/words': words,
  'GET /api/sheets/declared': declared,
  'GET /api/store': store,
  'GET /api/additives': additives,
  'GET /api/policy': policy,
  'GET /api/plan/schedule': schedule,
  'GET /api/lubricants/scales': scales,
  'POST /api/lubricants/chart': chart,
  'POST /api/bench/read': reads,
  [`POST /api/compartments/${box}/oils`]: oilsOf,
  [`GET /api/sheets/${sheet}`]: revised,
  [`GET /api/sheets/${sheet}/figures`]: figures,
  [`GET /api/sheets/${sheet}/superseded`]: superseded,
  [`GET /api/sheets/${sheet}/compare`]: compare,
};

function at(path: string, routes: object = {}, role = 'lead') {
  const calls = serve({ ...ALL, ...routes });
  show(<Shelf />, { path, role });
  return calls;
}
const sent = (calls: Call[], method: string, path: string) => calls.filter((c) => c.method === method && c.path === path).map((c) => c.body);

describe('which oil', () => {
  it('orders the shelf for a compartment, with reasons, and draws two lines', async () => {
    at(`/choose?c=${box}`);
    const rows = await screen.findAllByRole('listitem');
    const heads = screen.getAllByRole('heading', { level: 3 }).map((h) => h.textContent);
    expect(heads[0]).toBe('Light');
    expect(rows[0]).toHaveTextContent(/meets the sheet/);
    expect(screen.getByText(/Brass rings inside/).closest('li')).toBeInTheDocument();
    expect(await screen.findByRole('img', { name: /Viscosity over temperature: .*Light.*; band of 75W-80/ })).toBeInTheDocument();
    expect(screen.getAllByText('estimated', { exact: false }).length).toBeGreaterThan(0);
  });

  it('asks for limited slip before it shows an oil', async () => {
    const calls = at(`/choose?c=${box}`, {
      [`POST /api/compartments/${box}/oils`]: (call: Call) => ({ body: { ...oilsOf, ask_limited_slip: !(call.body as { slip: string }).slip } }),
    });
    expect(await screen.findByText(/Answer first/)).toBeInTheDocument();
    expect(screen.queryByText('Light')).toBeNull();
    await userEvent.click(screen.getByRole('radio', { name: 'clutch-type' }));
    expect(await screen.findByRole('link', { name: 'Light' })).toBeInTheDocument();
    expect(sent(calls, 'POST', `/api/compartments/${box}/oils`).at(-1)).toMatchObject({ slip: 'yes' });
  });

  it('draws at most four, and the one that is ticked', async () => {
    const offers = [1, 2, 3, 4, 5].map((k) => ({ ...(oilsOf.offers[0] as object), lubricant: k, name: `Oil ${k}` }));
    const calls = at(`/choose?c=${box}`, { [`POST /api/compartments/${box}/oils`]: { ...oilsOf, offers } });
    const boxes = await screen.findAllByRole('checkbox', { name: 'draw its line' });
    await userEvent.click(boxes[2] as HTMLElement);
    await userEvent.click(boxes[3] as HTMLElement);
    expect(boxes[4]).toBeDisabled();
    await waitFor(() => expect(sent(calls, 'POST', '/api/lubricants/chart').at(-1)).toMatchObject({ oils: [1, 2, 3, 4] }));
  });

  it('says what to do when none is chosen, and shows a refusal', async () => {
    at('/choose');
    expect(await screen.findByText('No compartment chosen')).toBeInTheDocument();
  });
});

describe('an oil', () => {
  const routes = { [`POST /api/lubricants/${light?.id}/places`]: places, [`GET /api/containers/${light?.containers[0]?.id}`]: movements };

  it('says where it may go and where it must not, and that its viscosity is estimated', async () => {
    at(`/oils/${light?.id}`, routes);
    expect(await screen.findByText(/estimated: middle of 75W-80/)).toBeInTheDocument();
    expect((await screen.findAllByRole('img', { name: 'must not go in' })).length).toBeGreaterThan(0);
  });

  it('takes oil out, keeps what was typed when it is refused, and shows the movements', async () => {
    const c = light?.containers[0];
    const calls = at(`/oils/${light?.id}`, {
      ...routes,
      [`POST /api/containers/${c?.id}/take`]: () => ({ status: 422, body: problem('out-of-range', 'It holds 640 mL by the book.', 422, 'volume_ml') }),
    });
    await userEvent.click(await screen.findByRole('button', { name: `Take out: ${c?.label}` }));
    fireEvent.change(screen.getByLabelText('How much'), { target: { value: '9 L' } });
    fireEvent.change(screen.getByLabelText('What for'), { target: { value: 'top-up' } });
    await userEvent.click(screen.getByRole('button', { name: 'Take it out' }));
    expect(await screen.findByLabelText('How much')).toHaveAccessibleDescription('It holds 640 mL by the book.');
    expect(screen.getByLabelText('How much')).toHaveValue('9 L');
    expect(sent(calls, 'POST', `/api/containers/${c?.id}/take`)).toEqual([{ volume_ml: '9 L', why: 'top-up' }]);
    await userEvent.click(screen.getByRole('button', { name: `movements of ${c?.label}` }));
    expect(await screen.findByText(/put on the shelf/)).toBeInTheDocument();
  });

  it('is corrected from its data sheet', async () => {
    const calls = at(`/oils/${light?.id}`, { ...routes, [`PUT /api/lubricants/${light?.id}`]: { id: light?.id } });
    await userEvent.click(await screen.findByRole('button', { name: 'Correct it from the data sheet' }));
    fireEvent.change(screen.getByLabelText('Viscosity at 40 °C, mm²/s'), { target: { value: '55,2' } });
    fireEvent.change(screen.getByLabelText('Approvals and fluids it claims'), { target: { value: 'A 1, B 2' } });
    await userEvent.click(screen.getByRole('button', { name: 'Keep it' }));
    await waitFor(() =>
      expect(sent(calls, 'PUT', `/api/lubricants/${light?.id}`)[0]).toMatchObject({
        name: 'Light',
        kv40: 55.2,
        approvals: ['A 1', 'B 2'],
        packs: [{ price: '10.00' }],
      }),
    );
  });

  it('goes from the view to a draft and back without losing a value', () => {
    const view = {
      ...(light as object),
      kv40: 55,
      kv100: 9.6,
      detergent: false,
      copper_strip: '1b',
      base: 'synthetic',
      approvals: ['A'],
    } as Schemas['LubricantView'];
    expect(oilRequest(oilDraft(view))).toMatchObject({
      kv40: 55,
      kv100: 9.6,
      detergent: false,
      copper_strip: '1b',
      base: 'synthetic',
      approvals: ['A'],
      packs: [{ size_ml: '1000 mL', price: '10.00' }],
    });
  });

  it('shows a viewer no way to change it', async () => {
    at(`/oils/${light?.id}`, routes, 'viewer');
    await screen.findByText(/estimated: middle/);
    expect(screen.queryByRole('button', { name: /Take out|Correct it|Fill in/ })).toBeNull();
  });
});

describe('the pictures', () => {
  it('shows that 30 is not 30, by mouse and by key', async () => {
    at('/scales');
    expect(await screen.findByRole('heading', { name: 'engine SAE 30' })).toBeInTheDocument();
    expect(screen.getByRole('status')).toHaveTextContent(/engine SAE 30.*9\.3 to below 12\.5.*gear SAE 80, gear SAE 85/);
    const gear = screen.getByRole('button', { name: /^gear SAE 90/ });
    gear.focus();
    await userEvent.keyboard('{Enter}');
    expect(screen.getByRole('status')).toHaveTextContent(/gear SAE 90.*engine SAE 40, engine SAE 50/);
    expect(gear).toHaveAttribute('aria-pressed', 'true');
  });

  it('asks for the other edition of J306', async () => {
    const calls = at('/scales');
    await userEvent.click(await screen.findByRole('radio', { name: '2019 (from memory)' }));
    await waitFor(() => expect(calls.filter((c) => c.path === '/api/lubricants/scales')).toHaveLength(2));
  });

  it('sets labels apart and knows what lies beside a band', () => {
    expect(apart([100, 101, 50])).toEqual([100, 117, 50]);
    const engine = scales.scales.find((s) => s.name === 'engine');
    expect(beside(scales.scales, 'engine', engine?.bands.find((b) => b.name === 'SAE 60') as Schemas['ScaleBand'])).toContain('gear SAE 110');
    const at = lanes(engine?.bands ?? []);
    expect([at['SAE 12'], at['SAE 16'], at['SAE 30']]).toEqual([
      [0.5, 0.5],
      [0, 0.5],
      [0, 1],
    ]); // SAE J300: 12 and 16 overlap, 30 stands alone
  });
});

describe('a sheet with several sources', () => {
  it('shows them ranked, with the conflict, and chooses one with a reason', async () => {
    const claim = figures[0]?.claims[0];
    const calls = at(`/sheets/${sheet}`, { [`POST /api/claims/${claim?.id}/choose`]: { id: 3 } });
    expect(await screen.findByText('the sources contradict each other')).toBeInTheDocument();
    expect(screen.getByText(/ranks above the sheet/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Go by this one: bulletin, capacity' }));
    fireEvent.change(screen.getByLabelText('Why this one'), { target: { value: 'newest' } });
    await userEvent.click(screen.getByRole('button', { name: "Make it the sheet's figure" }));
    await waitFor(() => expect(sent(calls, 'POST', `/api/claims/${claim?.id}/choose`)).toEqual([{ reason: 'newest' }]));
  });

  it('keeps what another source says, and shows a contradiction at the field', async () => {
    const calls = at(`/sheets/${sheet}`, {
      [`POST /api/sheets/${sheet}/claims`]: () => ({
        status: 422,
        body: problem('inconsistent', '“43 N·m” and “50 lb ft” contradict each other.', 422, 'text'),
      }),
    });
    await userEvent.click(await screen.findByRole('button', { name: 'Note what another source says' }));
    await userEvent.selectOptions(screen.getByLabelText('Figure'), 'torque, drain plug');
    fireEvent.change(screen.getByLabelText('It says'), { target: { value: '43 N·m (50 lb ft)' } });
    await userEvent.click(screen.getByRole('button', { name: 'Keep it beside the others' }));
    expect(await screen.findByLabelText('It says')).toHaveAccessibleDescription(/contradict each other/);
    expect(sent(calls, 'POST', `/api/sheets/${sheet}/claims`)[0]).toMatchObject({ figure: 'torque, drain plug', published: null });
  });

  it('says who was filled by the old capacity, compares revisions and copies', async () => {
    const calls = at(`/sheets/${sheet}`, { [`POST /api/sheets/${sheet}/copy`]: { id: sheet } });
    expect(await screen.findByText(/150\smL too much inside/)).toBeInTheDocument();
    expect(await screen.findByRole('row', { name: /Service capacity 1\s850\smL 1\s700\smL/ })).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Copy it' }));
    fireEvent.change(screen.getByLabelText('Name of the copy'), { target: { value: 'Another' } });
    await userEvent.click(screen.getByRole('button', { name: 'Write the copy' }));
    await waitFor(() => expect(sent(calls, 'POST', `/api/sheets/${sheet}/copy`)).toEqual([{ name: 'Another' }]));
  });

  it('verifies a figure, saying how', async () => {
    const calls = at(`/sheets/${sheet}`, { [`POST /api/sheets/${sheet}/trust`]: { id: 3 } });
    await userEvent.click(await screen.findByRole('button', { name: 'Verify or doubt a figure' }));
    fireEvent.change(screen.getByLabelText('How you know'), { target: { value: 'measured what it took' } });
    await userEvent.click(screen.getByRole('button', { name: 'So it is from now on' }));
    await waitFor(() =>
      expect(sent(calls, 'POST', `/api/sheets/${sheet}/trust`)[0]).toEqual({ figure: 'capacity', trust: 'verified', how: 'measured what it took' }),
    );
  });
});

describe('a sheet from a file', () => {
  it('shows what is blank, converted, impossible and foreign, keeps the names, and goes on to the form', async () => {
    const calls = at('/file', { 'POST /api/sheets/file': report, 'POST /api/sheets/file/names': { id: 2 } });
    fireEvent.change(await screen.findByLabelText('or paste it here'), { target: { value: '{"menge": "2.3 L"}' } });
    await userEvent.click(screen.getByRole('button', { name: 'Read it' }));
    expect(await screen.findByText(/service capacity, grade/)).toBeInTheDocument();
    expect(screen.getByText('473 mL')).toBeInTheDocument();
    expect(screen.getByText(/Not an amount above zero/)).toBeInTheDocument();
    await userEvent.selectOptions(screen.getByLabelText('menge means'), 'capacity');
    await userEvent.click(screen.getByRole('button', { name: 'Keep these meanings and read again' }));
    await waitFor(() =>
      expect(sent(calls, 'POST', '/api/sheets/file/names')[0]).toEqual({
        names: [
          { name: 'menge', place: 'sheet', ours: 'capacity' },
          { name: 'weite', place: 'plug', ours: '' },
        ],
      }),
    );
    await userEvent.click(await screen.findByRole('button', { name: 'Look at it line by line, then write it' }));
    expect(JSON.parse(sessionStorage.getItem('barodex.new-sheet') ?? '{}').typed).toMatchObject({
      name: 'Getriebe',
      figures: { rinse_ml: '473.176473 mL', capacity_ml: '' },
    });
  });

  it('says what is wrong with a file that is none', async () => {
    at('/file', { 'POST /api/sheets/file': () => ({ status: 422, body: problem('unreadable', 'This is not JSON, or it is nested too deep.', 422, 'text') }) });
    fireEvent.change(await screen.findByLabelText('or paste it here'), { target: { value: '[[[[' } });
    await userEvent.click(screen.getByRole('button', { name: 'Read it' }));
    expect(await screen.findByLabelText('or paste it here')).toHaveAccessibleDescription(/not JSON/);
  });

  it('names a path in words', () => {
    expect(fieldWords('plugs.0.torque_nm')).toBe('plug 1, torque');
    expect(fieldWords('capacity_ml')).toBe('capacity');
  });
});

describe('the guide of a sheet', () => {
  it('is read from the first tick to the signature, for another vehicle too', async () => {
    const calls = at(`/sheets/${sheet}/guide`, { [`GET /api/sheets/${sheet}/guide`]: guide });
    expect(await screen.findByRole('heading', { level: 1, name: `Guide: ${guide.sheet}` })).toBeInTheDocument();
    expect(screen.getAllByRole('listitem')).toHaveLength(guide.steps.filter((s) => !s.branch).length);
    expect(screen.getAllByText(/gate: what follows is locked/).length).toBeGreaterThan(3);
    expect(screen.getByText('☐ Wheels chocked, parking brake on')).toBeInTheDocument();
    await userEvent.selectOptions(screen.getByLabelText('On a'), 'motorcycle');
    await waitFor(() => expect(calls.filter((c) => c.path.endsWith('/guide'))).toHaveLength(2));
  });
});

describe('shopping', () => {
  it('sums the needs, buys the cheapest packs after what is on hand, and names what is missing', async () => {
    const calls = at(`/shopping?c=${box}`, { 'POST /api/shopping': shopping });
    expect(await screen.findByRole('heading', { name: 'Oil to buy: 26.00' })).toBeInTheDocument();
    expect(screen.getByText(/1\s750\smL needed, 790\smL on hand first, 960\smL short, 40\smL left over/)).toBeInTheDocument();
    expect(screen.getByRole('alert')).toHaveTextContent('crush washer for 12 mm drain plug');
    expect(sent(calls, 'POST', '/api/shopping')[0]).toMatchObject({ compartments: [box], weeks: null });
    await userEvent.selectOptions(screen.getByLabelText(`Oil for ${shopping.needs[0]?.name}`), '2');
    await waitFor(() => expect(sent(calls, 'POST', '/api/shopping').at(-1)).toMatchObject({ oils: [{ compartment: box, lubricant_id: 2 }] }));
  });

  it('looks some weeks ahead, refuses nonsense at the field, and asks for an unknown capacity', async () => {
    const needs = [{ ...shopping.needs[0], need: null }];
    const calls = at('/shopping', { 'POST /api/shopping': { ...shopping, needs, oils: [], kit: [], missing: [] } });
    const weeks = await screen.findByLabelText('Weeks ahead');
    expect(weeks).toHaveValue('4');
    fireEvent.change(weeks, { target: { value: 'soon' } });
    expect(weeks).toHaveAccessibleDescription('whole weeks, 0 to 104');
    fireEvent.change(weeks, { target: { value: '26' } });
    fireEvent.change(screen.getByLabelText('Buy for'), { target: { value: '2 L' } });
    await userEvent.click(screen.getByRole('button', { name: 'Count it in' }));
    await waitFor(() =>
      expect(sent(calls, 'POST', '/api/shopping').at(-1)).toMatchObject({
        weeks: 26,
        estimates: [{ compartment: shopping.needs[0]?.compartment, volume_ml: '2 L' }],
      }),
    );
  });

  it('is saved as CSV', async () => {
    const saved: Blob[] = [];
    vi.stubGlobal('URL', Object.assign(URL, { createObjectURL: (b: Blob) => `blob:${saved.push(b)}`, revokeObjectURL: () => undefined }));
    at(`/shopping?c=${box}`, { 'POST /api/shopping': shopping, 'POST /api/shopping/file': 'what,for' });
    await userEvent.click(await screen.findByRole('button', { name: 'As CSV' }));
    await waitFor(() => expect(saved).toHaveLength(1));
  });

  it('says so when nothing is due', async () => {
    at('/shopping', { 'POST /api/shopping': { ...shopping, needs: [], oils: [], kit: [] } });
    expect(await screen.findByText('Nothing to fetch')).toBeInTheDocument();
  });
});

describe('store and policy', () => {
  it('counts a seal, the empty ones first', async () => {
    const calls = at('/store', { 'POST /api/store': { id: 1 } });
    const items = await screen.findAllByText(/crush washer|torque wrench/);
    expect(items[0]).toHaveTextContent('crush washer for 12 mm drain plug');
    await userEvent.click(screen.getByRole('button', { name: 'Count: crush washer for 12 mm drain plug' }));
    fireEvent.change(screen.getByLabelText('How many'), { target: { value: '6' } });
    await userEvent.click(screen.getByRole('button', { name: 'So many' }));
    await waitFor(() => expect(sent(calls, 'POST', '/api/store')[0]).toMatchObject({ name: 'crush washer for 12 mm drain plug', kind: 'seal', count: 6 }));
  });

  it('adds an additive with its share', async () => {
    const calls = at('/store', { 'POST /api/additives': { id: 2 } });
    await userEvent.click(await screen.findByRole('button', { name: 'Add an additive' }));
    const form = within(screen.getByRole('form', { name: 'Add an additive' }));
    fireEvent.change(form.getByLabelText('Name on the label'), { target: { value: 'Moly' } });
    fireEvent.change(form.getByLabelText('Most of the fill, %'), { target: { value: '8' } });
    await userEvent.click(form.getByRole('button', { name: 'Add it' }));
    await waitFor(() => expect(sent(calls, 'POST', '/api/additives')[0]).toMatchObject({ name: 'Moly', max_share: 0.08 }));
  });

  it('changes a school with its reason; a technician only reads', async () => {
    const calls = at('/policy', { 'POST /api/policy': policy });
    await userEvent.click((await screen.findAllByRole('radio', { name: 'never' }))[0] as HTMLElement);
    fireEvent.change(screen.getByLabelText('Thicker by up to, %'), { target: { value: '20' } });
    fireEvent.change(screen.getByLabelText('Why it changes'), { target: { value: 'burnt rings' } });
    await userEvent.click(screen.getByRole('button', { name: 'From now on so' }));
    await waitFor(() => expect(sent(calls, 'POST', '/api/policy')).toEqual([{ dual_claim: 'never', near_high: 0.2, why: 'burnt rings' }]));
  });

  it('changes the school of scheduling with its reason', async () => {
    const calls = at('/policy', { 'POST /api/plan/schedule': schedule });
    const form = within(await screen.findByRole('form', { name: 'When oil falls due' }));
    await userEvent.click(form.getByRole('radio', { name: "the maker's figure as printed" }));
    fireEvent.change(form.getByLabelText('Why the school changes'), { target: { value: 'lease ends' } });
    await userEvent.click(form.getByRole('button', { name: 'Reckon by it' }));
    await waitFor(() => expect(sent(calls, 'POST', '/api/plan/schedule')).toEqual([{ school: 'maker', why: 'lease ends' }]));
  });

  it('has no button for a technician', async () => {
    at('/policy', {}, 'technician');
    await screen.findByText(/GL-4 and GL-5/);
    expect(screen.queryByRole('button', { name: 'From now on so' })).toBeNull();
  });
});
