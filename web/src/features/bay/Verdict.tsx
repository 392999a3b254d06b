/** The verdict on a finding: level, what to do, why, and what it does to the next interval. */
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { Schemas } from '../../app/api';

export function Verdict({ assessment, before = '' }: { assessment: Schemas['Assessment'] | null; before?: string }) {
  if (!assessment || assessment.level === null)
    return (
      <Box>
        <Typography variant="h2">{before}not looked at</Typography>
        <p>Tap what you see. Nothing noted is not the same as clean.</p>
      </Box>
    );
  const { level, name, actions, reasons, interval_factor } = assessment;
  return (
    <Box role="status" sx={{ display: 'grid', gap: 1.5 }}>
      <Typography variant="h1" component="h3" sx={{ fontSize: '2.5rem', color: level === 4 ? 'error.main' : 'text.primary' }}>
        {level} · {name[0]?.toUpperCase() + name.slice(1)}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 0.75 }} aria-hidden="true">
        {[1, 2, 3, 4].map((k) => (
          <Box key={k} sx={{ height: 16, borderRadius: 0.5, bgcolor: k <= level ? (level === 4 ? 'error.main' : 'text.primary') : (t) => t.tones.line }} />
        ))}
      </Box>
      <Box>
        {actions.map((a) => (
          <Box key={a} sx={{ fontWeight: 700, fontSize: '1.125rem' }}>
            {a}
          </Box>
        ))}
        {interval_factor > 0 && interval_factor < 1 && <Box>Next interval: {Math.round(interval_factor * 100)} % of the usual.</Box>}
      </Box>
      <Box component="ol" sx={{ m: 0, pl: 3, display: 'grid', gap: 1 }}>
        {reasons.map((r) => (
          <li key={r.rule}>
            {r.text}{' '}
            <Box component="span" sx={{ color: 'text.secondary', fontSize: '0.875rem' }}>
              ({r.basis})
            </Box>
          </li>
        ))}
      </Box>
    </Box>
  );
}
