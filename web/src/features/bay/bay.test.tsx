import { ThemeProvider } from '@mui/material/styles';
import { fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { makeTheme } from '../../app/theme';
import { minutes } from '../../app/timers';
import { Finding, type FindingDraft, NOTHING } from './Inspect';
import { titleOf } from './StepList';
import { newId, type Step } from './useService';

function Taps({ seen }: { seen: (f: FindingDraft) => void }) {
  const [value, setValue] = useState(NOTHING);
  return (
    <ThemeProvider theme={makeTheme('day')}>
      <Finding
        value={value}
        family="gear"
        onChange={(next) => {
          setValue(next);
          seen(next);
        }}
      />
    </ThemeProvider>
  );
}

describe('bay', () => {
  it('makes ids that are random uuids', () => {
    const ids = Array.from({ length: 50 }, newId);
    expect(new Set(ids).size).toBe(50);
    for (const id of ids) expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  });

  it('leaves the compartment out of a title when there is only one', () => {
    const step = { title: 'Gearbox: pan under, drain plug out', compartment: '4' } as Step;
    expect(titleOf(step, false)).toBe('Pan under, drain plug out');
    expect(titleOf(step, true)).toBe('Gearbox: pan under, drain plug out');
  });

  it('shows a timer in minutes and seconds', () => {
    expect(minutes(462)).toBe('07:42');
    expect(minutes(-3)).toBe('00:00');
  });

  it('takes a finding by tapping, and a second tap takes it back', () => {
    let last: FindingDraft = NOTHING;
    render(
      <Taps
        seen={(f) => {
          last = f;
        }}
      />,
    );
    fireEvent.click(screen.getByRole('button', { name: /magnet: cap/ }));
    fireEvent.click(screen.getByRole('button', { name: /^yellow, a few/ }));
    fireEvent.click(screen.getByRole('button', { name: /^chips/ }));
    fireEvent.click(screen.getByRole('radio', { name: 'Milky' }));
    expect(last.magnet).toBe('cap');
    expect(last.clarity).toBe('milky');
    expect(last.particles?.map((p) => p.metal)).toEqual(['yellow', 'steel']);
    fireEvent.click(screen.getByRole('button', { name: /^yellow, many/ }));
    expect(last.particles?.filter((p) => p.metal === 'yellow').map((p) => p.count)).toEqual([40]);
    fireEvent.click(screen.getByRole('button', { name: /^yellow, many/ }));
    fireEvent.click(screen.getByRole('button', { name: /^chips/ }));
    expect(last.particles).toBeNull(); // nothing noted is not the same as nothing there
    fireEvent.click(screen.getByRole('button', { name: /^no particles/ }));
    expect(last.particles).toEqual([]);
  });
});
