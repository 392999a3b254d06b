/** A level that is set by oil temperature: readings as they come, the minutes left, and oil added while it runs. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useShow } from '../../app/session';
import { How } from '../../ui/How';
import { QuantityField } from '../../ui/QuantityField';
import { Plain } from './Plain';
import type { BodyProps } from './StepCard';

export function LevelAt(props: BodyProps) {
  const { step, ledger, bay } = props;
  const { show } = useShow();
  const [reading, setReading] = useState('');
  const [more, setMore] = useState('');
  const warmup = ledger?.warmup;
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 1.5, maxWidth: 520, alignItems: 'start' }}>
        <QuantityField label="The thermometer shows" kind="temperature" value={reading} onChange={setReading} hint="four readings tell when the window opens" />
        <Button
          variant="outlined"
          disabled={!reading.trim() || bay.held}
          sx={{ minHeight: 56 }}
          onClick={() => bay.act('reading', step.id, { temperature_c: reading }, () => setReading(''))}>
          Note the reading
        </Button>
      </Box>
      {warmup && (
        <Box role="status" sx={{ typography: 'h2' }}>
          {warmup.text} <How working={warmup.working} title="When the window opens" />
        </Box>
      )}
      <Plain {...props} />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 1.5, maxWidth: 520, alignItems: 'start' }}>
        <QuantityField
          label="Nothing comes? Oil added"
          kind="volume"
          value={more}
          onChange={setMore}
          hint={`${show(ledger?.poured_ml ?? 0, 'volume')} in so far`}
        />
        <Button
          variant="outlined"
          disabled={!more.trim() || bay.held}
          sx={{ minHeight: 56 }}
          onClick={() => bay.act('add', step.id, { volume_ml: more }, () => setMore(''))}>
          Count it in
        </Button>
      </Box>
    </Box>
  );
}
