/** A line of text with its limit, its hint, and what the server says of it. */
import TextField from '@mui/material/TextField';

type Props = {
  label: string;
  value: string;
  onChange: (text: string) => void;
  problem?: string;
  hint?: string;
  most?: number;
  type?: string;
  autoFocus?: boolean;
};

export function Words({ label, value, onChange, problem = '', hint = '', most = 60, type, autoFocus }: Props) {
  return (
    <TextField
      label={label}
      value={value}
      type={type}
      autoFocus={autoFocus}
      onChange={(e) => onChange(e.target.value)}
      error={Boolean(problem)}
      helperText={problem || hint || ' '}
      slotProps={{ htmlInput: { maxLength: most }, inputLabel: type === 'date' ? { shrink: true } : undefined }}
    />
  );
}
