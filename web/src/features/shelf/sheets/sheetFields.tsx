/** The fields of which the form of a sheet is made: a tick, an amount, degrees, a line of text, each at its place in the draft. */
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { QuantityField } from '../../../ui/QuantityField';
import type { SheetForm } from './useSheetForm';

export const THREE = { display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr', md: 'repeat(3, 1fr)' } };
export const TRI = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
  { value: 'unknown', label: 'unknown' },
] as const;
export const pairs = (words: readonly string[]) => words.map((w) => [w, w] as const);

type Line = 'name' | 'reason' | 'grade' | 'categories' | 'minutes' | 'months' | 'note' | 'approvals' | 'also' | 'cycles' | 'selector' | 'resets';
type Amount = 'total' | 'residual' | 'rinse' | 'surplus' | 'modifier' | 'flush';
type Tick = 'hypoid' | 'noEp' | 'wetClutch' | 'synchro' | 'nonDetergent' | 'warmUp' | 'forLife';

export function fieldsOf({ d, set, at }: SheetForm) {
  return {
    tick: (label: string, key: Tick) => (
      <FormControlLabel control={<Checkbox checked={d[key]} onChange={(e) => set({ [key]: e.target.checked })} />} label={label} />
    ),
    amount: (label: string, key: Amount, field: string, hint = '') => (
      <QuantityField label={label} kind="volume" value={d[key]} onChange={(text) => set({ [key]: text })} problem={at(field)} hint={hint} />
    ),
    degrees: (label: string, key: 'windowLow' | 'windowHigh' | 'thermostat', field: string, hint = '') => (
      <QuantityField label={label} kind="temperature" value={d[key]} onChange={(text) => set({ [key]: text })} problem={at(field)} hint={hint} />
    ),
    line: (label: string, key: Line, field: string, hint = '') => (
      <TextField
        label={label}
        value={d[key]}
        onChange={(e) => set({ [key]: e.target.value })}
        error={Boolean(at(field))}
        helperText={at(field) || hint || ' '}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
    ),
  };
}
