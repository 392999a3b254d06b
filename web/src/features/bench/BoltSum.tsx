import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Bolts } from '../../ui/Bolts';
import { QuantityField } from '../../ui/QuantityField';
import { Sum } from './Sum';

/** The order of a cover's bolts, by number. */
export function BoltSum() {
  const [d, setD] = useState({ count: '12', torque: '' });
  return (
    <Sum title={t`Order of bolts`}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        <TextField
          label={t`How many bolts`}
          value={d.count}
          onChange={(e) => setD({ ...d, count: e.target.value })}
          slotProps={{ htmlInput: { inputMode: 'numeric', maxLength: 3 } }}
        />
        <QuantityField label={t`Full torque`} kind="torque" value={d.torque} onChange={(torque) => setD({ ...d, torque })} hint={t`empty: unknown`} />
      </Box>
      <Bolts count={d.count} torque={d.torque} />
    </Sum>
  );
}
