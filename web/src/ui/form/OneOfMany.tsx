/** One of many, found by typing: for lists that are too long to scroll. */
import { t } from '@lingui/core/macro';
import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { type FieldValues, type Path, useController } from 'react-hook-form';

type Props = {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
  problem?: string;
  hint?: string;
};

/** The same outside a form. */
export function FindOne({ label, value, options, onChange, problem = '', hint = '' }: Props) {
  const chosen = options.find(([v]) => v === value) ?? null;
  return (
    <Autocomplete
      options={options as [string, string][]}
      value={chosen as [string, string] | null}
      getOptionLabel={([, text]) => text}
      getOptionKey={([v]) => v}
      isOptionEqualToValue={(a, b) => a[0] === b[0]}
      onChange={(_, next) => onChange(next?.[0] ?? '')}
      noOptionsText={t`nothing of that name`}
      renderInput={(params) => <TextField {...params} label={label} error={Boolean(problem)} helperText={problem || hint || ' '} />}
    />
  );
}

export function OneOfMany<T extends FieldValues>({ name, ...more }: Omit<Props, 'value' | 'onChange' | 'problem'> & { name: Path<T> }) {
  const { field, fieldState } = useController<T>({ name });
  return <FindOne {...more} value={String(field.value ?? '')} onChange={field.onChange as (v: string) => void} problem={fieldState.error?.message ?? ''} />;
}
