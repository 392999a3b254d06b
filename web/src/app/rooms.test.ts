/** Fetching stands apart from drawing: no component that does both is longer than a page. */
import { describe, expect, it } from 'vitest';

const FILES = import.meta.glob('../**/*.tsx', { query: '?raw', import: 'default', eager: true }) as Record<string, string>;
const MOST_LINES = 150;

describe('components', () => {
  it.each(Object.entries(FILES).filter(([path]) => !path.endsWith('.test.tsx')))('%s draws, or is short', (_, text) => {
    const fetches = /\buse(Query|Mutation)\(/.test(text);
    expect(fetches && text.split('\n').length > MOST_LINES).toBe(false);
  });
});
