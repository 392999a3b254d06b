/** Writing a sheet: what is needed now stands open, a kind brings what is its own, a fold says what is in it and opens where it is wrong. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import declared from '../../../../../tests/fixtures/declared.json';
import words from '../../../../../tests/fixtures/words.json';
import { problem, reads, serve, show } from '../../../testing';
import Shelf from '..';
import { GROUPS, rowsSaid, saidOf, shown, wrongIn } from './layers';
import { blankSheet, ofKind, type SheetDraft } from './sheetDraft';

const WORDS = { sheet: declared, kinds: words.kinds };
const as = (d: SheetDraft, kind: string) => ({ ...d, ...ofKind(d, kind, words.kinds) });
const blank = () => blankSheet(WORDS);
const stated = (figures: Record<string, string>): SheetDraft => ({ ...blank(), figures: { ...blank().figures, ...figures } });

describe('a kind of compartment', () => {
  it('brings its own plugs, filling and oil', () => {
    const blower = as(blank(), 'supercharger');
    expect(blower.figures).toMatchObject({ family: 'ester turbine', fill_method: 'measured', drain_method: 'suction', warm_up: 'no' });
    expect(blower.plugs.map((p) => [p.role, p.label])).toEqual([['fill', 'filler screw']]);
    const back = as(blower, 'manual gearbox');
    expect(back.figures).toMatchObject({ family: 'gear', fill_method: 'to the lip', drain_method: 'plug', warm_up: 'yes' });
    expect(back.plugs.map((p) => p.role)).toEqual(['fill', 'drain']);
  });

  it.each(words.kinds)('of every name fits the form: $name', (kind) => {
    const d = as(blank(), kind.name);
    expect([d.figures.fill_method, d.figures.drain_method, d.figures.wet_clutch]).toEqual([
      kind.fill_method,
      kind.drain_method,
      kind.wet_clutch ? 'yes' : 'no',
    ]);
    expect(d.plugs.some((p) => p.role === 'drain')).toBe(kind.drain_method === 'plug');
  });

  it('leaves what was written otherwise as it was written', () => {
    const typed = { ...stated({ fill_method: 'dipstick' }), plugs: blank().plugs.map((p) => ({ ...p, torque_nm: '30 N·m' })) };
    const d = as(typed, 'supercharger');
    expect(d.figures.fill_method).toBe('dipstick');
    expect(d.plugs).toBe(typed.plugs);
    expect(d.figures.drain_method).toBe('suction');
  });

  it('is asked only for the figures that it has, and for what is stated all the same', () => {
    const names = (d: SheetDraft) => shown(d, WORDS).map((f) => f.name);
    expect(names(as(blank(), 'automatic'))).not.toContain('flush_ml');
    expect(names(as(blank(), 'hub gear'))).toContain('flush_ml');
    expect(names(as(stated({ flush_ml: '20 mL' }), 'automatic'))).toContain('flush_ml');
  });
});

describe('a fold', () => {
  it('says what is filled in, and only that', () => {
    const d = stated({ approvals: 'F-3', hypoid: 'yes', yellow_metal: 'yes', modifier_ml: '110 mL', exchange_cycles: '3', interval_km: '40 000 km' });
    expect(saidOf('oil more', d, WORDS)).toEqual(['hypoid', 'brass: yes', 'modifier 110 mL', 'F-3']);
    expect(saidOf('inside', d, WORDS)).toEqual(['3 cycles']);
    expect(saidOf('interval', d, WORDS)).toEqual(['40 000 km']);
    expect(saidOf('level', stated({ warm_up: 'no', drain_minutes: '12' }), WORDS)).toEqual(['drips for 12 min', 'not drained warm']);
    for (const key of Object.keys(GROUPS)) expect(saidOf(key, blank(), WORDS)).toEqual([]);
    expect(saidOf('ways', blank(), WORDS)).toEqual(['filled: to the lip', 'drained by plug']);
    const rows = { ...blank(), ambient: [{ grade: '', min_c: '', max_c: '' }], sources: { oil: { source: 'plate', trust: 'verified', note: '' } } };
    expect([rowsSaid('ambient', rows), rowsSaid('sources', rows), rowsSaid('kit', rows)]).toEqual([['a grade'], ['oil: plate, verified'], []]);
  });

  it('knows its fields and those of its rows', () => {
    expect(wrongIn(['kit', 'hose'], ['kit.2.count'])).toBe(true);
    expect(wrongIn(['kit', 'hose'], ['kitchen', 'name'])).toBe(false);
    expect(wrongIn(['total_ml'], ['total_ml'])).toBe(true);
  });
});

describe('the form', () => {
  beforeEach(() => sessionStorage.clear());
  const open = (answer: object = { id: 9 }) => {
    const calls = serve({ 'GET /api/words': words, 'GET /api/sheets/declared': declared, 'POST /api/bench/read': reads, 'POST /api/sheets': answer });
    show(<Shelf />, { path: '/new', role: 'lead' });
    return calls;
  };

  it('is written from kind, capacity, oil and plugs alone', async () => {
    const calls = open();
    fireEvent.change(await screen.findByLabelText('Name of the sheet'), { target: { value: 'Blower' } });
    await userEvent.selectOptions(screen.getByLabelText('Kind of compartment'), 'supercharger');
    fireEvent.change(screen.getByLabelText('Service capacity'), { target: { value: '140 mL' } });
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Take out drain plug' })).toBeNull());
    await userEvent.click(screen.getByRole('button', { name: 'Write the sheet' }));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST' && c.path === '/api/sheets')?.body).toMatchObject({
        kind: 'supercharger',
        capacity_ml: '140 mL',
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
    expect(screen.getByLabelText('Dry capacity')).toHaveAccessibleDescription(message);
  });

  it('stands as it was typed after a reload, also a row of it', async () => {
    open();
    fireEvent.change(await screen.findByLabelText('Name of the sheet'), { target: { value: 'Half' } });
    await userEvent.click(screen.getByRole('button', { name: 'One more plug' }));
    const again = JSON.parse(sessionStorage.getItem('barodex.new-sheet') ?? '{}');
    expect(again.typed).toMatchObject({ name: 'Half', plugs: [{ role: 'fill' }, { role: 'drain' }, { role: 'level', label: 'level plug' }] });
  });
});
