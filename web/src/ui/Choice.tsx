/** One of a few: large buttons, one of them chosen; arrow keys move as in any radio group. */
import Box from '@mui/material/Box';
import FormControl from '@mui/material/FormControl';
import FormControlLabel from '@mui/material/FormControlLabel';
import FormLabel from '@mui/material/FormLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { useId } from 'react';
import { UNSEEN } from './unseen';

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
  const id = useId();
  return (
    <FormControl component="fieldset" sx={{ minWidth: 0 }}>
      <FormLabel component="legend" id={id} focused={false} sx={hideLabel ? UNSEEN : { typography: 'h4', color: 'text.primary', mb: 1, p: 0 }}>
        {label}
      </FormLabel>
      <RadioGroup row aria-labelledby={id} name={id} value={value} onChange={(_, chosen) => onChange(chosen as V)} sx={{ gap: 1 }}>
        {options.map((o) => (
          <FormControlLabel
            key={o.value}
            value={o.value}
            disableTypography
            label={<Box component="span">{o.label}</Box>}
            control={
              <Radio disableRipple icon={<span />} checkedIcon={<span />} sx={{ position: 'absolute', opacity: 0, width: '1px', height: '1px', p: 0 }} />
            }
            sx={{
              position: 'relative',
              m: 0,
              minHeight: large ? 56 : 44,
              px: 2,
              borderRadius: 2,
              border: 2,
              bgcolor: 'background.paper',
              borderColor: value === o.value ? 'text.primary' : 'divider',
              boxShadow: (t) => (value === o.value ? `inset 0 0 0 1px ${t.tones.ink}` : 'none'),
              fontWeight: value === o.value ? 700 : 400,
              '&:has(:focus-visible)': { outline: (t) => `3px solid ${t.tones.amberText}`, outlineOffset: 2 },
            }}
          />
        ))}
      </RadioGroup>
    </FormControl>
  );
}
