/** Which variant the drained amount speaks for: a proposal, and what would settle it. */
import Box from '@mui/material/Box';
import type { Schemas } from '../../../app/api';
import { How } from '../../../ui/How';

export function VariantSentence({ verdict }: { verdict: Schemas['VariantVerdict'] }) {
  return (
    <Box role="status" sx={{ bgcolor: (t) => t.tones.amberWash, borderLeft: 6, borderColor: 'primary.main', px: 2, py: 1 }}>
      <b>Which variant?</b> {verdict.text} <How working={verdict.working} title="Which variant it is" />
      <Box sx={{ display: 'grid', gap: 0.5, my: 0.75 }} aria-hidden="true">
        {verdict.shares.map((s) => (
          <Box key={s.name} sx={{ display: 'grid', gridTemplateColumns: '130px 1fr 60px', gap: 1, alignItems: 'center' }}>
            <span>{s.name}</span>
            <Box sx={{ height: 12, border: 1, borderColor: 'text.secondary', borderRadius: 1 }}>
              <Box sx={{ height: '100%', width: `${Math.round(s.share * 100)}%`, bgcolor: 'text.primary' }} />
            </Box>
            <span>{Math.round(s.share * 100)} %</span>
          </Box>
        ))}
      </Box>
      Before it is used: {verdict.settle.join('; ')}.
    </Box>
  );
}
