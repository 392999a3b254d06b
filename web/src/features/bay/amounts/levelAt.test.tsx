/** A level by oil temperature and an exchange, as the Bay shows and sends them. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { describe, expect, it } from 'vitest';
import open from '../../../../../tests/fixtures/open.json';
import pour from '../../../../../tests/fixtures/pour.json';
import atPour from '../../../../../tests/fixtures/service-pour.json';
import { type Call, problem, reads, serve, show } from '../../../testing';
import { ServicePage } from '../guide/ServicePage';
import type { Ledger, Service } from '../guide/service';
import { Cycles, Thermometer } from './Thermometer';

const ledger = atPour.ledgers[0] as unknown as Ledger;
const at = (minute: number, temperature_c: number) => ({ at: `2026-06-15T10:${minute}:00+00:00`, temperature_c });
const warm = { ...ledger, fill_method: 'overflow', window_low_c: 40, window_high_c: 45, readings: [at(10, 24), at(12, 31), at(14, 37)], fresh: 0.62 } as Ledger;
const step = {
  ...(atPour.steps.find((s) => s.id.startsWith('level.')) as object),
  status: 'open',
  why_locked: '',
  window_low_c: 40,
  window_high_c: 45,
  fields: [
    { name: 'temperature_c', kind: 'temperature', label: 'Oil temperature as you close', required: true, choices: [], default_number: null, shown: '' },
    { name: 'engine', kind: 'choice', label: 'The engine is', required: true, choices: ['running', 'off'], default_number: null, shown: '' },
    {
      name: 'outcome',
      kind: 'choice',
      label: 'What you see',
      required: true,
      choices: ['streamed, then only drips', 'nothing comes'],
      default_number: null,
      shown: '',
    },
  ],
} as Service['steps'][number];
const warmup = {
  temperature_c: 37,
  rate_c_per_min: 3,
  settles_at_c: 70,
  tau_s: 600,
  reaches: true,
  opens_in_s: 66,
  opens_sigma_s: 4,
  closes_in_s: 180,
  closes_sigma_s: 8,
  text: '37 °C: 40 to 45 °C opens in 1.1 minutes.',
  working: { formula: 'T(t)', inputs: [], source: 'a textbook' },
};

function bay(part: Partial<Ledger> = {}, routes: object = {}) {
  const view = { ...atPour, current: step.id, steps: atPour.steps.map((s) => (s.id === step.id ? step : s)), ledgers: [{ ...warm, ...part }] };
  const calls = serve({
    [`GET /api/services/${atPour.id}`]: view,
    [`GET /api/services/${atPour.id}/pour`]: pour,
    'GET /api/services': open,
    'POST /api/bench/read': reads,
    [`POST /api/services/${atPour.id}/acts`]: view,
    ...routes,
  });
  show(
    <Routes>
      <Route path="/bay/:service" element={<ServicePage />} />
    </Routes>,
    { path: `/bay/${atPour.id}`, role: 'technician' },
  );
  return calls;
}
const posts = (calls: Call[]) => calls.filter((c) => c.path.endsWith('/acts')).map((c) => c.body as { kind: string; values: object });

describe('a level by temperature', () => {
  it('notes readings and tells when the window opens', async () => {
    const calls = bay({ warmup } as Partial<Ledger>);
    expect(await screen.findByText(/opens in 1.1 minutes/)).toBeInTheDocument();
    expect(screen.getByRole('img', { name: /Oil temperature: 37\s°C, outside the window/ })).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Note the reading' })).toBeDisabled();
    fireEvent.change(screen.getByLabelText('The thermometer shows'), { target: { value: '39.5' } });
    await userEvent.click(screen.getByRole('button', { name: 'Note the reading' }));
    await waitFor(() => expect(posts(calls)[0]).toMatchObject({ kind: 'reading', values: { temperature_c: '39.5' } }));
    await waitFor(() => expect(screen.getByLabelText('The thermometer shows')).toHaveValue(''));
  });

  it('counts oil that was added because nothing came', async () => {
    const calls = bay();
    fireEvent.change(await screen.findByLabelText('Nothing comes? Oil added'), { target: { value: '200 mL' } });
    await userEvent.click(screen.getByRole('button', { name: 'Count it in' }));
    await waitFor(() => expect(posts(calls)[0]).toMatchObject({ kind: 'add', values: { volume_ml: '200 mL' } }));
  });

  it('shows why a level is refused, at its field, and keeps what was typed', async () => {
    bay(
      {},
      {
        [`POST /api/services/${atPour.id}/acts`]: () => ({ status: 409, body: problem('gate-closed', '52 °C is outside 40 to 45 °C.', 409, 'temperature_c') }),
      },
    );
    fireEvent.change(await screen.findByLabelText('Oil temperature as you close'), { target: { value: '52' } });
    await userEvent.click(screen.getByRole('radio', { name: 'running' }));
    await userEvent.click(screen.getByRole('button', { name: 'Level is set, go on' }));
    expect(await screen.findByLabelText('Oil temperature as you close')).toHaveAccessibleDescription('52 °C is outside 40 to 45 °C.');
    expect(screen.getByLabelText('Oil temperature as you close')).toHaveValue('52');
  });
});

describe('the pictures of it', () => {
  it('a thermometer without a reading says so, and inside says inside', () => {
    show(<Thermometer ledger={{ ...warm, readings: [] } as Ledger} />);
    expect(screen.getByRole('img', { name: 'Oil temperature: no reading yet' })).toBeInTheDocument();
    show(<Thermometer ledger={{ ...warm, readings: [at(10, 42)] } as Ledger} />);
    expect(screen.getByRole('img', { name: /42\s°C, inside the window/ })).toBeInTheDocument();
  });

  it('cycles are told with their amounts and the fresh share', () => {
    show(<Cycles ledger={{ ...warm, cycles_planned: 3, cycles: [{ drained_ml: 3800, poured_ml: 3700 }] } as Ledger} />);
    expect(screen.getByRole('img', { name: /1 of 3 cycles done, 62 % fresh; 3\s800\smL out, 3\s700\smL in/ })).toBeInTheDocument();
  });
});
