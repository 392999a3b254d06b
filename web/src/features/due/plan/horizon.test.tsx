import { fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import horizon from '../../../../../tests/fixtures/horizon.json';
import { day, problem, serve, show } from '../../../testing';
import { HorizonPage } from './HorizonPage';
import { dayAfter, dayAt, daysBetween, lanes, placeOf, ticks } from './horizonScale';
import { drumSentence, oilsOf } from './YearTable';

const mark = horizon.rows[0]?.marks[0];
const VISIT = {
  id: null as number | null,
  vehicle_id: 1,
  vehicle: 'Old 4x4',
  on: dayAfter(horizon.today, 10),
  first: horizon.today,
  last: dayAfter(horizon.today, 24),
  hours: 1.6,
  compartments: [mark?.compartment_id ?? 0],
  names: ['Gearbox'],
  oils: ['Light'],
  effects: [{ compartment_id: 1, name: 'Gearbox', early_days: 12, thrown_share: 0.03, thrown_ml: 56, over: false }],
  thrown_ml: 56,
  looks: [] as { id: number; compartment: string; what: string; on: string; stop: boolean }[],
  bay: 1 as number | null,
  note: '',
  done: false,
  problem: '',
};
const WITH = { ...horizon, rows: horizon.rows.map((r) => ({ ...r, proposed: [VISIT] })) };

describe('the scale of the horizon', () => {
  it('puts days where they are read back from', () => {
    for (const span of [7, 31, 183, 366]) for (const day of [0, 1, 5, 7]) expect(dayAt(placeOf(day, span), span)).toBe(day);
    expect(placeOf(-400, 183)).toBeGreaterThan(150);
    expect(placeOf(-400, 183)).toBeLessThan(placeOf(-2, 183));
    expect(placeOf(999, 183)).toBe(placeOf(183, 183));
  });

  it('counts days by the calendar, also over the turn of summer time and a leap day', () => {
    expect(daysBetween('2026-10-24', '2026-10-26')).toBe(2);
    expect(dayAfter('2028-02-28', 1)).toBe('2028-02-29');
    expect(dayAfter('2026-03-28', 2)).toBe('2026-03-30');
  });

  it('sets marks apart that would lie on each other', () => {
    expect(lanes([10, 20, 30, 90], 24)).toEqual([0, 1, 2, 0]);
    expect(lanes([10, 50], 24)).toEqual([0, 0]);
  });

  it('names every day of a week, Mondays of a month, months beyond', () => {
    expect(ticks('2026-06-15', 7)).toHaveLength(8);
    expect(ticks('2026-06-15', 31).map((t) => t.days)).toEqual([0, 7, 14, 21, 28]);
    expect(ticks('2026-06-15', 183).map((t) => t.label)).toEqual(['Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'].map((m) => expect.stringMatching(m.slice(0, 3))));
  });
});

describe('the horizon', () => {
  const open = (more: object = {}, role = 'lead', data: object = WITH) => {
    const calls = serve({ 'GET /api/plan/horizon': data, 'POST /api/plan/visits/trial': VISIT, ...more });
    show(<HorizonPage />, { role });
    return calls;
  };
  const bracket = () => screen.findByRole('button', { name: /Proposed visit, Old 4x4, gearbox/ });

  it('moves a visit by the keys, shows what the day means, and agrees it', async () => {
    const calls = open({
      'POST /api/plan/visits': (call: { path: string }) => (call.path.endsWith('trial') ? { body: VISIT } : { status: 201, body: { id: 7 } }),
    });
    const visit = await bracket();
    fireEvent.focus(visit);
    fireEvent.keyDown(visit, { key: 'ArrowRight' });
    fireEvent.keyDown(visit, { key: 'ArrowRight', shiftKey: true });
    expect(await screen.findByText(/12 days early, throws away 3 %, /)).toBeInTheDocument();
    await waitFor(() => expect(calls.some((c) => c.path.endsWith('trial') && (c.body as { on: string }).on === dayAfter(horizon.today, 18))).toBe(true));
    await userEvent.click(screen.getByRole('button', { name: 'Agree this visit' }));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST' && c.path === '/api/plan/visits')?.body).toMatchObject({ on: dayAfter(horizon.today, 18), vehicle_id: 1 }),
    );
  });

  it('says what speaks against a day, and does not agree it', async () => {
    open({ 'POST /api/plan/visits/trial': { ...VISIT, problem: 'The workshop is closed on Saturday 27 June.' } });
    fireEvent.focus(await bracket());
    expect(await screen.findByText(/closed on Saturday/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Agree this visit' })).toBeDisabled();
  });

  it('moves and drops an agreed one, and keeps it when the server refuses', async () => {
    const agreed = { ...horizon, rows: horizon.rows.map((r) => ({ ...r, planned: [{ ...VISIT, id: 5 }] })) };
    const calls = open(
      {
        'PATCH /api/plan/visits/5': () => ({ status: 409, body: problem('gate-closed', 'It takes 1.6 h; 1.0 h are left on that day.', 409) }),
        'DELETE /api/plan/visits/5': { id: 5 },
      },
      'lead',
      agreed,
    );
    const visit = await screen.findByRole('button', { name: /Agreed visit/ });
    fireEvent.focus(visit);
    fireEvent.keyDown(visit, { key: 'ArrowLeft' });
    await userEvent.click(await screen.findByRole('button', { name: 'Move it here' }));
    expect(await screen.findByText(/1.0 h are left/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Drop it' }));
    await waitFor(() => expect(calls.some((c) => c.method === 'DELETE')).toBe(true));
  });

  it('lets a technician look and start, not plan', async () => {
    open({}, 'technician');
    fireEvent.focus(await bracket());
    expect(await screen.findByRole('link', { name: 'Start it now' })).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Agree this visit' })).toBeNull();
  });

  it('gives a secret link once, and revokes it', async () => {
    let since: string | null = null;
    const calls = open({
      'GET /api/plan/calendar': () => ({ body: { since, path: '' } }),
      'POST /api/plan/calendar': () => {
        since = '2026-06-15T10:00:00Z';
        return { status: 201, body: { since, path: '/calendar/secret.ics' } };
      },
      'DELETE /api/plan/calendar': () => {
        since = null;
        return { body: { since, path: '' } };
      },
    });
    await userEvent.click(await screen.findByRole('button', { name: 'Calendar' }));
    expect(await screen.findByText('You have no link yet.')).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Make a link' }));
    expect(await screen.findByLabelText('Your secret link')).toHaveValue('http://localhost:3000/calendar/secret.ics');
    await userEvent.click(await screen.findByRole('button', { name: 'Revoke it' }));
    expect(await screen.findByText('You have no link yet.')).toBeInTheDocument();
    expect(calls.filter((c) => c.method !== 'GET' && c.path === '/api/plan/calendar')).toHaveLength(2);
  });

  it('changes bay hours and closed days with a reason, and keeps what was typed when refused', async () => {
    const bay = { hours_per_day: 8, closed_weekdays: [5, 6], closed_days: [], visit_hours: 0.75, oil_hours: 0.1, late_days: 14, bays: 1 };
    let tries = 0;
    const calls = open({
      'GET /api/plan/bay': bay,
      'POST /api/plan/bay': () =>
        tries++ === 0 ? { status: 422, body: problem('inconsistent', 'Say why it changes.', 422, 'why') } : { body: { ...bay, hours_per_day: 6 } },
    });
    await userEvent.click(await screen.findByRole('button', { name: 'Bay hours' }));
    fireEvent.change(await screen.findByLabelText('Hours a day in each bay'), { target: { value: '6' } });
    fireEvent.change(screen.getByLabelText('Bays'), { target: { value: '2' } });
    await userEvent.click(screen.getByRole('checkbox', { name: 'closed on Saturdays' }));
    await day('Also closed on', '2026-12-24');
    await userEvent.click(screen.getByRole('button', { name: 'Close that day' }));
    await userEvent.click(screen.getByRole('button', { name: 'Change it' }));
    expect((await screen.findAllByText('Say why it changes.')).length).toBeGreaterThan(0);
    expect(screen.getByLabelText('Hours a day in each bay')).toHaveValue('6');
    fireEvent.change(screen.getByLabelText('Why'), { target: { value: 'winter' } });
    await userEvent.click(screen.getByRole('button', { name: 'Change it' }));
    await waitFor(() =>
      expect(calls.filter((c) => c.method === 'POST' && c.path === '/api/plan/bay')[1]?.body).toEqual({
        hours_per_day: 6,
        bays: 2,
        closed_weekdays: [6],
        closed_days: ['2026-12-24'],
        why: 'winter',
      }),
    );
  });

  it('sums oil and hours by month', async () => {
    const months = [
      { first: '2026-06-01', visits: 1, hours: 1.6, oils: [{ oil: 'Light', litres: 1.85 }] },
      {
        first: '2026-07-01',
        visits: 1,
        hours: 2.4,
        oils: [
          { oil: 'Light', litres: 1.85 },
          { oil: '', litres: 1.5 },
        ],
      },
    ];
    expect(oilsOf(months).map(([oil]) => oil)).toEqual(['Light', '']);
    open({}, 'lead', { ...WITH, months });
    expect(await screen.findByRole('rowheader', { name: 'not known yet' })).toBeInTheDocument();
    expect(screen.getByRole('cell', { name: /3.700.mL/ })).toBeInTheDocument();
    expect(screen.getByRole('cell', { name: '4.0 h' })).toBeInTheDocument();
  });

  it("puts a visit into a bay of one's choice where there are several", async () => {
    const calls = open({ 'POST /api/plan/visits/trial': VISIT, 'POST /api/plan/visits': { status: 201, body: { id: 4 } } }, 'lead', { ...WITH, bays: 2 });
    fireEvent.focus(await screen.findByRole('button', { name: /Proposed visit, Old 4x4/ }));
    await userEvent.selectOptions(await screen.findByLabelText('Bay'), 'bay 2');
    fireEvent.change(screen.getByLabelText('Note for the visit'), { target: { value: 'before the ferry' } });
    await userEvent.click(await screen.findByRole('button', { name: 'Agree this visit' }));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST' && c.path === '/api/plan/visits')?.body).toMatchObject({ bay: 2, note: 'before the ferry' }),
    );
  });

  it('shows how the visits came about', async () => {
    open({}, 'lead', WITH);
    await userEvent.click(await screen.findByRole('button', { name: 'How?' }));
    expect(await screen.findByText(/exact over all subsets up to 12 changes/)).toBeInTheDocument();
  });

  it('draws looks that no visit takes along, and says which vehicle wants a reading', async () => {
    const look = { id: 8, compartment: 'Rear axle', what: 'Look again: whiskers', on: dayAfter(horizon.today, 20), stop: false };
    open({}, 'lead', { ...WITH, matching: 900, rows: WITH.rows.map((r) => ({ ...r, looks: [look], wants_reading: true })) });
    expect(await screen.findByText('reading wanted')).toBeInTheDocument();
    expect(screen.getByText(/Look again: rear axle, Look again: whiskers/)).toBeInTheDocument();
    expect(screen.getByText(/The 1 soonest of 900 vehicles are shown/)).toBeInTheDocument();
  });

  it('weighs a drum against bottles over the year', () => {
    const km = (v: number | null | undefined) => `${(v ?? 0) / 1000} L`;
    const drum = {
      pack: { size_ml: 20_000, price: 118 },
      year_ml: 24_000,
      drum_cost: 236,
      packs_cost: 170,
      break_even_services: 9,
      pays: false,
      working: { formula: '', inputs: [], source: '' },
    };
    const oil = { oil: 'Corrie', litres: 24, changes: 8, drum };
    expect(drumSentence(oil, km)).toBe("Corrie: a drum of 20 L does not pay yet: 170.00 in bottles for a year's 24 L, the drum from 9 changes on.");
    expect(drumSentence({ ...oil, drum: { ...drum, pays: true, drum_cost: 118 } }, km)).toMatch(/pays: 118.00 against 170.00/);
    expect(drumSentence({ ...oil, drum: null }, km)).toBe('');
  });

  it('has an empty state', async () => {
    open({}, 'lead', { ...horizon, rows: [] });
    expect(await screen.findByText('Nothing falls due')).toBeInTheDocument();
  });
});
