/** One oil in the order of the shelf. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Typography from '@mui/material/Typography';
import { Link } from 'react-router';
import type { Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { Reasons, VERDICTS, VerdictDrop } from '../../../ui/Reasons';

export function Offer({ o, drawn, draw, full }: { o: Schemas['OilOffer']; drawn: boolean; draw: () => void; full: boolean }) {
  const { show } = useShow();
  const off = o.off === null ? '' : t`${o.off >= 0 ? '+' : '−'}${Math.abs(Math.round(o.off * 100))} % at 80 °C`;
  return (
    <Box
      component="li"
      sx={{
        display: 'grid',
        gridTemplateColumns: '34px minmax(0, 1fr)',
        gap: 1.5,
        borderTop: 1,
        borderColor: 'divider',
        py: 1,
        ...(o.verdict === 'reject' ? { bgcolor: (t) => t.tones.redWash, px: 1, mx: -1, borderRadius: 1 } : {}),
      }}>
      <VerdictDrop verdict={o.verdict} size={30} />
      <Box sx={{ display: 'grid', gap: 0.5, minWidth: 0 }}>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'baseline', columnGap: 1.5 }}>
          <Typography variant="h4" component="h3">
            <Link to={`/shelf/oils/${o.lubricant}`}>{o.name}</Link>
          </Typography>
          <b>{VERDICTS[o.verdict]}</b>
          <Box component="span" sx={{ color: 'text.secondary', typography: 'body2' }}>
            {[o.label, off].filter(Boolean).join(' · ')}
          </Box>
          <Box component="span" sx={{ ml: 'auto', typography: 'body2' }}>
            <Trans>
              <b>{show(o.on_hand_ml, 'volume')}</b> on hand
              {o.litre_price !== null && t`, ${o.litre_price.toFixed(2)} a litre`}
            </Trans>
          </Box>
        </Box>
        {o.locked && <b>{t`The pour stays locked until its data sheet is entered.`}</b>}
        {o.rinse && <b>{t`Rinse or flush first: another family of oil stays inside.`}</b>}
        <Reasons reasons={o.reasons} />
        <FormControlLabel
          control={<Checkbox size="small" checked={drawn} disabled={full && !drawn} onChange={draw} sx={{ py: 0.25 }} />}
          label={<Box sx={{ typography: 'body2' }}>{t`draw its line`}</Box>}
        />
      </Box>
    </Box>
  );
}
