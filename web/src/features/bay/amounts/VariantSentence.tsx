/** Which variant the drained amount speaks for: a proposal, and what would settle it. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { How } from '../../../ui/How';

export function VariantSentence({ verdict, take }: { verdict: Schemas['VariantVerdict']; take?: (variant: string) => void }) {
  const { show } = useShow();
  return (
    <Box role="status" sx={{ bgcolor: (t) => t.tones.amberWash, borderLeft: 6, borderColor: 'primary.main', px: 2, py: 1 }}>
      <b>{t`Which variant?`}</b> {verdict.text} <How working={verdict.working} title={t`Which variant it is`} />
      <Box sx={{ display: 'grid', gap: 0.5, my: 0.75 }} aria-hidden="true">
        {verdict.shares.map((s) => (
          <Box key={s.name} sx={{ display: 'grid', gridTemplateColumns: '130px 90px 1fr 60px', gap: 1, alignItems: 'center' }}>
            <span>{s.name}</span>
            <span>{show(s.expected_ml, 'volume')}</span>
            <Box sx={{ height: 12, border: 1, borderColor: 'text.secondary', borderRadius: 1 }}>
              <Box sx={{ height: '100%', width: `${Math.round(s.share * 100)}%`, bgcolor: 'text.primary' }} />
            </Box>
            <span>{Math.round(s.share * 100)} %</span>
          </Box>
        ))}
      </Box>
      <Trans>Before it is used: {verdict.settle.join('; ')}.</Trans>
      {take && verdict.named && (
        <Box sx={{ mt: 1 }}>
          <Button variant="contained" onClick={() => take(verdict.named)}>
            <Trans>It is the {verdict.named}: take it over</Trans>
          </Button>
        </Box>
      )}
    </Box>
  );
}
