import { ThemeProvider } from '@mui/material/styles';
import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { makeTheme } from '../app/theme';
import { oilColour } from './oil';
import { glassSentence, oilHeight, SightGlass } from './SightGlass';

const STATES = ['fine', 'soon', 'due', 'overdue', 'unknown', 'stop'];
const draw = (props: Parameters<typeof SightGlass>[0]) =>
  render(
    <ThemeProvider theme={makeTheme('day')}>
      <SightGlass {...props} />
    </ThemeProvider>,
  ).container;

describe('sight glass', () => {
  it('falls as life is used, reaches the low mark when due, and never runs quite dry', () => {
    const heights = [0, 0.25, 0.5, 0.9, 1, 1.1, 2, 9].map(oilHeight);
    expect([...heights].sort((a, b) => b - a)).toEqual(heights);
    expect(oilHeight(1)).toBeCloseTo(0.2);
    expect(oilHeight(9)).toBeGreaterThan(0);
  });

  it('tells every state by its ring without colour', () => {
    const rings = STATES.map((state) => {
      const svg = draw({ state, used: 0.5 });
      const circle = [...svg.querySelectorAll('svg > circle')].pop();
      const shape = `${circle?.getAttribute('stroke-dasharray')}|${svg.querySelectorAll('svg > path').length}|${svg.querySelector('text')?.textContent ?? ''}`;
      return shape;
    });
    expect(new Set(rings).size).toBe(STATES.length);
  });

  it('says in words what it draws', () => {
    draw({ state: 'soon', used: 0.93, colour: 'brown', level: 2, title: 'Gearbox' });
    expect(screen.getByRole('img')).toHaveAccessibleName('Gearbox: due soon, 7 % of the interval left, oil last seen brown, debris 2 (watch)');
    expect(glassSentence({ state: 'unknown', used: 1 })).toBe('no record: counts as due');
  });

  it('draws more specks for a higher level, and chunks from 3 on', () => {
    const counts = [0, 1, 2, 3, 4].map((level) => {
      const svg = draw({ state: 'fine', used: 0.4, level, size: 96 });
      return svg.querySelectorAll('g g circle').length + 10 * svg.querySelectorAll('g g path').length;
    });
    expect([...counts].sort((a, b) => a - b)).toEqual(counts);
    expect(new Set(counts).size).toBe(5);
  });

  it('tints by family and darkens with use', () => {
    expect(oilColour('atf', 'fresh')).not.toBe(oilColour('gear', 'fresh'));
    expect(oilColour('gear', 'never heard of')).toBe(oilColour('gear', 'fresh'));
  });
});
