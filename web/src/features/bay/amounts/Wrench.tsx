/** Beside a torque: what to set with an adaptor on the wrench, and the order of a cover's bolts by number. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../../app/api';
import { How } from '../../../ui/How';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';

export function Adaptor({ torque }: { torque: string }) {
  const [open, setOpen] = useState(false);
  const [d, setD] = useState({ wrench_mm: '', offset_mm: '', wrench_max_nm: '' });
  const body = useRested({ ...d, torque_nm: torque });
  const sum = useQuery({
    queryKey: ['torque', body],
    queryFn: () => ask(client.POST('/api/bench/torque', { body: { ...body, angle_deg: 0 } })),
    enabled: open && Boolean(body.torque_nm && body.wrench_mm),
    retry: false,
  });
  if (!open)
    return <Button variant="text" sx={{ justifySelf: 'start', px: 0 }} onClick={() => setOpen(true)}>{t`An adaptor on the wrench, or its range?`}</Button>;
  return (
    <Box sx={{ display: 'grid', gap: 1, bgcolor: (t) => t.tones.pan, p: 1.5, borderRadius: 2 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 1 }}>
        <QuantityField label={t`Wrench, drive to hand`} kind="length" value={d.wrench_mm} onChange={(wrench_mm) => setD({ ...d, wrench_mm })} />
        <QuantityField
          label={t`Adaptor, drive to plug`}
          kind="length"
          value={d.offset_mm}
          onChange={(offset_mm) => setD({ ...d, offset_mm })}
          hint={t`a bar along the bolt: 0`}
        />
        <QuantityField label={t`Wrench goes up to`} kind="torque" value={d.wrench_max_nm} onChange={(wrench_max_nm) => setD({ ...d, wrench_max_nm })} />
      </Box>
      {sum.data && (
        <Box role="status" sx={{ typography: 'h2' }}>
          <Trans>
            Set {sum.data.setting_nm.toFixed(1)} N·m = {sum.data.setting_lbf_ft.toFixed(1)} lbf·ft
          </Trans>{' '}
          <How working={sum.data.working} title={t`What to set`} />
          {sum.data.warning && <Box sx={{ color: 'error.main', typography: 'body1' }}>{sum.data.warning}</Box>}
        </Box>
      )}
      <Trouble error={sum.error} />
    </Box>
  );
}
