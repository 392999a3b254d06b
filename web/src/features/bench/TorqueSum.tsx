import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../app/api';
import { QuantityField, useRested } from '../../ui/QuantityField';
import { Sum } from './Sum';

/** What to set on a torque wrench that carries an adaptor. */
export function TorqueSum() {
  const [d, setD] = useState({ torque_nm: '100 N·m', wrench_mm: '300 mm', offset_mm: '75 mm', wrench_max_nm: '' });
  const body = useRested(d);
  const sum = useQuery({
    queryKey: ['torque', body],
    queryFn: () => ask(client.POST('/api/bench/torque', { body: { ...body, angle_deg: 0 } })),
    enabled: Boolean(body.torque_nm && body.wrench_mm),
    retry: false,
  });
  const field = (label: string, key: keyof typeof d, kind: 'torque' | 'length', hint = '') => (
    <QuantityField label={label} kind={kind} value={d[key]} onChange={(v) => setD({ ...d, [key]: v })} hint={hint} />
  );
  return (
    <Sum
      title={t`Torque with an adaptor`}
      error={sum.error}
      working={sum.data?.working}
      answer={
        sum.data && (
          <>
            <Trans>
              Set {sum.data.setting_nm.toFixed(1)} N·m = {sum.data.setting_lbf_ft.toFixed(1)} lbf·ft
            </Trans>
            {sum.data.warning && <Box sx={{ color: 'error.main', typography: 'body1' }}>{sum.data.warning}</Box>}
          </>
        )
      }>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        {field(t`Wanted at the plug`, 'torque_nm', 'torque')}
        {field(t`Wrench, drive to hand`, 'wrench_mm', 'length')}
        {field(t`Adaptor, drive to plug`, 'offset_mm', 'length', t`a bar along the bolt counts as 0`)}
        {field(t`Wrench goes up to`, 'wrench_max_nm', 'torque', t`empty: unknown`)}
      </Box>
    </Sum>
  );
}
