/** An earlier change, written in from paper, paint on the case or memory. */

import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Controller, FormProvider } from 'react-hook-form';
import { Refused } from '../../../app/api';
import { Amount, Day, Line, OneOf, YesNo } from '../../../ui/form/fields';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { Finding } from '../../bay/findings/Finding';
import { type Earlier, useEarlierRecord } from './useEarlierRecord';

const RATED = [t`bad`, t`poor`, t`fair`, t`good`, t`very good`].map((word, k) => [String(k + 1), `${k + 1} ${word}`] as const);

type Props = { compartment: number; meter: string; family: string; today: string; close: () => void };

export function EnterRecord({ compartment, meter, family, today, close }: Props) {
  const { form, act, submit, oils } = useEarlierRecord(compartment, close);
  const [on, looking, reason] = form.watch(['on', 'looking', 'reason']);
  return (
    <Section title={t`An earlier change`}>
      <FormProvider {...form}>
        <Box
          component="form"
          noValidate
          sx={{ display: 'grid', gap: 1.5, bgcolor: (t) => t.tones.pan, p: 2, borderRadius: 2 }}
          onSubmit={(e) => {
            e.preventDefault();
            submit();
          }}>
          <Box sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr', sm: 'repeat(3, 1fr)' } }}>
            <Day<Earlier> name="on" label={t`Date`} latest={today} />
            <Amount<Earlier>
              name="meter_value"
              label={meter === 'h' ? t`Engine hours then` : t`Odometer then`}
              kind={meter === 'h' ? 'engine_hours' : 'distance'}
              hint={t`empty: unknown`}
            />
            <OneOf<Earlier> name="lubricant_id" label={t`Oil`} options={(oils.data ?? []).map((o) => [String(o.id), o.name])} empty={t`unknown`} />
            <Amount<Earlier> name="drained_ml" label={t`Came out`} kind="volume" hint={t`empty: unknown`} />
            <Amount<Earlier> name="drained_c" label={t`at`} kind="temperature" hint={t`empty: not taken`} />
            <Amount<Earlier> name="poured_ml" label={t`Went in`} kind="volume" hint={t`empty: unknown`} />
          </Box>
          <Box sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
            <OneOf<Earlier> name="shift" label={t`How it shifted after`} options={RATED} empty={t`nobody said`} />
            <OneOf<Earlier> name="noise" label={t`How quiet it was after`} options={RATED} empty={t`nobody said`} />
          </Box>
          <Line<Earlier> name="note" label={t`Note`} most={500} />
          <YesNo<Earlier> name="factory_fill" label={t`This was the factory fill`} />
          {looking ? (
            <Controller
              name="finding"
              control={form.control}
              render={({ field }) => <Finding value={field.value} onChange={field.onChange} family={family} />}
            />
          ) : (
            <Button variant="text" onClick={() => form.setValue('looking', true)} sx={{ justifySelf: 'start' }}>{t`It says what was found, too`}</Button>
          )}
          {(reason || (act.error instanceof Refused && act.error.kind === 'needs-reason')) && (
            <Line<Earlier> name="reason" autoFocus label={t`Why it is so all the same`} most={200} hint={t`goes on the record`} />
          )}
          <Trouble error={act.error} />
          <Box sx={{ display: 'flex', gap: 1 }}>
            <Button type="submit" variant="contained" disabled={act.isPending || !on}>{t`Write it in`}</Button>
            <Button variant="text" onClick={close}>{t`Not now`}</Button>
          </Box>
        </Box>
      </FormProvider>
    </Section>
  );
}
