/** A day: typed part by part or picked from a calendar. The calendar is fetched when the first such field is shown. */
import TextField from '@mui/material/TextField';
import { lazy, Suspense } from 'react';
import type { DateProps } from './DateInput';

const Input = lazy(() => import('./DateInput'));

/** Whether what a field for a day holds is one. */
export const isDay = (value: string | null | undefined): value is string => /^\d{4}-\d\d-\d\d$/.test(value ?? '');

/** ``value``: an ISO date, or empty; ``earliest`` to ``latest``: what may be chosen. */
export function DateField(props: DateProps) {
  return (
    <Suspense fallback={<TextField label={props.label} disabled helperText=" " />}>
      <Input {...props} />
    </Suspense>
  );
}
