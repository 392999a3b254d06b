/** Time planned and taken, phase by phase, as two bars. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import type { Service } from './service';

export const minutesOf = (seconds: number) => (seconds < 90 ? `${Math.round(seconds)} s` : t`${Math.round(seconds / 60)} min`);

export function Times({ times }: { times: Service['times'] }) {
  const most = Math.max(60, ...times.map((t) => Math.max(t.planned_s, t.taken_s)));
  const sum = (of: 'planned_s' | 'taken_s') => times.reduce((s, t) => s + t[of], 0);
  const bar = (seconds: number, amber: boolean) => (
    <Box
      sx={{
        height: 9,
        borderRadius: 1,
        width: `${(100 * seconds) / most}%`,
        minWidth: seconds > 0 ? 3 : 0,
        bgcolor: amber ? 'primary.main' : 'text.secondary',
      }}
    />
  );
  return (
    <Box component="section" aria-label={t`Time by phase`} sx={{ display: 'grid', gap: 0.75, maxWidth: 640 }}>
      <Box sx={{ typography: 'h3' }}>
        <Trans>
          {minutesOf(sum('taken_s'))} taken, {minutesOf(sum('planned_s'))} planned
        </Trans>
      </Box>
      {times
        .filter((t) => t.planned_s >= 1 || t.taken_s >= 1)
        .map((t) => (
          <Box key={t.phase} sx={{ display: 'grid', gridTemplateColumns: '90px minmax(0, 1fr) 150px', gap: 1.5, alignItems: 'center' }}>
            <span>{t.phase}</span>
            <Box sx={{ display: 'grid', gap: '2px' }}>
              {bar(t.taken_s, true)}
              {bar(t.planned_s, false)}
            </Box>
            <Box sx={{ typography: 'body2', textAlign: 'right' }}>
              <Trans>
                {minutesOf(t.taken_s)} of {minutesOf(t.planned_s)}
              </Trans>
            </Box>
          </Box>
        ))}
    </Box>
  );
}
