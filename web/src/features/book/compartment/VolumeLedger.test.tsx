import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import history from '../../../../../tests/fixtures/history.json';
import session from '../../../../../tests/fixtures/session.json';
import type { Schemas } from '../../../app/api';
import { makeTheme } from '../../../app/theme';
import { ledgerPoints, places, VolumeLedger } from './VolumeLedger';

const records = history.records as unknown as Schemas['RecordView'][];

describe('volume ledger', () => {
  it('keeps dates apart and in order, inside the frame', () => {
    const xs = places([0, 1, 2, 400].map((d) => d * 86_400_000));
    for (let k = 1; k < xs.length; k++) expect((xs[k] ?? 0) - (xs[k - 1] ?? 0)).toBeGreaterThanOrEqual(107.9);
    expect(Math.max(...xs)).toBeLessThan(850);
    const many = places(Array.from({ length: 30 }, (_, k) => k));
    expect(Math.min(...many)).toBeGreaterThan(78);
  });

  it('joins each drain to the fill before it', () => {
    const points = ledgerPoints(records);
    expect(points[0]?.last).toBeNull();
    expect(points[1]?.last?.in).toBe(records[0]?.net_in_15_ml);
    expect(points[1]?.loss).toBeGreaterThan(0);
  });

  it('draws the loss, and says it to those who do not see it', () => {
    const cache = new QueryClient({ defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY } } });
    cache.setQueryData(['session'], session);
    render(
      <QueryClientProvider client={cache}>
        <ThemeProvider theme={makeTheme('day')}>
          <VolumeLedger records={records} family="gear" meter="km" />
        </ThemeProvider>
      </QueryClientProvider>,
    );
    expect(screen.getByText(/−\d+\smL/)).toBeInTheDocument();
    expect(screen.getByRole('img').getAttribute('aria-label')).toMatch(/out, .* in/);
  });

  it('has an empty state', () => {
    const cache = new QueryClient();
    cache.setQueryData(['session'], session);
    render(
      <QueryClientProvider client={cache}>
        <ThemeProvider theme={makeTheme('night')}>
          <VolumeLedger records={[]} family="gear" meter="km" />
        </ThemeProvider>
      </QueryClientProvider>,
    );
    expect(screen.getByText(/No amount is on record/)).toBeInTheDocument();
  });
});
