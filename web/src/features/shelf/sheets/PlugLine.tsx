/** One plug of a sheet as it is written. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import type { PlugDraft } from './sheetDraft';

const ROLES = ['fill', 'drain', 'level', 'combination', 'dipstick', 'cover'] as const;
const SEALS = ['crush washer', 'O-ring', 'taper thread', 'PTFE tape', 'thread-lock', 'gasket', 'sealant', 'new plug', 'none', 'unknown'] as const;
export const DRIVES = ['hex socket', 'hex head', 'square', 'six-lobe', 'multi-point', 'slot', 'by hand', 'unknown'] as const;
const pairs = (words: readonly string[]) => words.map((w) => [w, w] as const);

export type At = (field: string) => string;

export function PlugLine({ p, k, change, remove, at }: { p: PlugDraft; k: number; change: (p: PlugDraft) => void; remove: () => void; at: At }) {
  const set = (part: Partial<PlugDraft>) => change({ ...p, ...part });
  return (
    <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr 1fr', md: '120px 1.2fr 1fr 1fr 1fr 1.1fr auto auto' }, alignItems: 'start' }}>
      <Pick label="Role" value={p.role} options={pairs(ROLES)} onChange={(role) => set({ role: role as PlugDraft['role'] })} problem={at(`plugs.${k}.role`)} />
      <TextField
        label="Called"
        value={p.label}
        onChange={(e) => set({ label: e.target.value })}
        error={Boolean(at(`plugs.${k}.label`))}
        helperText={at(`plugs.${k}.label`) || ' '}
        slotProps={{ htmlInput: { maxLength: 40 } }}
      />
      <Pick label="Drive" value={p.drive} options={pairs(DRIVES)} onChange={(drive) => set({ drive: drive as PlugDraft['drive'] })} />
      <QuantityField label="Key" kind="length" value={p.size} onChange={(size) => set({ size })} problem={at(`plugs.${k}.size_mm`)} />
      <Pick label="Seal" value={p.seal} options={pairs(SEALS)} onChange={(seal) => set({ seal: seal as PlugDraft['seal'] })} />
      <QuantityField
        label="Torque"
        kind="torque"
        value={p.torque}
        onChange={(torque) => set({ torque })}
        problem={at(`plugs.${k}.torque_nm`)}
        hint="empty: unknown"
      />
      <FormControlLabel control={<Checkbox checked={p.magnet} onChange={(e) => set({ magnet: e.target.checked })} />} label="magnet" />
      <Button variant="text" onClick={remove} aria-label={`Take out ${p.label}`}>
        Take out
      </Button>
    </Box>
  );
}
