/** One of many, from a plain list. */
import TextField from '@mui/material/TextField';
import type { Ref } from 'react';

type Props = {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
  problem?: string;
  empty?: string;
  hint?: string;
  inputRef?: Ref<HTMLSelectElement>;
};

export function Pick({ label, value, options, onChange, problem = '', empty, hint = '', inputRef }: Props) {
  return (
    <TextField
      select
      label={label}
      value={value}
      inputRef={inputRef}
      onChange={(e) => onChange(e.target.value)}
      error={Boolean(problem)}
      helperText={problem || hint || ' '}
      slotProps={{ select: { native: true }, inputLabel: { shrink: true } }}>
      {empty !== undefined && <option value="">{empty}</option>}
      {options.map(([v, text]) => (
        <option key={v} value={v}>
          {text}
        </option>
      ))}
    </TextField>
  );
}
