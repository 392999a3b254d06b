import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../../testing';
import { ForecastsPage } from './ForecastsPage';

const tally = (before: number, within: number, after: number, verdict: string) => ({ before, within, after, verdict });
const one = {
  vehicle_id: 3,
  vehicle: 'Old 4x4',
  tally: tally(0, 7, 1, 'few'),
  off: 0.06,
  misses: [{ as_of: '2025-03-01', early: '2025-06-03', late: '2025-07-03', true: '2025-07-20' }],
};

describe('how forecasts came out', () => {
  it.each([
    ['as wanted', 0, /can be believed/],
    ['narrow', 0.05, /too short/],
    ['wide', -0.05, /wider than they need be/],
    ['few', null, /Too few readings/],
  ])('says what a count means: %s', async (verdict, off, words) => {
    serve({ 'GET /api/book/forecasts': { tally: tally(5, 40, 5, verdict), off, quarters: 8, vehicles: [one] } });
    show(<ForecastsPage />);
    expect(await screen.findByText(/Of 50 forecasts/)).toHaveTextContent('40 came out between their first and last day (80 %), 5 sooner, 5 later');
    expect(screen.getByText(words)).toBeInTheDocument();
    expect(screen.getByRole('img', { name: '0 sooner than said, 7 within, 1 later' })).toBeInTheDocument();
    expect(screen.getByText(/Said on 1 Mar 2025: between 3 Jun 2025 and 3 Jul 2025. It was 20 Jul 2025./)).toBeInTheDocument();
  });

  it('leads to readings where there is nothing to hold it against', async () => {
    serve({ 'GET /api/book/forecasts': { tally: tally(0, 0, 0, 'few'), off: null, quarters: 8, vehicles: [] } });
    show(<ForecastsPage />);
    expect(await screen.findByRole('link', { name: 'Enter readings' })).toHaveAttribute('href', '/due/readings');
  });
});
