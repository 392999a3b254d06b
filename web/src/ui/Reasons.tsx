/** A verdict on an oil: its drop, readable without colour, and the reasons behind it, worst first. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import type { Schemas } from '../app/api';
import { How } from './How';

export const VERDICTS: Record<string, string> = { meets: t`meets the sheet`, equivalent: t`equivalent`, caution: t`with caution`, reject: t`must not go in` };
const DROP = 'M13 2C17 9 22 13 22 18.5a9 9 0 0 1-18 0C4 13 9 9 13 2z';

/** Full drop: meets. Half full: equivalent. Empty with a stroke: caution. Barred: must not go in. */
export function VerdictDrop({ verdict, size = 26 }: { verdict: string; size?: number }) {
  const { tones } = useTheme();
  const stop = verdict === 'reject';
  const edge = stop ? tones.red : tones.ink;
  return (
    <svg width={size} height={size * 1.16} viewBox="0 0 26 30" role="img" aria-label={VERDICTS[verdict] ?? verdict} style={{ flex: 'none' }}>
      <path d={DROP} fill={verdict === 'meets' ? tones.amber : tones.sheet} stroke={edge} strokeWidth={2.2} />
      {verdict === 'equivalent' && <path d="M4.3 17h17.4a8.7 8.7 0 0 1-17.4 0z" fill={tones.amber} />}
      {verdict === 'caution' && <path d="M13 11v8M13 22.5v1" stroke={tones.ink} strokeWidth={3} strokeLinecap="round" />}
      {stop && <path d="M2 27L24 5" stroke={tones.red} strokeWidth={3.4} strokeLinecap="round" />}
    </svg>
  );
}

export function Reasons({ reasons, all = true }: { reasons: Schemas['OilReason'][]; all?: boolean }) {
  const shown = all ? reasons : reasons.filter((r) => r.verdict !== 'meets').slice(0, 3);
  return (
    <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 0.25 }}>
      {shown.map((r) => (
        <Box
          key={r.rule + r.text}
          component="li"
          sx={{
            typography: 'body2',
            ...(r.verdict === 'reject'
              ? { color: 'error.main', fontWeight: 700 }
              : { color: r.verdict === 'caution' ? (t) => t.tones.amberText : 'text.secondary' }),
          }}>
          {r.text}{' '}
          <Box component="span" sx={{ fontWeight: 400 }}>
            ({r.compared}
            {r.school ? `; ${r.school}` : ''}; {r.basis})
          </Box>
          {r.working && <How working={r.working} title={r.text} />}
        </Box>
      ))}
    </Box>
  );
}
