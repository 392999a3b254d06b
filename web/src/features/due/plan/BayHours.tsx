/** Bay hours a day, closed weekdays and closed days: what visits are put into. The lead changes them, with a reason. */

import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { FormProvider, useController } from 'react-hook-form';
import { ask, client, type Schemas } from '../../../app/api';
import { date } from '../../../app/session';
import { figure, needed } from '../../../app/typed';
import { DateField, isDay } from '../../../ui/DateField';
import { Line } from '../../../ui/form/fields';
import { useTyped } from '../../../ui/form/useTyped';
import { Panel } from '../../../ui/Panel';
import { Tick } from '../../../ui/Tick';
import { Trouble } from '../../../ui/Trouble';

const DAYS = [t`Monday`, t`Tuesday`, t`Wednesday`, t`Thursday`, t`Friday`, t`Saturday`, t`Sunday`];
type Draft = { hours_per_day: string; bays: string; closed_weekdays: number[]; closed_days: string[]; why: string };

function Weekdays() {
  const { field } = useController<Draft, 'closed_weekdays'>({ name: 'closed_weekdays' });
  const closed = field.value;
  return (
    <Box role="group" aria-label={t`Closed on`} sx={{ display: 'grid', gap: 0.5, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
      {DAYS.map((name, k) => (
        <Tick
          key={name}
          label={t`closed on ${name}s`}
          on={closed.includes(k)}
          change={(on) => field.onChange(on ? [...closed, k].sort() : closed.filter((d) => d !== k))}
        />
      ))}
    </Box>
  );
}

function ClosedDays({ today }: { today: string }) {
  const [next, setNext] = useState('');
  const { field } = useController<Draft, 'closed_days'>({ name: 'closed_days' });
  const days = field.value;
  return (
    <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
      <DateField label={t`Also closed on`} value={next} onChange={setNext} earliest={today} />
      <Button
        variant="outlined"
        disabled={!isDay(next) || days.includes(next)}
        onClick={() => {
          field.onChange([...days, next].sort());
          setNext('');
        }}>{t`Close that day`}</Button>
      {days.map((d) => (
        <Button key={d} size="small" variant="text" aria-label={t`open ${date(d)} again`} onClick={() => field.onChange(days.filter((o) => o !== d))}>
          {date(d)} ×
        </Button>
      ))}
    </Box>
  );
}

function Hours({ bay, close, today }: { bay: Schemas['BayView']; close: () => void; today: string }) {
  const typed = useTyped<Draft, unknown>({
    start: { hours_per_day: String(bay.hours_per_day), bays: String(bay.bays), closed_weekdays: bay.closed_weekdays, closed_days: bay.closed_days, why: '' },
    version: bay.version,
    keep: 'barodex.bay-hours',
    send: ({ hours_per_day, bays, ...rest }, from) =>
      ask(
        client.POST('/api/plan/bay', {
          params: { header: { 'If-Match': String(from) } },
          body: { ...rest, hours_per_day: needed(figure(hours_per_day)), bays: needed(figure(bays)) },
        }),
      ),
    settled: close,
  });
  return (
    <FormProvider {...typed.form}>
      <Box
        component="form"
        noValidate
        sx={{ p: 3, display: 'grid', gap: 1.5 }}
        onSubmit={(e) => {
          e.preventDefault();
          typed.submit();
        }}>
        <Box component="h2" sx={{ typography: 'h2', m: 0, mb: 1 }}>{t`Bay hours`}</Box>
        <Line<Draft> name="hours_per_day" label={t`Hours a day in each bay`} most={6} />
        <Line<Draft> name="bays" label={t`Bays`} most={2} />
        <Weekdays />
        <ClosedDays today={today} />
        <Line<Draft> name="why" label={t`Why`} most={200} />
        <Trouble error={typed.act.error} />
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button type="submit" variant="contained" disabled={typed.act.isPending}>
            {typed.overtaken ? t`Change it over theirs` : t`Change it`}
          </Button>
          <Button variant="text" onClick={close}>{t`Leave it`}</Button>
        </Box>
      </Box>
    </FormProvider>
  );
}

export function BayHours({ open, close, today }: { open: boolean; close: () => void; today: string }) {
  const bay = useQuery({ queryKey: ['bay-hours'], queryFn: () => ask(client.GET('/api/plan/bay')), enabled: open });
  return (
    <Panel label={t`Bay hours`} open={open} close={close} wide>
      {bay.data && <Hours bay={bay.data} close={close} today={today} />}
    </Panel>
  );
}
