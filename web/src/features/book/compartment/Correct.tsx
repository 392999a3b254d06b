/** What a record says wrong, set right: a figure, a torque, or what was found. */

import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Controller, FormProvider } from 'react-hook-form';
import { z } from 'zod';
import { ask, client, type Schemas } from '../../../app/api';
import { Line, OneOf } from '../../../ui/form/fields';
import { useTyped } from '../../../ui/form/useTyped';
import { Trouble } from '../../../ui/Trouble';
import { Finding } from '../../bay/findings/Finding';
import { type FindingDraft, NOTHING } from '../../bay/findings/words';

export type Field = Schemas['CorrectionRequestRequest']['field'];

export const FIELDS: [Field, string][] = [
  ['drained_ml', t`came out`],
  ['drained_c', t`its temperature`],
  ['poured_ml', t`poured`],
  ['run_out_ml', t`ran out`],
  ['additive_ml', t`additive`],
  ['finding', t`what was found`],
  ['torque', t`a torque`],
  ['meter_value', t`meter`],
  ['oil', t`oil`],
  ['on', t`date`],
  ['note', t`note`],
];

export const NAMES: { [k: string]: string } = { ...Object.fromEntries(FIELDS), torques: 'torque' };

const TYPED = z.object({
  field: z.string(),
  value: z.string(),
  reason: z.string(),
  plug: z.string(),
  finding: z.custom<FindingDraft>((value) => typeof value === 'object' && value !== null && 'colour' in value),
});
type Typed = z.infer<typeof TYPED>;

type Props = { record: number; family: string; plugs: string[]; seen: Schemas['Finding'] | null; close: () => void };

export function Correct({ record, family, plugs, seen, close }: Props) {
  const { form, act, submit } = useTyped<Typed, unknown>({
    schema: TYPED,
    start: { field: 'drained_ml', value: '', reason: '', plug: plugs[0] ?? '', finding: { ...NOTHING, ...(seen as Partial<FindingDraft> | null) } },
    keep: `barodex.correct ${record}`,
    send: ({ field, finding, plug, ...d }) =>
      ask(
        client.POST('/api/records/{record}/corrections', {
          params: { path: { record } },
          body: { ...d, field: field as Field, plug: field === 'torque' ? plug : '', finding: field === 'finding' ? { ...finding } : null },
        }),
      ),
    taken: close,
  });
  const field = form.watch('field');
  const options = FIELDS.filter(([name]) => name !== 'torque' || plugs.length > 0);
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
        <OneOf<Typed> name="field" label={t`What was wrong`} options={options} />
        {field === 'torque' && <OneOf<Typed> name="plug" label={t`Which plug`} options={plugs.map((p) => [p, p] as const)} />}
        {field !== 'finding' && <Line<Typed> name="value" autoFocus label={t`What is right`} most={80} hint={field === 'torque' ? t`empty: no figure` : ''} />}
        {field === 'finding' && (
          <Box sx={{ gridColumn: '1 / -1' }}>
            <Controller name="finding" control={form.control} render={({ field: f }) => <Finding value={f.value} onChange={f.onChange} family={family} />} />
          </Box>
        )}
        <Line<Typed> name="reason" label={t`Why`} most={300} />
        <Button type="submit" variant="contained" disabled={act.isPending}>{t`Correct it`}</Button>
        <Button variant="text" onClick={close}>{t`Leave it`}</Button>
        <Box sx={{ gridColumn: '1 / -1' }}>
          <Trouble error={act.error} />
        </Box>
      </Box>
    </FormProvider>
  );
}
