/** Waiting until oil has settled, and the stick. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useShow } from '../../../app/session';
import { minutes, useServerNow } from '../../../app/timers';
import { How } from '../../../ui/How';
import { QuantityField } from '../../../ui/QuantityField';
import type { BodyProps } from '../guide/body';

/** Oil needs time to find its level: how long since the last pour. */
export function Settling({ since, seconds, now }: { since: string; seconds: number; now: string }) {
  const at = useServerNow(now, true);
  const left = seconds - (at - Date.parse(since)) / 1000;
  if (left <= 0) return <Box sx={{ color: 'text.secondary' }}>{t`It has settled: look now.`}</Box>;
  return (
    <Box role="timer" sx={{ typography: 'h3' }}>
      <Trans>Let it settle: {minutes(left)}</Trans>
    </Box>
  );
}

/** The stick after each pour: how much a millimetre is worth, and the next pour. */
export function Dips({ step, ledger, bay, problem }: BodyProps) {
  const { show } = useShow();
  const [reading, setReading] = useState('');
  const [mark, setMark] = useState('');
  if (ledger?.fill_method !== 'dipstick') return null;
  const dip = () => bay.act('reading', step.id, { dip_mm: reading, ...(mark ? { mark_mm: mark } : {}) }, () => setReading(''));
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'start', flexWrap: 'wrap' }}>
        <QuantityField
          label={t`The stick reads`}
          kind="length"
          value={reading}
          onChange={setReading}
          problem={problem('dip_mm')}
          hint={t`from the end of the stick`}
        />
        {ledger.mark_mm === null && (
          <QuantityField label={t`Its upper mark stands at`} kind="length" value={mark} onChange={setMark} problem={problem('mark_mm')} />
        )}
        <Button variant="outlined" sx={{ minHeight: 48 }} disabled={!reading.trim() || bay.held} onClick={dip}>{t`Note the dip`}</Button>
      </Box>
      {ledger.dip && (
        <Box role="status" sx={{ typography: 'h2' }}>
          {ledger.dip.text} <How working={ledger.dip.working} title={t`From the dips`} />
        </Box>
      )}
      {ledger.dips.length > 0 && (
        <Box sx={{ color: 'text.secondary' }}>
          <Trans>
            {ledger.dips.map((d) => `${show(d.added_ml, 'volume')}: ${show(d.reading_mm, 'length')}`).join(' · ')}; mark {show(ledger.mark_mm, 'length')}
          </Trans>
        </Box>
      )}
    </Box>
  );
}
