/** Giving a service up, possible until something has been drained. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { ask, client } from '../../../app/api';
import { useMay } from '../../../app/session';
import { Trouble } from '../../../ui/Trouble';
import type { Service } from './service';

export function Drop({ service, left }: { service: Service; left: boolean }) {
  // Over the picture of the job, wherever that stands.
  const side = left ? { left: 12 } : { right: 12 };
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const mayWork = useMay('technician');
  const go = useNavigate();
  const cache = useQueryClient();
  const drop = useMutation({
    mutationFn: () => ask(client.DELETE('/api/services/{service}', { params: { path: { service: service.id } }, body: { reason } } as never)),
    onSuccess: async () => {
      await cache.invalidateQueries();
      go('/bay');
    },
  });
  const drained = service.steps.some((s) => s.purpose === 'drain' && s.status === 'done');
  if (!mayWork || drained) return null;
  if (!open)
    return (
      <Button
        variant="text"
        size="small"
        onClick={() => setOpen(true)}
        sx={{ position: { md: 'absolute' }, bottom: 8, ...side, color: 'text.secondary' }}>{t`Give this service up`}</Button>
    );
  return (
    <Box
      component="form"
      sx={{ position: { md: 'absolute' }, bottom: 0, ...side, width: { md: 420 }, bgcolor: 'background.paper', border: 2, p: 2, display: 'grid', gap: 1 }}
      onSubmit={(e) => {
        e.preventDefault();
        drop.mutate();
      }}>
      <TextField
        autoFocus
        label={t`Why is it given up?`}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 300 } }}
      />
      <Trouble error={drop.error} />
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button type="submit" variant="outlined" disabled={drop.isPending}>{t`Give it up`}</Button>
        <Button variant="text" onClick={() => setOpen(false)}>{t`No, go on`}</Button>
      </Box>
    </Box>
  );
}
