/** A line of text with its limit, its hint, and what the server says of it. */
import TextField from '@mui/material/TextField';
import type { Ref } from 'react';

type Props = {
  label: string;
  value: string;
  onChange: (text: string) => void;
  problem?: string;
  hint?: string;
  most?: number;
  lines?: number;
  autoFocus?: boolean;
  inputRef?: Ref<HTMLInputElement>;
};

export function Words({ label, value, onChange, problem = '', hint = '', most = 60, lines = 0, autoFocus, inputRef }: Props) {
  return (
    <TextField
      label={label}
      value={value}
      multiline={lines > 0}
      minRows={lines || undefined}
      autoFocus={autoFocus}
      inputRef={inputRef}
      onChange={(e) => onChange(e.target.value)}
      error={Boolean(problem)}
      helperText={problem || hint || ' '}
      slotProps={{ htmlInput: { maxLength: most } }}
    />
  );
}
