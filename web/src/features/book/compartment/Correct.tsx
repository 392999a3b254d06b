/** A figure of a record set right, or the record declared void. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, Refused, type Schemas } from '../../../app/api';
import { Pick } from '../../../ui/Pick';
import { Trouble } from '../../../ui/Trouble';

export type Field = Schemas['CorrectionRequestRequest']['field'];

export const FIELDS: [Field, string][] = [
  ['drained_ml', 'came out'],
  ['drained_c', 'its temperature'],
  ['poured_ml', 'poured'],
  ['meter_value', 'meter'],
  ['oil', 'oil'],
  ['on', 'date'],
  ['note', 'note'],
];

export const NAMES = Object.fromEntries(FIELDS) as { [k: string]: string };

export function Correct({ record, close }: { record: number; close: () => void }) {
  const [field, setField] = useState<Field>('drained_ml');
  const [value, setValue] = useState('');
  const [reason, setReason] = useState('');
  const cache = useQueryClient();
  const send = useMutation({
    mutationFn: () => ask(client.POST('/api/records/{record}/corrections', { params: { path: { record } }, body: { field, value, reason } })),
    onSuccess: async () => {
      await cache.invalidateQueries();
      close();
    },
  });
  const at = (name: string) => (send.error instanceof Refused ? send.error.at(name) : '');
  return (
    <Box
      component="form"
      sx={{
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: '180px 200px 1fr auto auto' },
        alignItems: 'start',
        bgcolor: (t) => t.tones.pan,
        p: 1.5,
        borderRadius: 2,
      }}
      onSubmit={(e) => {
        e.preventDefault();
        send.mutate();
      }}>
      <Pick label="What was wrong" value={field} options={FIELDS} onChange={(f) => setField(f as Field)} />
      <TextField
        autoFocus
        label="What is right"
        value={value}
        onChange={(e) => setValue(e.target.value)}
        error={Boolean(at('value'))}
        helperText={at('value') || ' '}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      <TextField
        label="Why"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        error={Boolean(at('reason'))}
        helperText={at('reason') || ' '}
        slotProps={{ htmlInput: { maxLength: 300 } }}
      />
      <Button type="submit" variant="contained" disabled={send.isPending}>
        Correct it
      </Button>
      <Button variant="text" onClick={close}>
        Leave it
      </Button>
      <Box sx={{ gridColumn: '1 / -1' }}>
        <Trouble error={send.error} />
      </Box>
    </Box>
  );
}
