/** The timer of a step: start, stop, and how long is left; T does the same. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useKeys } from '../../../app/keys';
import { minutes, useServerNow } from '../../../app/timers';
import type { Step } from './service';
import type { useService } from './useService';

/** Seconds left of a step's time, below zero once it is over; whether it runs. */
export function useTimeLeft(step: Step, now: string): [number, boolean] {
  const running = Boolean(step.timer_started && !step.timer_stopped);
  const at = useServerNow(now, running);
  const until = step.timer_stopped ? Date.parse(step.timer_stopped) : at;
  return [step.timer_started ? step.timer_s - (until - Date.parse(step.timer_started)) / 1000 : step.timer_s, running];
}

export function TimerBar({ step, now, bay }: { step: Step; now: string; bay: ReturnType<typeof useService> }) {
  const [left, running] = useTimeLeft(step, now);
  const toggle = () => bay.act(running ? 'timer_stop' : 'timer_start', step.id);
  useKeys({ t: { does: t`start or stop the timer`, act: toggle } });
  return (
    <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center' }}>
      <Box role="timer" sx={{ typography: 'h1', fontSize: '2.6rem', color: left <= 0 ? 'error.main' : 'text.primary' }}>
        {left > 0 ? minutes(left) : `+${minutes(-left)}`}
      </Box>
      <Button variant="outlined" onClick={toggle} sx={{ minHeight: 56 }}>
        {running ? t`Stop the timer` : t`Start the timer`}
      </Button>
    </Box>
  );
}
