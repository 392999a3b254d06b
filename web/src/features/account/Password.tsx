/** A password that is chosen: what it must be stands beside it. */
import { t } from '@lingui/core/macro';
import TextField from '@mui/material/TextField';

type Props = { label: string; value: string; change: (value: string) => void; problem?: string; old?: boolean };

export function Password({ label, value, change, problem = '', old = false }: Props) {
  return (
    <TextField
      label={label}
      type="password"
      value={value}
      onChange={(e) => change(e.target.value)}
      autoComplete={old ? 'current-password' : 'new-password'}
      error={Boolean(problem)}
      helperText={problem || (old ? ' ' : t`at least 10 characters, none that everybody uses`)}
      slotProps={{ htmlInput: { maxLength: 200 } }}
    />
  );
}
