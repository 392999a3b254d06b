import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import fixture from '../../../../../tests/fixtures/tried.json';
import { serve, show } from '../../../testing';
import { Notches, Tried } from './Tried';

const [oil] = fixture.oils;
const OTHER = {
  ...oil,
  oil: 'Heavy',
  inside: false,
  shift: 3.5,
  shift_gain: -1,
  noise: 4,
  noise_gain: 0.5,
  levels: [1, 2],
  colours: ['black'],
  loss_rate: 12,
  loss_within: 8,
};

describe('oils tried in a compartment', () => {
  it('stand side by side with what the comparison says', async () => {
    serve({ 'GET /api/book/1/tried': { oils: [oil, OTHER], says: ['Shifting: Light (4.5 of 5) before Heavy (3.5).'] } });
    show(<Tried compartment={1} meter="km" family="gear" />);
    expect(await screen.findByRole('heading', { name: 'Heavy' })).toBeInTheDocument();
    expect(screen.getByText(/1\.0 worse than before/)).toBeInTheDocument();
    expect(screen.getByText(/0\.5 better than before/)).toBeInTheDocument();
    expect(screen.getByText(/12 ± 8 mL per/)).toBeInTheDocument();
    expect(screen.getByText(/before Heavy \(3\.5\)/)).toBeInTheDocument();
  });

  it('one oil alone is no comparison', async () => {
    const calls = serve({ 'GET /api/book/1/tried': { oils: [oil], says: [] } });
    const { container } = show(<Tried compartment={1} meter="km" family="gear" />);
    await expect.poll(() => calls.length).toBe(1);
    expect(container.querySelector('h2')).toBeNull();
  });

  it('says so when nobody said how it was', () => {
    show(<Notches value={null} label="Shifting" />);
    expect(screen.getByText('nobody said')).toBeInTheDocument();
  });
});
