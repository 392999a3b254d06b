import { fireEvent, screen, waitFor } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { describe, expect, it } from 'vitest';
import details from '../../../../../tests/fixtures/vehicle-details.json';
import { serve, show } from '../../../testing';
import { MergePage } from './MergePage';
import { Readings } from './Readings';

const view = {
  kept_id: 1,
  kept: 'Old 4x4',
  other_id: 2,
  other: '4x4 old',
  rows: [{ what: 'Note', kept: '', other: 'in the other folder', after: 'in the other folder' }],
  pairs: [
    { other_id: 21, other: 'Gear box', kind: 'manual gearbox', kept_id: 5, kept: 'Gearbox', changes: 1, may: [5] },
    { other_id: 22, other: 'Winch gear', kind: 'axle', kept_id: null, kept: '', changes: 0, may: [6] },
  ],
  readings: 1,
  twice: 2,
  contrary: 1,
  changes: 1,
  twins: ['Gear box, 15 Jun 2025: Light'],
  doubts: ['They have two plates, SK 1 and SK 2.'],
  problem: '',
};
const pages = (
  <Routes>
    <Route path="/due/vehicle/:vehicle/merge/:other" element={<MergePage />} />
    <Route path="/due/vehicle/:vehicle" element={<h1>the vehicle</h1>} />
  </Routes>
);
const at = { path: '/due/vehicle/1/merge/2' };

describe('two vehicles that are one', () => {
  it('stand side by side with what comes, what both have, what contradicts; each compartment goes where it is said to go', async () => {
    const calls = serve({
      'GET /api/vehicles/1/merge/2': view,
      'GET /api/vehicles/1': {
        ...details,
        compartments: [
          { ...details.compartments[0], id: 5, name: 'Gearbox' },
          { ...details.compartments[0], id: 6, name: 'Rear axle' },
        ],
      },
      'POST /api/vehicles/1/merge/2': () => ({ status: 201, body: { id: 9 } }),
    });
    show(pages, at);
    expect(await screen.findByRole('row', { name: 'Note in the other folder in the other folder' })).toBeInTheDocument();
    expect(screen.getByText('Both have Gear box, 15 Jun 2025: Light: said once afterwards, the other one stands as void.')).toBeInTheDocument();
    expect(screen.getByText('2 readings stand in both: once afterwards.')).toBeInTheDocument();
    expect(screen.getByText(/^one reading of 4x4 old contradicts/)).toBeInTheDocument();
    expect(screen.getByRole('note')).toHaveTextContent('They have two plates, SK 1 and SK 2.');
    await screen.findByRole('option', { name: 'Rear axle' });
    fireEvent.change(screen.getByLabelText('Winch gear is'), { target: { value: '6' } });
    fireEvent.click(screen.getByRole('button', { name: 'Make them one' }));
    await screen.findByText('the vehicle');
    expect(calls.find((c) => c.method === 'POST')?.body).toEqual({
      pairs: [
        { other_id: 21, kept_id: 5 },
        { other_id: 22, kept_id: 6 },
      ],
    });
  });

  it('are not made one where that cannot be', async () => {
    serve({
      'GET /api/vehicles/1/merge/2': { ...view, problem: 'Old 4x4 counts km, 4x4 old counts h: they cannot be the same.' },
      'GET /api/vehicles/1': details,
    });
    show(pages, at);
    expect((await screen.findAllByRole('note'))[0]).toHaveTextContent('they cannot be the same');
    expect(screen.getByRole('button', { name: 'Make them one' })).toBeDisabled();
  });
});

describe('a mistyped reading', () => {
  it('is set right with what was wrong', async () => {
    const row = { id: 8, on: '2026-06-01', value: 71_700, swap: false, duty: '', source: 'typed', by: 'Isla', void: '' };
    const calls = serve({
      'GET /api/vehicles/1/readings': [row],
      'GET /api/words': { duties: {} },
      'POST /api/bench/read': { value: 71_070, shown: '71 070 km', systems: [], working: { formula: '', inputs: [], source: '' } },
      'POST /api/readings/8/correct': () => ({ status: 201, body: { id: 9 } }),
    });
    show(<Readings vehicle={1} meter="km" />);
    fireEvent.click(await screen.findByRole('button', { name: /^Set it right/ }));
    fireEvent.change(screen.getByLabelText('It was'), { target: { value: '71 070 km' } });
    fireEvent.change(screen.getByLabelText('What was wrong'), { target: { value: 'a digit slipped' } });
    fireEvent.click(screen.getByRole('button', { name: 'Set it right' }));
    await waitFor(() =>
      expect(calls.find((c) => c.path === '/api/readings/8/correct')?.body).toMatchObject({ value: '71 070 km', on: '2026-06-01', reason: 'a digit slipped' }),
    );
  });
});
