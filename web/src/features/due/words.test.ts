import { describe, expect, it } from 'vitest';
import board from '../../../../tests/fixtures/due.json';
import type { Schemas } from '../../app/api';
import { glassNote } from '../../ui/glassNote';
import { dueSentence, proposal } from './words';

const due = board as unknown as Schemas['DueBoard'];
const show = (value: number | null | undefined, kind: string) => `${Math.round(value ?? 0)} ${kind === 'engine_hours' ? 'h' : 'km'}`;
const [vehicle] = due.vehicles;
const [leaking, rear] = vehicle?.compartments ?? [];
const gearbox = leaking && { ...leaking, state: 'fine' };

describe('words of Due', () => {
  if (!vehicle || !gearbox || !rear) throw new Error('the fixture has a vehicle with two compartments');

  it('says what is left, or by how much it is over', () => {
    expect(glassNote(rear, 'km', due.today, show)).toBe('no record');
    expect(glassNote({ ...gearbox, limit: 'distance', left: 600 }, 'km', due.today, show)).toBe('600 km');
    expect(glassNote({ ...gearbox, limit: 'distance', left: -1150 }, 'km', due.today, show)).toBe('1150 km over');
    expect(glassNote({ ...gearbox, limit: 'time', left: -20 }, 'km', due.today, show)).toBe('20 days over');
    expect(glassNote({ ...gearbox, state: 'stop' }, 'km', due.today, show)).toBe('do not drive');
    expect(glassNote({ ...gearbox, state: 'repair' }, 'km', due.today, show)).toBe('to be mended');
    expect(glassNote({ ...gearbox, in_service: 3 }, 'km', due.today, show)).toBe('in the bay');
  });

  it('says why, and where the interval is from', () => {
    expect(dueSentence(gearbox, 'km', due.today, show)).toMatch(/^Due by time: .* Interval from the sheet\.$/);
    expect(dueSentence(rear, 'km', due.today, show)).toMatch(/unknown counts as due/);
    expect(dueSentence({ ...gearbox, limit: 'hours', used: 1.1, left: -12, on: '2026-06-01' }, 'h', due.today, show)).toMatch(/^Overdue by hours: .*12 h over/);
  });

  it('proposes what goes together', () => {
    expect(proposal(vehicle)).toBe('No trace: rear axle');
    expect(proposal({ ...vehicle, together: [gearbox.id, rear.id] })).toBe('two together');
    expect(proposal({ ...vehicle, together: [], compartments: [gearbox, rear] })).toMatch(/^Next: /);
    expect(proposal({ ...vehicle, together: [], compartments: [{ ...gearbox, state: 'repair' }] })).toBe('To be mended: gearbox');
    expect(proposal({ ...vehicle, state: 'stop' })).toMatch(/lead/);
  });
});
