import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { describe, expect, it } from 'vitest';
import { problem, serve, show } from '../../../testing';
import { ImportPage } from './ImportPage';
import { ImportsPage } from './ImportsPage';
import type { View } from './words';

const wanted = [
  { name: 'vehicle', label: 'Vehicle', of: 'vehicle', units: [] },
  { name: 'on', label: 'Day', of: 'change', units: [] },
  { name: 'meter', label: 'Meter', of: 'reading', units: ['km', 'mi', 'h'] },
  { name: 'poured_ml', label: 'Went in', of: 'change', units: ['mL', 'L'] },
];
const cell = (figure: string, text: string) => ({ figure, label: figure, text });
const bad = {
  key: '0.4',
  table: 0,
  line: 4,
  state: 'problem',
  cells: [cell('vehicle', 'Van'), cell('on', '31.02.2024')],
  adds: [],
  problems: [{ field: 'on', message: '“31.02.2024” is no day of the calendar.' }],
  doubts: [],
  reason: '',
};
const odd = {
  ...bad,
  key: '0.5',
  line: 5,
  state: 'doubt',
  problems: [],
  doubts: [{ field: 'poured_ml', message: '1 200 mL went in, the sheet says 2 000 mL.' }],
};
const good = { ...bad, key: '0.6', line: 6, state: 'new', cells: [cell('vehicle', 'Van')], adds: ['new vehicle Van', 'a change of 01 May 2024'], problems: [] };
const table = {
  number: 0,
  name: 'old.csv',
  rows: 3,
  use: true,
  columns: [
    { heading: 'Fahrzeug', samples: ['Van'], figure: 'vehicle' },
    { heading: 'km-Stand', samples: ['12.000'], figure: 'meter' },
    { heading: 'Farbe', samples: [], figure: '' },
  ],
  units: {},
  order: '',
  decimal: '',
  asks: [] as string[],
};
const view: View = {
  id: 3,
  name: 'old.csv',
  state: 'draft',
  by: 'Isla',
  at: '2026-06-15T10:00:00Z',
  taken_at: null,
  undone_at: null,
  tables: [table],
  brings: [
    { what: 'vehicle', count: 1 },
    { what: 'change', count: 2 },
  ],
  states: [
    { what: 'problem', count: 1 },
    { what: 'doubt', count: 1 },
    { what: 'new', count: 1 },
  ],
  rows: [bad, odd],
  matching: 2,
  mappings: ['Nord'],
  wanted,
};
const ready: View = { ...view, rows: [], matching: 0, states: [{ what: 'new', count: 3 }] };

function open_(now: object = view, routes: object = {}) {
  const calls = serve({ 'GET /api/imports/3': now, 'GET /api/imports': [], ...routes });
  show(
    <Routes>
      <Route path="/book/import" element={<ImportsPage />} />
      <Route path="/book/import/:run" element={<ImportPage />} />
    </Routes>,
    { path: '/book/import/3' },
  );
  return calls;
}
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }));

describe('a spreadsheet that moves in', () => {
  it('says what it brings, and is not taken in while a row waits', async () => {
    open_();
    expect(await screen.findByText('It brings 1 vehicle, 2 changes.')).toBeInTheDocument();
    expect(screen.getByRole('button', { name: '2 rows wait for you' })).toBeDisabled();
    expect(within(screen.getByRole('listitem', { name: 'Line 4' })).getByText(/no day of the calendar/)).toBeInTheDocument();
  });

  it('has a cell repaired in place: the wrong one is offered, what is typed goes to its row', async () => {
    const calls = open_(view, { 'POST /api/imports/3/rows': ready });
    await screen.findByRole('listitem', { name: 'Line 4' });
    press('Repair: line 4');
    expect(screen.getByLabelText('Which cell')).toHaveValue('on');
    fireEvent.change(screen.getByLabelText('What should stand there'), { target: { value: '28.02.2024' } });
    press('So it is');
    expect(await screen.findByText('Nothing waits for you: it can be taken in.')).toBeInTheDocument();
    expect(calls.find((c) => c.method === 'POST')?.body).toEqual({ rows: { '0.4': { cells: { on: '28.02.2024' } } }, skip: false, reason: '' });
  });

  it('takes a doubt with its reason, skips a row, and answers all of a kind at once', async () => {
    const calls = open_(
      {
        ...view,
        states: [
          { what: 'problem', count: 3 },
          { what: 'doubt', count: 2 },
        ],
      },
      { 'POST /api/imports/3/rows': view },
    );
    await screen.findByRole('listitem', { name: 'Line 5' });
    press('It is so: line 5');
    expect(screen.getByRole('button', { name: 'Take it so' })).toBeDisabled();
    fireEvent.change(screen.getByLabelText('Why it is so all the same'), { target: { value: 'topped up' } });
    press('Take it so');
    press('Skip: line 4');
    press('Skip all 3 that are to be repaired');
    await waitFor(() => expect(calls.filter((c) => c.method === 'POST')).toHaveLength(3));
    expect(calls.filter((c) => c.method === 'POST').map((c) => c.body)).toEqual([
      { rows: { '0.5': { reason: 'topped up' } }, skip: false, reason: '' },
      { rows: { '0.4': { skip: true } }, skip: false, reason: '' },
      { all_of: 'problem', skip: true, reason: '' },
    ]);
  });

  it('maps a heading, its unit, and asks where days can be read both ways', async () => {
    const calls = open_({ ...view, tables: [{ ...table, asks: ['order'] }] }, { 'PATCH /api/imports/3': view });
    fireEvent.change(await screen.findByLabelText('Farbe'), { target: { value: 'on' } });
    fireEvent.change(screen.getByLabelText('Unit of meter'), { target: { value: 'mi' } });
    fireEvent.click(screen.getByText('month first: 3/4 is 4 March'));
    await waitFor(() => expect(calls.filter((c) => c.method === 'PATCH')).toHaveLength(3));
    expect(calls.filter((c) => c.method === 'PATCH').map((c) => c.body)).toEqual([
      { table: 0, mapping: { on: 'Farbe' }, kept: '' },
      { table: 0, units: { meter: 'mi' }, kept: '' },
      { table: 0, order: 'month first', kept: '' },
    ]);
  });

  it('is taken in at once and undone at once, with a sentence where it stays', async () => {
    const done = { ...view, state: 'taken', taken_at: '2026-06-15T10:00:00Z', rows: [] };
    let now: object = ready;
    const refused = () => ({ status: 422, body: problem('inconsistent', 'A service stands on what this import brought: it stays.', 422, 'import') });
    open_(() => ({ body: now }), {
      'POST /api/imports/3/take': () => {
        now = done;
        return { body: done };
      },
      'POST /api/imports/3/undo': refused,
    });
    fireEvent.click(await screen.findByRole('button', { name: 'Take them in' }));
    expect(await screen.findByText(/^Taken in on 15 Jun/)).toBeInTheDocument();
    press('Undo the whole import');
    expect(await screen.findByText(/A service stands on what this import brought/)).toBeInTheDocument();
  });

  it('shows the rows of a state, and the pages of many', async () => {
    const calls = open_({ ...view, rows: [good], matching: 120 });
    await screen.findByText('new vehicle Van; a change of 01 May 2024');
    press('1 to take in');
    fireEvent.click(screen.getByRole('button', { name: 'Go to next page' }));
    await waitFor(() => expect(calls.length).toBeGreaterThan(2));
    expect(screen.getByText(/1 to 50 of 120|51 to 100 of 120/)).toBeInTheDocument();
  });
});

it('a file is chosen, and one that is none is refused with a sentence', async () => {
  serve({ 'GET /api/imports': [], 'POST /api/imports': () => ({ status: 422, body: problem('inconsistent', 'The workbook cannot be read.', 422, 'file') }) });
  show(<ImportsPage />);
  await userEvent.upload(await screen.findByLabelText('Spreadsheet'), new File(['x'], 'old.xlsx'));
  expect(await screen.findByText('The workbook cannot be read.')).toBeInTheDocument();
  expect(screen.getByRole('link', { name: 'workbook' })).toHaveAttribute('href', '/api/imports/example?kind=xlsx');
});
