/** Book, Shelf and Bench: what they show of the server's answers, and what they send. */
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import book from '../../../tests/fixtures/book.json';
import compare from '../../../tests/fixtures/compare.json';
import declared from '../../../tests/fixtures/declared.json';
import due from '../../../tests/fixtures/due.json';
import figures from '../../../tests/fixtures/figures.json';
import history from '../../../tests/fixtures/history.json';
import lubricants from '../../../tests/fixtures/lubricants.json';
import sheets from '../../../tests/fixtures/sheets.json';
import swatches from '../../../tests/fixtures/swatches.json';
import trend from '../../../tests/fixtures/trend.json';
import tried from '../../../tests/fixtures/tried.json';
import words from '../../../tests/fixtures/words.json';
import { type Call, day, problem, reads, serve, show } from '../testing';
import Bench from './bench';
import Book from './book';
import Shelf from './shelf';

const compartment = history.compartment_id;
const LISTS = {
  'GET /api/lubricants': lubricants,
  'GET /api/sheets': sheets,
  'GET /api/words': words,
  'GET /api/sheets/declared': declared,
  'POST /api/bench/read': reads,
};

describe('book', () => {
  const at = (path: string, routes: object = {}, role = 'technician') => {
    const calls = serve({
      'GET /api/book': book,
      [`GET /api/book/${compartment}`]: history,
      [`GET /api/book/${compartment}/trend`]: trend,
      [`GET /api/book/${compartment}/tried`]: tried,
      'GET /api/swatches': swatches,
      'GET /api/due': due,
      ...LISTS,
      ...routes,
    });
    show(<Book />, { path, role });
    return calls;
  };

  it('lists the latest records, each leading to its compartment', async () => {
    at('/');
    const [first] = await screen.findAllByRole('listitem');
    expect(first).toHaveTextContent(/Old 4x4, gearbox.*Light.*1\s850\smL/);
    expect(within(first as HTMLElement).getByRole('link')).toHaveAttribute('href', `/book/${compartment}`);
  });

  it('is empty with a hint', async () => {
    at('/', { 'GET /api/book': [] });
    expect(await screen.findByText('The book is empty')).toBeInTheDocument();
  });

  it('shows a compartment with its ledger, records, oils and papers', async () => {
    at(`/${compartment}`);
    expect(await screen.findByRole('heading', { level: 1, name: /Old 4x4\s*, gearbox/ })).toBeInTheDocument();
    const records = screen.getAllByRole('article');
    expect(records).toHaveLength(2);
    expect(records[0]).toHaveTextContent(/1\s640\smL out at 38\s°C, 1\s850\smL in/);
    expect(records[0]).toHaveTextContent(/lost ± .*: A leak: plan the seal/);
    expect(within(records[0] as HTMLElement).getByRole('link', { name: 'Job paper' })).toHaveAttribute('href', `/api/records/${history.records[1]?.id}/paper`);
    expect(await screen.findByText(/oils used: Light/)).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'As CSV' })).toHaveAttribute('href', `/api/book/${compartment}/file`);
  });

  it('corrects a figure with its reason, and shows a refusal at the field', async () => {
    let tries = 0;
    const calls = at(`/${compartment}`, {
      'POST /api/records': () =>
        tries++ === 0 ? { status: 422, body: problem('inconsistent', 'Say why it was wrong.', 422, 'reason') } : { status: 201, body: { id: 1 } },
    });
    await userEvent.click((await screen.findAllByRole('button', { name: 'Correct' }))[0] as HTMLElement);
    fireEvent.change(screen.getByLabelText('What is right'), { target: { value: '1.84 L' } });
    await userEvent.click(screen.getByRole('button', { name: 'Correct it' }));
    expect(await screen.findByLabelText('Why')).toHaveAccessibleDescription('Say why it was wrong.');
    fireEvent.change(screen.getByLabelText('Why'), { target: { value: 'read the wrong mark' } });
    await userEvent.click(screen.getByRole('button', { name: 'Correct it' }));
    await waitFor(() => expect(screen.queryByLabelText('Why')).toBeNull());
    expect(calls.filter((c) => c.method === 'POST' && c.path.startsWith('/api/records'))[1]?.body).toEqual({
      field: 'drained_ml',
      value: '1.84 L',
      reason: 'read the wrong mark',
      plug: '',
      finding: null,
    });
  });

  it('puts a torque right at its plug, and what was found by tapping what it was', async () => {
    const seen = { magnet: 'cap', particles: null, colour: 'brown', clarity: 'clear', smell: null, d1500: null, delta_e: null, covered: null, wet: null };
    const closed = { ...history.records[0], seen, torques: [{ plug: 'drain plug', torque_nm: 43, as_written: '' }] };
    const calls = at(`/${compartment}`, { [`GET /api/book/${compartment}`]: { ...history, records: [closed] }, 'POST /api/records': { id: 1 } });
    await userEvent.click(await screen.findByRole('button', { name: 'Correct' }));
    fireEvent.change(screen.getByLabelText('What was wrong'), { target: { value: 'torque' } });
    fireEvent.change(screen.getByLabelText('What is right'), { target: { value: '50 Nm' } });
    fireEvent.change(screen.getByLabelText('Why'), { target: { value: 'the other wrench' } });
    await userEvent.click(screen.getByRole('button', { name: 'Correct it' }));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')?.body).toMatchObject({ field: 'torque', plug: 'drain plug', value: '50 Nm' });
    await userEvent.click(await screen.findByRole('button', { name: 'Correct' }));
    fireEvent.change(screen.getByLabelText('What was wrong'), { target: { value: 'finding' } });
    expect(screen.queryByLabelText('What is right')).toBeNull();
    await userEvent.click(await screen.findByRole('button', { name: /whiskers/ }));
    fireEvent.change(screen.getByLabelText('Why'), { target: { value: 'looked again' } });
    await userEvent.click(screen.getByRole('button', { name: 'Correct it' }));
    await waitFor(() => expect(calls.filter((c) => c.method === 'POST')).toHaveLength(2));
    expect(calls.filter((c) => c.method === 'POST')[1]?.body).toMatchObject({
      field: 'finding',
      plug: '',
      finding: { magnet: 'whiskers', colour: 'brown', clarity: 'clear' }, // what was not wrong stays
    });
  });

  it('takes an earlier change from paper, with what was found', async () => {
    const calls = at(`/${compartment}`, { [`POST /api/book/${compartment}`]: { id: 3 } });
    await userEvent.click(await screen.findByRole('button', { name: 'Write in an earlier change' }));
    await day('Date', '2024-05-01');
    fireEvent.change(screen.getByLabelText('Went in'), { target: { value: '1.9 L' } });
    await userEvent.click(screen.getByRole('button', { name: 'It says what was found, too' }));
    await userEvent.click(screen.getByRole('button', { name: /magnet: thin film/ }));
    await userEvent.click(screen.getByRole('checkbox', { name: 'This was the factory fill' }));
    await userEvent.click(screen.getByRole('button', { name: 'Write it in' }));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST' && c.path === `/api/book/${compartment}`)?.body).toMatchObject({
        on: '2024-05-01',
        poured_ml: '1.9 L',
        factory_fill: true,
        finding: { magnet: 'film', particles: null },
      }),
    );
  });

  it('says what unknown means when there is no record', async () => {
    at(`/${compartment}`, { [`GET /api/book/${compartment}`]: { ...history, records: [] } });
    expect(await screen.findByText('No trace of an oil change')).toBeInTheDocument();
    expect(screen.queryByRole('link', { name: 'As CSV' })).toBeNull();
  });

  it('shows a viewer no way to change it', async () => {
    at(`/${compartment}`, {}, 'viewer');
    await screen.findAllByRole('article');
    expect(screen.queryByRole('button', { name: 'Correct' })).toBeNull();
  });
});

describe('shelf', () => {
  const sheet = sheets.find((s) => s.name === 'Brass box');
  const at = (path: string, routes: object = {}, role = 'lead') => {
    const calls = serve({
      [`GET /api/sheets/${sheet?.id}`]: sheet ?? {},
      [`GET /api/sheets/${sheet?.id}/figures`]: figures,
      [`GET /api/sheets/${sheet?.id}/superseded`]: [],
      ...LISTS,
      ...routes,
    });
    show(<Shelf />, { path, role });
    return calls;
  };

  it('draws what is in stock of each oil, and each sheet with its figure', async () => {
    at('/');
    expect(await screen.findByRole('img', { name: /Light 2: 790\smL of 1\s000\smL/ })).toBeInTheDocument();
    expect(screen.getByText('Brass box')).toBeInTheDocument();
    expect(screen.getAllByText('revision 1').length).toBeGreaterThan(0);
  });

  it('adds an oil and says when a density is in the wrong unit', async () => {
    const calls = at('/', {
      'POST /api/lubricants': () => ({ status: 422, body: problem('out-of-range', '0.88 looks like g/mL: type it in kg/m³, 880.', 422, 'density15') }),
    });
    await userEvent.click(await screen.findByRole('button', { name: 'Add an oil' }));
    fireEvent.change(screen.getByLabelText('Name on the label'), { target: { value: 'New oil' } });
    fireEvent.change(screen.getByLabelText('Density at 15 °C, kg/m³'), { target: { value: '0,88' } });
    await userEvent.click(screen.getByRole('button', { name: 'Add it' }));
    expect((await screen.findAllByText(/looks like g\/mL/)).length).toBeGreaterThan(0);
    expect(calls.find((c) => c.method === 'POST' && c.path === '/api/lubricants')?.body).toMatchObject({ name: 'New oil', density15: 0.88, packs: [] });
  });

  it('puts a container on the shelf, full unless it is said otherwise', async () => {
    const calls = at('/', { 'POST /api/containers': { id: 4 } });
    await userEvent.click(await screen.findByRole('button', { name: 'Put one on the shelf: Light' }));
    fireEvent.change(screen.getByLabelText('What it is called'), { target: { value: 'Light 9' } });
    fireEvent.change(screen.getByLabelText('Its size'), { target: { value: '1 L' } });
    await userEvent.click(screen.getByRole('button', { name: 'Put it there' }));
    await waitFor(() =>
      expect(calls.find((c) => c.path === '/api/containers')?.body).toMatchObject({ label: 'Light 9', size_ml: '1 L', content_ml: '1 L', graduated: true }),
    );
  });

  it('shows every figure of a sheet with its source', async () => {
    at(`/sheets/${sheet?.id}`);
    expect(await screen.findByRole('heading', { level: 1, name: 'Brass box' })).toBeInTheDocument();
    expect(await screen.findByRole('row', { name: /Takes 1\s850\smL manual, verified/ })).toBeInTheDocument();
    expect(screen.getByRole('row', { name: /drain plug \(drain\) 12 mm hex socket crush washer 43\sN·m yes/ })).toBeInTheDocument();
    expect(screen.getByText('Old 4x4, Gearbox')).toBeInTheDocument();
  });

  it('shows a superseded figure beside the one in force', async () => {
    const [now] = sheet?.revisions ?? [];
    const two = { ...sheet, revisions: [{ ...now, id: 99, number: 2, capacity_ml: 1800, reason: 'bulletin' }, now] };
    at(`/sheets/${sheet?.id}`, { [`GET /api/sheets/${sheet?.id}/compare`]: compare, [`GET /api/sheets/${sheet?.id}`]: two });
    expect(await screen.findByText(/before: 1\s850\smL/)).toBeInTheDocument();
    expect(screen.getByText(/bulletin\. Takes/)).toBeInTheDocument();
  });

  it('revises a sheet from what stands on it, with the reason', async () => {
    const calls = at(`/sheets/${sheet?.id}/revise`, { [`POST /api/sheets/${sheet?.id}`]: { id: 2 } });
    fireEvent.change(await screen.findByLabelText('Why it changes'), { target: { value: 'bulletin' } });
    fireEvent.change(screen.getByLabelText('Service capacity'), { target: { value: '1.8 L' } });
    await userEvent.click(screen.getByRole('button', { name: 'One more plug' }));
    await userEvent.click(screen.getByRole('button', { name: 'Take out level plug' }));
    await userEvent.click(screen.getByRole('button', { name: 'Write the revision' }));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST' && c.path.startsWith('/api/sheets'))?.body).toMatchObject({
        reason: 'bulletin',
        capacity_ml: '1.8 L',
        grade: '75W-80',
        yellow_metal: true,
        plugs: [
          { role: 'fill', torque_nm: '37 N·m' },
          { role: 'drain', torque_nm: '43 N·m', magnet: true },
        ],
      }),
    );
  });

  it('keeps a sheet that is half written', async () => {
    at('/new');
    fireEvent.change(await screen.findByLabelText('Name of the sheet'), { target: { value: 'Half written' } });
    expect(JSON.parse(sessionStorage.getItem('barodex.new-sheet') ?? '{}').typed.name).toBe('Half written');
  });
});

describe('bench', () => {
  const working = { formula: 'the formula', inputs: [['need', '2 300 mL']], source: 'common practice' };
  const answers = {
    'POST /api/bench/pour': (call: Call) => ({
      body: {
        need_ml: 2300,
        actions: [
          { kind: 'mark', label: 'b', volume_ml: 1, left_ml: 1, text: `plan for ${(call.body as { containers: object[] }).containers.length} bottles` },
        ],
        left: [],
        shortage_ml: 300,
        dead_volume_ml: 0,
        working,
      },
    }),
    'POST /api/bench/torque': { torque_nm: 100, setting_nm: 80, setting_lbf_ft: 59.005, warning: 'take a larger one', working },
    'POST /api/bench/next-due': {
      due: { state: 'fine', limit: 'distance', used: 0.5, on: '2028-10-24', earliest: null, latest: null, left: 1, at_km: null, at_h: null },
      working,
    },
  };

  it('answers every sum with its working and source', async () => {
    serve({ ...LISTS, ...answers });
    show(<Bench />);
    expect(await screen.findByText('plan for 3 bottles')).toBeInTheDocument();
    expect(screen.getByText(/300\smL short/)).toBeInTheDocument();
    expect(await screen.findByText(/Set 80\.0 N·m = 59\.0 lbf·ft/)).toBeInTheDocument();
    expect(screen.getByText('take a larger one')).toBeInTheDocument();
    expect(await screen.findByText(/50 % of life used, fine: by distance, 24 Oct 2028/)).toBeInTheDocument();
    expect(screen.getAllByText(/the formula; need = 2 300 mL\. Source: common practice\./).length).toBe(3);
  });

  it('counts the opened bottle, and shows a refusal in place of an answer', async () => {
    serve({ ...LISTS, ...answers, 'POST /api/bench/torque': () => ({ status: 422, body: problem('out-of-range', 'wrench_mm is 3.', 422, 'wrench_mm') }) });
    show(<Bench />);
    fireEvent.change(await screen.findByLabelText('Opened holds'), { target: { value: '400 mL' } });
    expect(await screen.findByText('plan for 4 bottles')).toBeInTheDocument();
    expect(await screen.findByText(/wrench_mm is 3\./)).toBeInTheDocument();
    expect(screen.queryByText(/^Set /)).toBeNull();
  });
});
