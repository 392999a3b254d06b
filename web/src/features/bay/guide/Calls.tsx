/** What is called out while a sweep runs: the position now, large, and the one after it. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useEffect } from 'react';
import { useSession } from '../../../app/session';
import { say } from '../../../app/speech';
import { useServerNow } from '../../../app/timers';
import type { Step } from './service';

export function Calls({ step, now }: { step: Step; now: string }) {
  const running = Boolean(step.timer_started && !step.timer_stopped);
  const at = useServerNow(now, running);
  const spoken = useSession().data?.spoken ?? false;
  const each = step.timer_s / Math.max(1, step.calls.length);
  const gone = step.timer_started ? (at - Date.parse(step.timer_started)) / 1000 : 0;
  const k = running ? Math.floor(gone / each) : -1;
  const here = step.calls[k];
  useEffect(() => {
    if (spoken && here) say(here);
  }, [spoken, here]);
  if (!step.calls.length) return null;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box role="status" sx={{ typography: 'h1', fontSize: '4.2rem', minHeight: '1.2em' }}>
        {!running ? step.calls[0] : (here ?? t`Done: stop the timer`)}
      </Box>
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none', display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        {step.calls.map((call, n) => (
          <Box
            component="li"
            key={`${n + 1} ${call}`}
            aria-current={n === k ? 'step' : undefined}
            sx={{
              border: 2,
              borderRadius: 2,
              px: 1.25,
              py: 0.5,
              borderColor: n === k ? 'text.primary' : 'divider',
              bgcolor: n === k ? 'primary.main' : n < k ? (t) => t.tones.pan : 'background.paper',
              color: n === k ? 'primary.contrastText' : 'text.primary',
              fontWeight: n === k ? 700 : 400,
            }}>
            {call}
          </Box>
        ))}
      </Box>
      <Box sx={{ color: 'text.secondary' }}>
        <Trans>
          {Math.round(each)} s each{running && step.calls[k + 1] ? t`; next: ${step.calls[k + 1] ?? ''}` : ''}
        </Trans>
      </Box>
    </Box>
  );
}
