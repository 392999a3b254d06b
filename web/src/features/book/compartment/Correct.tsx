/** A figure of a record set right, or the record declared void. */

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { FormProvider } from 'react-hook-form';
import { ask, client, type Schemas } from '../../../app/api';
import { Line, OneOf } from '../../../ui/form/fields';
import { useTyped } from '../../../ui/form/useTyped';
import { Trouble } from '../../../ui/Trouble';

export type Field = Schemas['CorrectionRequestRequest']['field'];

export const FIELDS: [Field, string][] = [
  ['drained_ml', 'came out'],
  ['drained_c', 'its temperature'],
  ['poured_ml', 'poured'],
  ['run_out_ml', 'ran out'],
  ['additive_ml', 'additive'],
  ['meter_value', 'meter'],
  ['oil', 'oil'],
  ['on', 'date'],
  ['note', 'note'],
];

export const NAMES = Object.fromEntries(FIELDS) as { [k: string]: string };

export function Correct({ record, close }: { record: number; close: () => void }) {
  const { form, act, submit } = useTyped({
    start: { field: 'drained_ml', value: '', reason: '' },
    keep: `barodex.correct ${record}`,
    send: (d) => ask(client.POST('/api/records/{record}/corrections', { params: { path: { record } }, body: d as Schemas['CorrectionRequestRequest'] })),
    taken: close,
  });
  return (
    <FormProvider {...form}>
      <Box
        component="form"
        noValidate
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
          submit();
        }}>
        <OneOf name="field" label="What was wrong" options={FIELDS} />
        <Line name="value" autoFocus label="What is right" most={80} />
        <Line name="reason" label="Why" most={300} />
        <Button type="submit" variant="contained" disabled={act.isPending}>
          Correct it
        </Button>
        <Button variant="text" onClick={close}>
          Leave it
        </Button>
        <Box sx={{ gridColumn: '1 / -1' }}>
          <Trouble error={act.error} />
        </Box>
      </Box>
    </FormProvider>
  );
}
