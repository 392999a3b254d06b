import { describe, expect, it } from 'vitest';
import board from '../../../tests/fixtures/due.json';
import type { Schemas } from './api';
import { hits } from './Find';

const due = board as unknown as Schemas['DueBoard'];

describe('find', () => {
  it('finds a vehicle by name or plate and a compartment by both', () => {
    expect(hits(due, 'old')[0]?.title).toBe('Old 4x4');
    expect(hits(due, 'skr 1')[0]?.title).toBe('Old 4x4');
    expect(hits(due, 'old rear').map((h) => h.title)).toEqual(['Old 4x4, Rear axle']);
  });
  it('finds nothing for nothing', () => {
    expect(hits(due, '  ')).toEqual([]);
    expect(hits(due, 'zeppelin')).toEqual([]);
  });
});
