/** A level that is set by oil temperature: readings as they come, the minutes left, and oil added while it runs. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { useShow } from '../../../app/session';
import { How } from '../../../ui/How';
import { QuantityField } from '../../../ui/QuantityField';
import { ScanPanel } from '../devices/ScanPanel';
import { useScan } from '../devices/scan';
import type { BodyProps } from '../guide/body';
import { Plain } from '../guide/Plain';

export function LevelAt(props: BodyProps) {
  const { step, ledger, bay, id, change, draft, mayWork } = props;
  const { show } = useShow();
  const [reading, setReading] = useState('');
  const [more, setMore] = useState('');
  const live = useScan(id, step.compartment).scan.data;
  const warmup = (live?.connected ? live.warmup : null) ?? ledger?.warmup;
  const left = warmup?.closes_in_s;
  const inside =
    warmup &&
    ledger?.window_low_c != null &&
    ledger.window_high_c != null &&
    warmup.temperature_c >= ledger.window_low_c &&
    warmup.temperature_c <= ledger.window_high_c;
  const now = draft.outcome === 'streamed, then only drips' && inside;
  // While the scan tool is live, temperature and engine are as it says; the fields come back when the link is away.
  const said = live?.status === 'live' && !live.doubt ? live.reading : null;
  const [celsius, engine] = [said?.temperature_c ?? null, said?.engine_on ?? null];
  const read = celsius !== null && engine !== null && step.status === 'open';
  useEffect(() => {
    if (read) change({ temperature_c: `${celsius} °C`, engine: engine ? 'running' : 'off' });
  }, [read, celsius, engine, change]);
  const shown = read ? { ...step, fields: step.fields.filter((f) => !['temperature_c', 'engine'].includes(f.name)) } : step;
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      <ScanPanel service={id} compartment={step.compartment} mayWork={mayWork} />
      {!live?.connected && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 1.5, maxWidth: 520, alignItems: 'start' }}>
          <QuantityField
            label={t`The thermometer shows`}
            kind="temperature"
            value={reading}
            onChange={setReading}
            hint={t`four readings tell when the window opens`}
          />
          <Button
            variant="outlined"
            disabled={!reading.trim() || bay.held}
            sx={{ minHeight: 56 }}
            onClick={() => bay.act('reading', step.id, { temperature_c: reading }, () => setReading(''))}>{t`Note the reading`}</Button>
        </Box>
      )}
      {warmup && (
        <Box
          role="status"
          sx={{
            typography: 'h2',
            ...(now
              ? { bgcolor: 'primary.main', color: 'primary.contrastText', borderRadius: 2, px: 2, py: 1 }
              : { color: inside && left != null && left < 60 ? 'error.main' : 'text.primary' }),
          }}>
          {now && t`Close it now. `}
          {warmup.text} <How working={warmup.working} title={t`When the window opens`} />
        </Box>
      )}
      <Plain {...props} step={shown} />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 1.5, maxWidth: 520, alignItems: 'start' }}>
        <QuantityField
          label={t`Nothing comes? Oil added`}
          kind="volume"
          value={more}
          onChange={setMore}
          hint={t`${show(ledger?.poured_ml ?? 0, 'volume')} in so far`}
        />
        <Button
          variant="outlined"
          disabled={!more.trim() || bay.held}
          sx={{ minHeight: 56 }}
          onClick={() => bay.act('add', step.id, { volume_ml: more }, () => setMore(''))}>{t`Count it in`}</Button>
      </Box>
    </Box>
  );
}
