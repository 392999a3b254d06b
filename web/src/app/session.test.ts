import { describe, expect, it } from 'vitest';
import session from '../../../tests/fixtures/session.json';
import { Refused, sentence } from './api';
import { grouped, nearDate, showIn } from './session';

describe('amounts for the eye', () => {
  it('groups digits with a space that does not break', () => {
    expect(grouped(1840, 0)).toBe('1\u00a0840');
    expect(grouped(1234567.891, 2)).toBe('1\u00a0234\u00a0567.89');
    expect(grouped(-3, 0)).toBe('−3');
    expect(grouped(-0.2, 0)).toBe('0');
  });

  it('uses the table that the server gave', () => {
    expect(showIn(session.units, 1840, 'volume')).toEqual({ figure: '1\u00a0840', unit: 'mL' });
    expect(showIn(session.units, 12.5, 'volume').figure).toBe('12.5'); // what a hub gear takes
    expect(showIn(session.units, 12.4538, 'volume').figure).toBe('12'); // computed: no finer than it is known
    const us = session.units.map((u) => (u.kind === 'volume' ? { ...u, label: 'US qt', factor: 1 / 946.352946, decimals: 2, fine_below: 0 } : u));
    expect(showIn(us, 946.352946, 'volume')).toEqual({ figure: '1.00', unit: 'US qt' });
    const warm = session.units.map((u) => (u.kind === 'temperature' ? { ...u, label: '°F', factor: 1.8, offset: 32 } : u));
    expect(showIn(warm, 40, 'temperature').figure).toBe('104');
  });

  it('says the year only when it is far', () => {
    expect(nearDate('2026-12-13', '2026-11-25')).toBe('13 Dec');
    expect(nearDate('2028-12-13', '2026-11-25')).toBe('Dec 2028');
  });
});

describe('refusals', () => {
  const refused = new Refused({
    type: '/problems/ambiguous',
    title: '',
    status: 422,
    detail: 'US or imperial?',
    errors: [{ field: 'pan_ml', message: 'US or imperial?' }],
  });
  it('carry the field, the kind and one sentence', () => {
    expect(refused.at('pan_ml')).toBe('US or imperial?');
    expect(refused.at('other')).toBe('');
    expect(refused.kind).toBe('ambiguous');
    expect(sentence(refused)).toBe('US or imperial?');
  });
});
