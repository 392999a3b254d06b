/** A new vehicle with its compartments; the strip is drawn as it is entered. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect } from 'react';
import { FormProvider } from 'react-hook-form';
import { Link, useLocation, useNavigate } from 'react-router';
import { ask, client } from '../../../app/api';
import { DrivelineStrip } from '../../../ui/DrivelineStrip';
import { useTyped } from '../../../ui/form/useTyped';
import { Page, Section } from '../../../ui/Page';
import { There } from '../../../ui/There';
import { Trouble } from '../../../ui/Trouble';
import { blank, CompartmentLine } from '../board/CompartmentLine';
import { VehicleHead } from './VehicleHead';
import { type Draft, FRESH, KEPT, requestOf, withSheet } from './vehicleDraft';

export function AddVehiclePage() {
  const made = (useLocation().state as { made?: number } | null)?.made;
  const go = useNavigate();
  const typed = useTyped<Draft, { id: number }>({
    start: FRESH,
    keep: KEPT,
    send: (d) => ask(client.POST('/api/vehicles', { body: requestOf(d) })),
    settled: ({ id }) => go(`/due/vehicle/${id}`),
    pathOf: (field) => (field === 'off_road_share' ? 'off_road' : field),
  });
  const { form, act, at } = typed;
  // The sheet that was written for it on the way stands in the first compartment that has none.
  useEffect(() => form.setValue('compartments', withSheet(form.getValues(), made).compartments), [form, made]);
  const draft = form.watch();
  const places = (compartments: Draft['compartments']) => form.setValue('compartments', compartments);
  const named = draft.compartments.filter((c) => c.name.trim());
  return (
    <Page title={t`Add a vehicle`} note={<Link to="/due">{t`back to Due`}</Link>}>
      <FormProvider {...form}>
        <Box
          component="form"
          noValidate
          sx={{ display: 'grid', gap: 2, maxWidth: 980 }}
          onSubmit={(e) => {
            e.preventDefault();
            typed.submit();
          }}>
          <VehicleHead />
          <Section title={t`Oil compartments, front to rear`}>
            <DrivelineStrip
              layout={draft.layout}
              to={() => '#'}
              compartments={named.map((c, k) => ({
                id: k,
                name: c.name,
                slot: c.slot,
                state: 'unknown',
                used: 1,
                family: 'gear',
                colour: '',
                level: null,
                note: '',
              }))}
            />
            {draft.compartments.map((c, k) => (
              <CompartmentLine
                key={c.key}
                draft={c}
                change={(next) => places(draft.compartments.map((o) => (o.key === c.key ? next : o)))}
                remove={draft.compartments.length > 1 ? () => places(draft.compartments.filter((o) => o.key !== c.key)) : undefined}
                problem={(field) => at(`compartments.${k}.${field}`)}
              />
            ))}
            <Box sx={{ display: 'flex', gap: 2 }}>
              <Button variant="outlined" onClick={() => places([...draft.compartments, blank()])}>{t`One more compartment`}</Button>
              <Box sx={{ alignSelf: 'center' }}>
                <There to="/shelf/new" from={t`the new vehicle`}>{t`Its sheet is not on the shelf: write it`}</There>
              </Box>
            </Box>
          </Section>
          <Trouble error={act.error} />
          <Button type="submit" variant="contained" disabled={act.isPending} sx={{ justifySelf: 'start' }}>{t`Add the vehicle`}</Button>
        </Box>
      </FormProvider>
    </Page>
  );
}
