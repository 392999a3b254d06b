import { describe, expect, it } from 'vitest';
import { newId } from '../../app/ids';
import { minutes } from '../../app/timers';
import { titleOf } from './guide/StepList';
import type { Step } from './guide/service';

describe('bay', () => {
  it('makes ids that are random uuids', () => {
    const ids = Array.from({ length: 50 }, newId);
    expect(new Set(ids).size).toBe(50);
    for (const id of ids) expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  });

  it('leaves the compartment out of a title when there is only one', () => {
    const step = { title: 'Gearbox: pan under, drain plug out', task: 'pan under, drain plug out', compartment: '4' } as Step;
    expect(titleOf(step, false)).toBe('Pan under, drain plug out');
    expect(titleOf(step, true)).toBe('Gearbox: pan under, drain plug out');
  });

  it('shows a timer in minutes and seconds', () => {
    expect(minutes(462)).toBe('07:42');
    expect(minutes(-3)).toBe('00:00');
  });
});
