/** The calendar behind a field for a day. */
import { t } from '@lingui/core/macro';
import { AdapterDayjs } from '@mui/x-date-pickers/AdapterDayjs';
import { DatePicker } from '@mui/x-date-pickers/DatePicker';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import dayjs from 'dayjs';
import 'dayjs/locale/en-gb';
import { useState } from 'react';

export type DateProps = {
  label: string;
  value: string;
  onChange: (iso: string) => void;
  problem?: string;
  hint?: string;
  earliest?: string;
  latest?: string;
  autoFocus?: boolean;
};

const ISO = 'YYYY-MM-DD';

const INPUT = {
  '& .MuiPickersInputBase-root': { bgcolor: 'background.paper' },
  '& .MuiPickersOutlinedInput-notchedOutline': { borderColor: 'text.secondary', borderWidth: 1.5 },
};

/** Half a date is no date: it is sent as such, so that the server refuses it at its field and it is not taken for none. */
const said = (day: dayjs.Dayjs | null) => (day === null ? '' : day.isValid() ? day.format(ISO) : t`half a date`);
const read = (iso: string | undefined) => (iso ? dayjs(iso, ISO) : null);

export default function DateInput({ label, value, onChange, problem = '', hint = '', earliest, latest, autoFocus }: DateProps) {
  const [day, setDay] = useState(() => read(value));
  if (value !== said(day)) setDay(read(value)); // set from outside; what is half typed stands
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs} adapterLocale="en-gb">
      <DatePicker
        label={label}
        format="DD MMM YYYY"
        value={day}
        minDate={read(earliest) ?? undefined}
        maxDate={read(latest) ?? undefined}
        autoFocus={autoFocus}
        onChange={(next) => {
          setDay(next);
          onChange(said(next));
        }}
        slotProps={{
          textField: { size: 'small', error: Boolean(problem) || undefined, helperText: problem || hint || ' ', sx: INPUT },
          openPickerButton: { 'aria-label': t`${label}: choose in a calendar` },
          field: { clearable: true },
        }}
      />
    </LocalizationProvider>
  );
}
