/** What the drained amount says, in one breath: at one temperature, against the last fill. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import type { Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { How } from '../../../ui/How';

export function LossSentence({ ledger }: { ledger: Schemas['LedgerView'] }) {
  const { show } = useShow();
  const { loss, drained_15_ml, last_in_ml, last_on } = ledger;
  const figure = { typography: 'h2', component: 'b' } as const;
  return (
    <Box role="status" sx={{ display: 'grid', gap: 0.5 }}>
      <Box>
        <Box {...figure}>
          <Trans>{show(drained_15_ml, 'volume')} at 15 °C.</Trans>
        </Box>{' '}
        {loss && last_in_ml !== null ? (
          <>
            <Trans>
              {show(last_in_ml, 'volume')} stayed of the last fill{last_on ? t` on ${date(last_on)}` : ''}:
            </Trans>{' '}
            <Box {...figure}>
              {show(Math.abs(loss.loss_ml), 'volume')} {loss.loss_ml >= 0 ? t`lost` : t`more than went in`}
            </Box>{' '}
            ± {show(loss.within_ml, 'volume')} (2σ)
            {loss.per_1000km_ml === null ? '' : t`, ${loss.per_1000km_ml.toFixed(1)} ± ${loss.per_1000km_within_ml?.toFixed(1) ?? ''} mL per 1 000 km`}.
          </>
        ) : (
          ledger.no_loss
        )}
      </Box>
      {loss && (
        <Box>
          <b>{loss.text}</b> <How working={loss.working} title={t`How the loss came about`} />
        </Box>
      )}
      {ledger.capacity_ml !== null && (
        <Box sx={{ color: 'text.secondary' }}>
          <Trans>The sheet says {show(ledger.capacity_ml, 'volume')}.</Trans>
        </Box>
      )}
    </Box>
  );
}
