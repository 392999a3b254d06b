/** Writing a sheet: what is needed now stands open, a kind brings what is its own, a fold says what is in it and opens where it is wrong. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import words from '../../../../../tests/fixtures/words.json';
import { problem, reads, serve, show } from '../../../testing';
import Shelf from '..';
import { LAYERS, saidOf, wrongIn } from './layers';
import { blankSheet, ofKind, type SheetDraft } from './sheetDraft';

const kinds = words.kinds;
const as = (d: SheetDraft, kind: SheetDraft['kind']) => ({ ...d, ...ofKind(d, kind, kinds) });

describe('a kind of compartment', () => {
  it('brings its own plugs, filling and oil', () => {
    const blower = as(blankSheet(), 'supercharger');
    expect(blower).toMatchObject({ family: 'ester turbine', fill: 'measured', drain: 'suction', warmUp: false });
    expect(blower.plugs.map((p) => [p.role, p.label])).toEqual([['fill', 'filler screw']]);
    const back = as(blower, 'manual gearbox');
    expect(back).toMatchObject({ family: 'gear', fill: 'to the lip', drain: 'plug', warmUp: true });
    expect(back.plugs.map((p) => p.role)).toEqual(['fill', 'drain']);
  });

  it.each(kinds.map((k) => k.name))('of every name fits the form: %s', (name) => {
    const d = as(blankSheet(), name as SheetDraft['kind']);
    const kind = kinds.find((k) => k.name === name);
    expect([d.fill, d.drain, d.wetClutch]).toEqual([kind?.fill_method, kind?.drain_method, kind?.wet_clutch]);
    expect(d.plugs.some((p) => p.role === 'drain')).toBe(kind?.drain_method === 'plug');
  });

  it('leaves what was written otherwise as it was written', () => {
    const typed = { ...blankSheet(), fill: 'dipstick' as const, plugs: blankSheet().plugs.map((p) => ({ ...p, torque: '30 N·m' })) };
    const d = as(typed, 'supercharger');
    expect(d.fill).toBe('dipstick');
    expect(d.plugs).toBe(typed.plugs);
    expect(d.drain).toBe('suction');
  });
});

describe('a fold', () => {
  it('says what is filled in, and only that', () => {
    const d = { ...blankSheet(), approvals: 'F-3', hypoid: true, yellow: 'yes' as const, modifier: '110 mL', cycles: '3', km: '40 000 km' };
    expect(saidOf('oil', d)).toEqual(['F-3', 'brass: yes', 'hypoid', 'modifier 110 mL']);
    expect(saidOf('inside', d)).toEqual(['3 cycles']);
    expect(saidOf('interval', d)).toEqual(['40 000 km']);
    expect(saidOf('inside', blankSheet())).toEqual([]);
    for (const key of Object.keys(LAYERS) as (keyof typeof LAYERS)[]) expect(saidOf(key, blankSheet()).every((s) => s.trim())).toBe(true);
  });

  it('knows its fields and those of its rows', () => {
    expect(wrongIn('kit', ['kit.2.count'])).toBe(true);
    expect(wrongIn('kit', ['kitchen', 'name'])).toBe(false);
    expect(wrongIn('inside', ['total_ml'])).toBe(true);
  });
});

describe('the form', () => {
  beforeEach(() => sessionStorage.clear());
  const open = (answer: object = { id: 9 }) => {
    const calls = serve({ 'GET /api/words': words, 'POST /api/bench/read': reads, 'POST /api/sheets': answer });
    show(<Shelf />, { path: '/new', role: 'lead' });
    return calls;
  };

  it('is written from kind, capacity, oil and plugs alone', async () => {
    const calls = open();
    fireEvent.change(await screen.findByLabelText('Name of the sheet'), { target: { value: 'Blower' } });
    await screen.findByRole('option', { name: 'supercharger' });
    await userEvent.selectOptions(screen.getByLabelText('Kind of compartment'), 'supercharger');
    fireEvent.change(screen.getByLabelText('Service capacity'), { target: { value: '140 mL' } });
    expect(screen.queryByRole('button', { name: 'Take out drain plug' })).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Write the sheet' }));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST' && c.path === '/api/sheets')?.body).toMatchObject({
        kind: 'supercharger',
        family: 'ester turbine',
        fill_method: 'measured',
        drain_method: 'suction',
        plugs: [{ role: 'fill', label: 'filler screw', seal: 'PTFE tape' }],
      }),
    );
  });

  it('opens the fold in which something is wrong, and keeps what was typed', async () => {
    const message = 'total_ml is 1, allowed is 5 to 120000 mL.';
    open(() => ({ status: 422, body: { ...problem('out-of-range', message, 422), errors: [{ field: 'total_ml', message, allowed: '' }] } }));
    fireEvent.change(await screen.findByLabelText('Name of the sheet'), { target: { value: 'Odd' } });
    const fold = screen.getByRole('button', { name: /What stays inside/ });
    expect(fold).toHaveAttribute('aria-expanded', 'false');
    await userEvent.click(fold);
    fireEvent.change(screen.getByLabelText('Dry capacity'), { target: { value: '1 mL' } });
    await userEvent.click(fold);
    expect(fold).toHaveTextContent('dry 1 mL');
    await userEvent.click(screen.getByRole('button', { name: 'Write the sheet' }));
    await waitFor(() => expect(fold).toHaveAttribute('aria-expanded', 'true'));
    expect(screen.getByLabelText('Dry capacity')).toHaveValue('1 mL');
    expect(screen.getAllByText(message).length).toBeGreaterThan(0);
  });
});
