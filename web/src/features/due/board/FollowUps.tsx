/** What must be looked at again, with a place to note what the second look showed. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { nearDate, useMay, useShow } from '../../../app/session';
import { Trouble } from '../../../ui/Trouble';

function Line({ f, today }: { f: Schemas['FollowUpView']; today: string }) {
  const [open, setOpen] = useState(false);
  const [outcome, setOutcome] = useState('');
  const { show } = useShow();
  const may = useMay(f.stop ? 'lead' : 'technician');
  const cache = useQueryClient();
  const settle = useMutation({
    mutationFn: () => ask(client.POST('/api/follow-ups/{follow_up}', { params: { path: { follow_up: f.id } }, body: { outcome } })),
    onSuccess: () => cache.invalidateQueries(),
  });
  const by = [f.due_on ? nearDate(f.due_on, today) : '', f.due_meter === null ? '' : `at ${show(f.due_meter, f.meter === 'h' ? 'engine_hours' : 'distance')}`]
    .filter(Boolean)
    .join(' or ');
  return (
    <Box component="li" sx={{ display: 'grid', gap: 1, py: 1, borderTop: 1, borderColor: 'divider' }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <b>
          {f.vehicle}, {f.compartment}
        </b>
        <Box component="span" sx={{ flex: 1, minWidth: 220, color: f.stop ? 'error.main' : undefined }}>
          {f.what}
        </Box>
        <Box component="span" sx={{ color: 'text.secondary' }}>
          {f.stop ? 'at once' : by}
        </Box>
        {may && !open && (
          <Button size="small" variant="outlined" onClick={() => setOpen(true)}>
            {f.stop ? 'Clear the stop' : 'Looked at'}
          </Button>
        )}
      </Box>
      {open && (
        <Box
          component="form"
          sx={{ display: 'flex', gap: 1, alignItems: 'start' }}
          onSubmit={(e) => {
            e.preventDefault();
            settle.mutate();
          }}>
          <TextField
            autoFocus
            fullWidth
            label="What did it show?"
            value={outcome}
            onChange={(e) => setOutcome(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 300 } }}
          />
          <Button type="submit" variant="contained" disabled={settle.isPending}>
            Note it
          </Button>
          <Button variant="text" onClick={() => setOpen(false)}>
            Not now
          </Button>
        </Box>
      )}
      <Trouble error={settle.error} />
    </Box>
  );
}

export function FollowUps({ list, today }: { list: Schemas['FollowUpView'][]; today: string }) {
  return (
    <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0 }}>
      {list.map((f) => (
        <Line key={f.id} f={f} today={today} />
      ))}
    </Box>
  );
}
