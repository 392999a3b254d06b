import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import due from '../../../../../tests/fixtures/due.json';
import life from '../../../../../tests/fixtures/life.json';
import morning from '../../../../../tests/fixtures/morning.json';
import readings from '../../../../../tests/fixtures/readings.json';
import sheets from '../../../../../tests/fixtures/sheets.json';
import use from '../../../../../tests/fixtures/use.json';
import details from '../../../../../tests/fixtures/vehicle-details.json';
import words from '../../../../../tests/fixtures/words.json';
import { type Call, problem, reads, serve, show } from '../../../testing';
import Due from '..';
import { OpenList } from './OpenList';

const vehicle = due.vehicles[0];
const LISTS = { 'GET /api/words': words, 'GET /api/sheets': sheets, 'POST /api/bench/read': reads };
const at = (path: string, routes: Record<string, object | ((c: Call) => object)> = {}, role = 'lead') => {
  const calls = serve({
    'GET /api/due': due,
    [`GET /api/due/${vehicle?.id}`]: due,
    [`GET /api/due/${vehicle?.id}/life`]: life,
    'GET /api/vehicles': readings,
    [`GET /api/vehicles/${vehicle?.id}`]: details,
    [`GET /api/vehicles/${vehicle?.id}/merges`]: [],
    [`GET /api/vehicles/${vehicle?.id}/readings`]: readings,
    [`GET /api/vehicles/${vehicle?.id}/use`]: use,
    'GET /api/plan/morning': morning,
    ...LISTS,
    ...routes,
  });
  show(<Due />, { path, role });
  return calls;
};

describe('the board', () => {
  it('draws each vehicle with its compartments, what is proposed and where to go on', async () => {
    at('/');
    const row = await screen.findByRole('article', { name: 'Old 4x4' });
    expect(within(row).getByRole('img', { name: /Rear axle: no record/ })).toBeInTheDocument();
    expect(within(row).getByText('No trace: rear axle')).toBeInTheDocument();
    expect(within(row).getByRole('link', { name: 'Start in the Bay' })).toHaveAttribute('href', expect.stringContaining('?c='));
    expect(within(row).getByText(/72\s000\skm/)).toBeInTheDocument();
  });

  it('shows only one state when asked, and all again at the second press', async () => {
    at('/');
    const unknown = await screen.findByRole('button', { name: /1 unknown/ });
    await userEvent.click(unknown);
    expect(unknown).toHaveAttribute('aria-pressed', 'true');
    expect(screen.getAllByRole('article')).toHaveLength(1);
    await userEvent.click(unknown);
    expect(unknown).toHaveAttribute('aria-pressed', 'false');
  });

  it('leads a lead to what comes first when there is no vehicle, and tells the others', async () => {
    const bare = { 'GET /api/due': { ...due, vehicles: [], counts: [], following: [] } };
    const steps = [{ key: 'vehicle', done: false, id: null, name: '' }];
    at('/', { ...bare, 'GET /api/first-hour': { over: false, steps } });
    expect(await screen.findByRole('link', { name: 'Add the first vehicle' })).toBeInTheDocument();
    cleanup();
    at('/', bare, 'viewer');
    expect(await screen.findByText('No vehicle yet')).toBeInTheDocument();
  });

  it('offers nothing to a viewer that a viewer may not do', async () => {
    at('/', {}, 'viewer');
    await screen.findByRole('article');
    for (const name of ['Start in the Bay', 'Add a vehicle', 'Readings']) expect(screen.queryByRole('link', { name })).toBeNull();
  });

  it('says that the server failed and tries again', async () => {
    let tries = 0;
    at('/', { 'GET /api/due': () => (tries++ === 0 ? { status: 503, body: problem('busy', 'The book is busy: try again.', 503) } : { body: due }) });
    expect(await screen.findByRole('alert')).toHaveTextContent('busy');
    await userEvent.click(screen.getByRole('button', { name: 'Try again' }));
    expect(await screen.findByRole('article')).toBeInTheDocument();
  });
});

describe('a vehicle', () => {
  it('says of each compartment when, by which limit and from which source', async () => {
    at(`/vehicle/${vehicle?.id}`);
    expect(await screen.findByRole('heading', { level: 1, name: 'Old 4x4' })).toBeInTheDocument();
    expect(screen.getByText(/^Due by time: .* Interval from the sheet\.$/)).toBeInTheDocument();
    expect(screen.getByText(/unknown counts as due now/)).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Brass box' })).toHaveAttribute('href', expect.stringMatching(/^\/shelf\/sheets\/\d+$/));
  });

  it('writes a reading, and asks whether a lower one is a meter swap', async () => {
    const calls = at(`/vehicle/${vehicle?.id}`, {
      'POST /api/vehicles': (call: Call) =>
        (call.body as { swap: boolean }).swap
          ? { status: 201, body: readings[0] }
          : { status: 422, body: problem('out-of-line', '12 km is lower than the last: a slip, or was the meter swapped?', 422, 'value') },
    });
    fireEvent.change(await screen.findByLabelText('Odometer'), { target: { value: '12 km' } });
    await userEvent.click(screen.getByRole('button', { name: 'Write it in' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('was the meter swapped?');
    expect(screen.getByLabelText('Odometer')).toHaveValue('12 km');
    await userEvent.click(screen.getByRole('checkbox', { name: /meter was swapped/ }));
    await userEvent.click(screen.getByRole('button', { name: 'Write it in' }));
    await waitFor(() => expect(screen.getByLabelText('Odometer')).toHaveValue(''));
    expect(calls.filter((c) => c.method === 'POST' && c.path.endsWith('/readings')).map((c) => (c.body as { swap: boolean }).swap)).toEqual([false, true]);
  });

  it('shows life by each limit, what the other school says, and the working', async () => {
    const used = {
      ...life[0],
      limits: [
        { limit: 'distance', used: 0.42 },
        { limit: 'engine oil', used: 1.1 },
      ],
    };
    at(`/vehicle/${vehicle?.id}`, { [`GET /api/due/${vehicle?.id}/life`]: [used, life[1] ?? {}] });
    expect(await screen.findByRole('meter', { name: 'Life used, distance' })).toHaveAttribute('aria-valuenow', '42');
    expect(screen.getByRole('meter', { name: 'Life used, with the engine oil' })).toHaveAttribute('aria-valuenow', '110');
    expect(screen.getByText(/By the maker's figure \(the sheet\) it would be due/)).toBeInTheDocument();
    expect(screen.getByText(/No change of this compartment is on record/)).toBeInTheDocument();
    await userEvent.click(screen.getAllByRole('button', { name: 'How?' })[0] as HTMLElement);
    expect(await screen.findByText(/Palmgren 1924, Miner 1945/)).toBeInTheDocument();
  });

  it('sets one compartment apart with a reason, and keeps what was typed when refused', async () => {
    let tries = 0;
    const calls = at(`/vehicle/${vehicle?.id}`, {
      'POST /api/compartments': () =>
        tries++ === 0 ? { status: 422, body: problem('out-of-range', 'load_share is 1.2, allowed is 0 to 1.', 422, 'load_share') } : { body: life[0]?.rule },
    });
    await userEvent.click(await screen.findByRole('button', { name: /^Set this one apart: Gearbox/ }));
    const form = within(screen.getByRole('form', { name: /Set this one apart/ }));
    fireEvent.change(form.getByLabelText(/Engine torque over/), { target: { value: '120' } });
    fireEvent.change(form.getByLabelText('Why this one differs'), { target: { value: 'new engine' } });
    await userEvent.selectOptions(form.getByLabelText('School'), 'maker');
    await userEvent.click(form.getByRole('button', { name: 'From now on so' }));
    expect(await form.findByLabelText(/Engine torque over/)).toHaveAccessibleDescription(/allowed is 0 to 1/);
    fireEvent.change(form.getByLabelText(/Engine torque over/), { target: { value: '90' } });
    await userEvent.click(form.getByRole('button', { name: 'From now on so' }));
    await waitFor(() => expect(screen.queryByRole('form', { name: /Set this one apart/ })).toBeNull());
    expect(calls.filter((c) => c.method === 'POST').map((c) => c.body)[1]).toMatchObject({
      load_share: 0.9,
      school: 'maker',
      interval_months: null,
      why: 'new engine',
    });
  });

  it('says how it is used anew, and a reading carries its duty', async () => {
    const calls = at(`/vehicle/${vehicle?.id}`, { 'POST /api/vehicles': readings[0] ?? {}, [`POST /api/vehicles/${vehicle?.id}/use`]: use });
    await userEvent.click(await screen.findByRole('button', { name: 'Change how it is used' }));
    fireEvent.change(screen.getByLabelText('track, %'), { target: { value: '25' } });
    fireEvent.change(screen.getByLabelText('Season from, month-day'), { target: { value: '12-01' } });
    await userEvent.click(screen.getByRole('button', { name: 'From now on so' }));
    await waitFor(() =>
      expect(calls.find((c) => c.path.endsWith('/use') && c.method === 'POST')?.body).toMatchObject({ duty_split: { track: 0.25 }, season_from: '12-01' }),
    );
    fireEvent.change(screen.getByLabelText('Odometer'), { target: { value: '73 000 km' } });
    await userEvent.selectOptions(screen.getByLabelText('Since the last reading'), 'towing');
    fireEvent.change(screen.getByLabelText('share, %'), { target: { value: '40' } });
    await userEvent.click(screen.getByRole('button', { name: 'Write it in' }));
    await waitFor(() => expect(calls.find((c) => c.path.endsWith('/readings') && c.method === 'POST')?.body).toMatchObject({ duty: { towing: 0.4 } }));
  });

  it('notes what its own counter says', async () => {
    const calls = at(`/vehicle/${vehicle?.id}`, { 'POST /api/compartments': { status: 201, body: { id: 1 } } });
    await userEvent.click(await screen.findByRole('button', { name: /^Read its counter: Gearbox/ }));
    fireEvent.change(screen.getByLabelText(/Life used, as the vehicle/), { target: { value: '58,5' } });
    await userEvent.click(screen.getByRole('button', { name: 'Note it' }));
    await waitFor(() => expect(calls.find((c) => c.method === 'POST')).toMatchObject({ path: '/api/compartments/1/counter', body: { used: 0.585 } }));
  });

  it('asks for a reading when there was none for long', async () => {
    const stale = { ...due, vehicles: due.vehicles.map((v) => ({ ...v, wants_reading: true })) };
    at(`/vehicle/${vehicle?.id}`, { [`GET /api/due/${vehicle?.id}`]: stale });
    expect(await screen.findByText(/until it is read again its due dates are wide guesses/)).toBeInTheDocument();
  });

  it('takes one more compartment', async () => {
    const calls = at(`/vehicle/${vehicle?.id}`, { 'POST /api/vehicles': { id: 9 } });
    await userEvent.click(await screen.findByRole('button', { name: 'Add a compartment' }));
    fireEvent.change(screen.getByLabelText('Compartment'), { target: { value: 'Front axle' } });
    await userEvent.selectOptions(screen.getByLabelText('Place in the driveline'), 'front axle');
    await userEvent.selectOptions(await screen.findByLabelText('Spec sheet'), String(sheets[0]?.id));
    await userEvent.click(screen.getByRole('button', { name: 'Add it' }));
    await waitFor(() => expect(calls.find((c) => c.method === 'POST')?.body).toEqual({ name: 'Front axle', slot: 'front axle', sheet_id: sheets[0]?.id }));
  });
});

describe('the morning', () => {
  it('lists what presses with the way to it, to print and to send', async () => {
    const calls = at('/morning', { 'POST /api/plan/morning': { to: ['lead@depot.example'], outbox: '/var/outbox' } });
    expect(await screen.findByText(morning.text)).toBeInTheDocument();
    expect(screen.getByRole('heading', { name: 'To be looked at again' })).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Print it' })).toHaveAttribute('href', '/api/plan/morning/paper');
    await userEvent.click(screen.getByRole('button', { name: 'Send it by mail' }));
    fireEvent.change(screen.getByLabelText('To'), { target: { value: 'lead@depot.example' } });
    await userEvent.click(screen.getByRole('button', { name: 'Send it' }));
    expect(await screen.findByRole('status')).toHaveTextContent('it waits in the outbox folder, /var/outbox');
    expect(calls.find((c) => c.method === 'POST')?.body).toEqual({ to: 'lead@depot.example' });
  });

  it('says when nothing presses, and sends nothing for a viewer', async () => {
    at('/morning', { 'GET /api/plan/morning': { ...morning, sections: [] } }, 'viewer');
    expect(await screen.findByText('Nothing presses')).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Send it by mail' })).toBeNull();
  });
});

describe('a large fleet', () => {
  it('is shown a page at a time', async () => {
    const other = { ...due.vehicles[0], id: 99, name: 'Second page' };
    const calls: string[] = [];
    at('/', {
      'GET /api/due': (c: Call) => {
        calls.push(c.path);
        return { body: calls.length === 1 ? { ...due, matching: 2 } : { ...due, matching: 2, vehicles: [other] } };
      },
    });
    await userEvent.click(await screen.findByRole('button', { name: 'Show more: 1 left' }));
    expect(await screen.findByRole('article', { name: 'Second page' })).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /Show more/ })).toBeNull();
  });
});

describe('a new vehicle', () => {
  it('is drawn as it is entered, refused at its field, and kept through a reload', async () => {
    const calls = at('/add', {
      'POST /api/vehicles': () => ({
        status: 422,
        body: problem('invalid', 'Choose the sheet that this compartment stands on.', 422, 'compartments.0.sheet_id'),
      }),
    });
    fireEvent.change(await screen.findByLabelText('What people call it'), { target: { value: 'New van' } });
    fireEvent.change(screen.getByLabelText('Compartment'), { target: { value: 'Gearbox' } });
    expect(screen.getByRole('img', { name: /Gearbox/ })).toBeInTheDocument();
    fireEvent.change(screen.getByLabelText('Share off the road, %'), { target: { value: '25 %' } });
    await userEvent.click(screen.getByRole('button', { name: 'One more compartment' }));
    await userEvent.click(screen.getByRole('button', { name: 'Take out this compartment' }));
    await userEvent.click(screen.getByRole('button', { name: 'Add the vehicle' }));
    expect(await screen.findByLabelText('Spec sheet')).toHaveAccessibleDescription('Choose the sheet that this compartment stands on.');
    expect(calls.find((c) => c.method === 'POST')?.body).toMatchObject({ name: 'New van', off_road_share: 0.25, compartments: [{ name: 'Gearbox' }] });
    cleanup();
    at('/add', {});
    expect(await screen.findByLabelText('What people call it')).toHaveValue('New van');
    expect(screen.getByLabelText('Compartment')).toHaveValue('Gearbox');
    expect(screen.getByLabelText('Share off the road, %')).toHaveValue('25 %');
  });
});

describe('readings from a file', () => {
  const give = (file: File) => fireEvent.change(document.querySelector('input[type=file]') as HTMLInputElement, { target: { files: [file] } });

  it('names the columns, and the rows that need mending', async () => {
    at('/readings', {
      'POST /api/readings/file': () => ({
        status: 422,
        body: {
          ...problem('inconsistent', 'Nothing was taken: 1 row(s) need mending.', 422),
          errors: [
            { field: 'file', message: 'Nothing was taken' },
            { field: 'row 3', line: 3, message: 'No vehicle of that name or plate.', value: 'Ghost' },
          ],
        },
      }),
    });
    for (const column of ['vehicle', 'date', 'reading', 'unit']) expect(await screen.findByText(column)).toBeInTheDocument();
    give(new File(['vehicle,date\n'], 'r.csv', { type: 'text/csv' }));
    await userEvent.click(screen.getByRole('button', { name: 'Take them in' }));
    expect(await screen.findByRole('row', { name: /3 Ghost No vehicle/ })).toBeInTheDocument();
  });

  it('refuses a large file before it is sent, and says how many were taken of a good one', async () => {
    const calls = at('/readings', { 'POST /api/readings/file': { added: 2, known: 1 } });
    await screen.findByText('Take them in');
    give(new File([new Uint8Array(1_000_001)], 'big.csv'));
    await userEvent.click(screen.getByRole('button', { name: 'Take them in' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('at most 1 MB');
    expect(calls.filter((c) => c.method === 'POST')).toHaveLength(0);
    give(new File(['x'], 'r.csv'));
    await userEvent.click(screen.getByRole('button', { name: 'Take them in' }));
    expect(await screen.findByRole('status')).toHaveTextContent('2 added, 1 known already.');
  });
});

describe('what must be looked at again', () => {
  const stop = {
    id: 5,
    vehicle_id: 1,
    vehicle: 'Truck',
    compartment: 'Rear axle',
    what: 'Stop, do not drive',
    compartment_id: 2,
    kind: 'stop',
    code: 'finding',
    since: '2026-06-01',
    record: 3,
    due_on: null,
    due_meter: null,
    meter: 'km',
    offer: '',
    offer_ml: null,
    offer_nm: null,
  };
  it('a stop is cleared by the lead alone, with what the look showed', async () => {
    const calls = serve({ 'POST /api/consequences/5': { id: 5 } });
    show(<OpenList list={[stop]} />);
    await userEvent.click(screen.getByRole('button', { name: /^Clear the stop/ }));
    fireEvent.change(screen.getByLabelText('What was found, and what was mended?'), { target: { value: 'rebuilt' } });
    await userEvent.click(screen.getByRole('button', { name: 'Note it' }));
    await waitFor(() => expect(calls[0]?.body).toEqual({ outcome: 'rebuilt', again: true }));
  });

  it('a technician sees the stop and cannot clear it', () => {
    show(<OpenList list={[stop]} />, { role: 'technician' });
    expect(screen.getByText('Stop, do not drive')).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /^Clear the stop/ })).toBeNull();
  });

  it('says by when, whichever comes first', () => {
    show(<OpenList list={[{ ...stop, kind: 'look-again', due_on: '2026-09-01', due_meter: 75_000 }]} />);
    expect(screen.getByText(/1 Sep.* or at 75\s000\skm/)).toBeInTheDocument();
  });
});
