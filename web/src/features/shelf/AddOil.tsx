/** A new oil on the list, and a container of one put on the shelf. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, Refused, type Schemas } from '../../app/api';
import { useMay } from '../../app/session';
import { Pick } from '../../ui/Pick';
import { QuantityField } from '../../ui/QuantityField';
import { Trouble } from '../../ui/Trouble';

export const FAMILIES = ['gear', 'atf', 'engine', 'ester turbine', 'clutch fluid', 'hub', 'chain case'] as const;

export function AddOil() {
  const [open, setOpen] = useState(false);
  const [d, setD] = useState({
    name: '',
    family: 'gear' as (typeof FAMILIES)[number],
    grade: '',
    categories: '',
    density: '',
    friction: false,
    safe: false,
    size: '',
    price: '',
  });
  const cache = useQueryClient();
  const send = useMutation({
    mutationFn: () =>
      ask(
        client.POST('/api/lubricants', {
          body: {
            name: d.name,
            family: d.family,
            grade: d.grade,
            categories: d.categories,
            density15: d.density.trim() ? Number(d.density.replace(',', '.')) : null,
            friction_modifier: d.friction,
            safe_for_yellow_metal: d.safe,
            settles: false,
            packs: d.size.trim() ? [{ size_ml: d.size, price: d.price || '0' }] : [],
          },
        }),
      ),
    onSuccess: () => {
      setOpen(false);
      return cache.invalidateQueries();
    },
  });
  const at = (field: string) => (send.error instanceof Refused ? send.error.at(field) : '');
  const set = (part: Partial<typeof d>) => setD({ ...d, ...part });
  if (!open)
    return (
      <Button variant="text" onClick={() => setOpen(true)} sx={{ justifySelf: 'start' }}>
        Add an oil
      </Button>
    );
  const line = (label: string, key: 'name' | 'grade' | 'categories' | 'density' | 'price', field: string, hint = '') => (
    <TextField
      label={label}
      value={d[key]}
      onChange={(e) => set({ [key]: e.target.value })}
      error={Boolean(at(field))}
      helperText={at(field) || hint || ' '}
      slotProps={{ htmlInput: { maxLength: 60 } }}
    />
  );
  return (
    <Box
      component="form"
      sx={{ bgcolor: (t) => t.tones.pan, p: 2, borderRadius: 2, display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}
      onSubmit={(e) => {
        e.preventDefault();
        send.mutate();
      }}>
      {line('Name on the label', 'name', 'name')}
      <Pick label="Family" value={d.family} options={FAMILIES.map((f) => [f, f])} onChange={(family) => set({ family: family as typeof d.family })} />
      {line('Grade', 'grade', 'grade', '75W-90, SAE 30')}
      {line('API categories', 'categories', 'categories', 'GL-4, GL-5, MT-1')}
      {line('Density at 15 °C, kg/m³', 'density', 'density15', 'empty: unknown')}
      <Box sx={{ display: 'grid' }}>
        <FormControlLabel control={<Checkbox checked={d.friction} onChange={(e) => set({ friction: e.target.checked })} />} label="Friction modifier in it" />
        <FormControlLabel control={<Checkbox checked={d.safe} onChange={(e) => set({ safe: e.target.checked })} />} label="Declared safe for yellow metal" />
      </Box>
      <QuantityField label="Pack" kind="volume" value={d.size} onChange={(size) => set({ size })} problem={at('packs.0.size_ml')} />
      {line('Price of the pack', 'price', 'packs.0.price')}
      <Box sx={{ gridColumn: '1 / -1', display: 'grid', gap: 1 }}>
        <Trouble error={send.error} />
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button type="submit" variant="contained" disabled={send.isPending}>
            Add it
          </Button>
          <Button variant="text" onClick={() => setOpen(false)}>
            Not now
          </Button>
        </Box>
      </Box>
    </Box>
  );
}

export function Stock({ oil }: { oil: Schemas['LubricantView'] }) {
  const [open, setOpen] = useState(false);
  const mayStock = useMay('technician');
  const [d, setD] = useState({ label: '', size: '', content: '', graduated: true });
  const cache = useQueryClient();
  const send = useMutation({
    mutationFn: () =>
      ask(
        client.POST('/api/containers', {
          body: { lubricant_id: oil.id, label: d.label, size_ml: d.size, content_ml: d.content || d.size, graduated: d.graduated },
        }),
      ),
    onSuccess: () => {
      setOpen(false);
      setD({ label: '', size: '', content: '', graduated: true });
      return cache.invalidateQueries();
    },
  });
  const at = (field: string) => (send.error instanceof Refused ? send.error.at(field) : '');
  if (!mayStock) return null;
  if (!open)
    return (
      <Button variant="text" size="small" onClick={() => setOpen(true)} sx={{ px: 0, minHeight: 32 }} aria-label={`Put one on the shelf: ${oil.name}`}>
        Put one on the shelf
      </Button>
    );
  return (
    <Box
      component="form"
      sx={{ display: 'grid', gap: 1, mt: 1 }}
      onSubmit={(e) => {
        e.preventDefault();
        send.mutate();
      }}>
      <TextField
        autoFocus
        label="What it is called"
        value={d.label}
        onChange={(e) => setD({ ...d, label: e.target.value })}
        error={Boolean(at('label'))}
        helperText={at('label') || ' '}
        slotProps={{ htmlInput: { maxLength: 40 } }}
      />
      <QuantityField label="Its size" kind="volume" value={d.size} onChange={(size) => setD({ ...d, size })} problem={at('size_ml')} />
      <QuantityField
        label="What is in it"
        kind="volume"
        value={d.content}
        onChange={(content) => setD({ ...d, content })}
        problem={at('content_ml')}
        hint="empty: full"
      />
      <FormControlLabel
        control={<Checkbox checked={d.graduated} onChange={(e) => setD({ ...d, graduated: e.target.checked })} />}
        label="It has marks to read"
      />
      <Trouble error={send.error} />
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button type="submit" variant="outlined" disabled={send.isPending}>
          Put it there
        </Button>
        <Button variant="text" onClick={() => setOpen(false)}>
          Not now
        </Button>
      </Box>
    </Box>
  );
}
