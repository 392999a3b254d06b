/** One of a few: large buttons, one of them chosen; arrow keys move as in any radio group. */
import Box from '@mui/material/Box';
import { useId } from 'react';

type Option<V extends string> = { value: V; label: string };
type Props<V extends string> = {
  label: string;
  value: V | '';
  options: readonly Option<V>[];
  onChange: (value: V) => void;
  large?: boolean;
  hideLabel?: boolean;
};

export function Choice<V extends string>({ label, value, options, onChange, large = false, hideLabel = false }: Props<V>) {
  const name = useId();
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, minWidth: 0 }}>
      <Box
        component="legend"
        sx={hideLabel ? { position: 'absolute', width: '1px', height: '1px', overflow: 'hidden', clipPath: 'inset(50%)' } : { typography: 'h4', mb: 1, p: 0 }}>
        {label}
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
        {options.map((o) => (
          <Box
            key={o.value}
            component="label"
            sx={{
              position: 'relative',
              display: 'inline-flex',
              alignItems: 'center',
              minHeight: large ? 56 : 44,
              px: 2,
              borderRadius: 2,
              border: 2,
              cursor: 'pointer',
              bgcolor: 'background.paper',
              borderColor: value === o.value ? 'text.primary' : 'divider',
              boxShadow: (t) => (value === o.value ? `inset 0 0 0 1px ${t.tones.ink}` : 'none'),
              fontWeight: value === o.value ? 700 : 400,
              '&:has(:focus-visible)': { outline: (t) => `3px solid ${t.tones.amberText}`, outlineOffset: 2 },
            }}>
            <Box
              component="input"
              type="radio"
              name={name}
              checked={value === o.value}
              onChange={() => onChange(o.value)}
              sx={{ position: 'absolute', opacity: 0, width: 1, height: 1 }}
            />
            {o.label}
          </Box>
        ))}
      </Box>
    </Box>
  );
}
