/** One more compartment for a vehicle. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../../app/api';
import { Trouble } from '../../../ui/Trouble';
import { blank, CompartmentLine } from '../board/CompartmentLine';

export function AddCompartment({ vehicle }: { vehicle: number }) {
  const [draft, setDraft] = useState(blank());
  const [open, setOpen] = useState(false);
  const cache = useQueryClient();
  const add = useMutation({
    mutationFn: () =>
      ask(
        client.POST('/api/vehicles/{vehicle}/compartments', {
          params: { path: { vehicle } },
          body: { name: draft.name, slot: draft.slot, sheet_id: Number(draft.sheet_id) },
        }),
      ),
    onSuccess: () => {
      setDraft(blank());
      setOpen(false);
      return cache.invalidateQueries();
    },
  });
  if (!open)
    return (
      <Button variant="text" onClick={() => setOpen(true)} sx={{ justifySelf: 'start' }}>
        Add a compartment
      </Button>
    );
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <CompartmentLine draft={draft} change={setDraft} />
      <Trouble error={add.error} />
      <Button variant="outlined" onClick={() => add.mutate()} disabled={add.isPending} sx={{ justifySelf: 'start' }}>
        Add it
      </Button>
    </Box>
  );
}
