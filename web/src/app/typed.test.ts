import { describe, expect, it } from 'vitest';
import { figure, needed, rowKey, share } from './typed';

describe('what is typed as a figure', () => {
  it('is a number where it is one, and the text itself where it is not', () => {
    expect([figure('24'), figure(' 7,5 '), figure('−3'), figure('')]).toEqual([24, 7.5, -3, null]);
    for (const text of ['24 months', '60 %', '1e3', '1.2.3', 'a few']) expect(figure(text)).toBe(text);
    expect(JSON.stringify({ months: figure('24 months') })).toBe('{"months":"24 months"}'); // never null: the server refuses it at its field
  });

  it('reads a share in per cent, with or without the sign', () => {
    expect([share('60'), share('60 %'), share('7,5%'), share('')]).toEqual([0.6, 0.6, 0.075, null]);
    expect(share('most')).toBe('most');
  });

  it('sends what must be there as empty text, never as nothing', () => {
    expect(JSON.stringify({ count: needed(figure('')) })).toBe('{"count":""}');
    expect(needed(figure('3'))).toBe(3);
  });
});

it('gives rows keys that are never twice, also beside those kept from before a reload', () => {
  const keys = Array.from({ length: 500 }, rowKey);
  expect(new Set(keys).size).toBe(500);
  expect(keys).not.toContain('p0');
});
