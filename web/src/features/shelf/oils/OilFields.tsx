/** The fields of an oil, as its label and data sheet have them. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { Choice } from '../../../ui/Choice';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { Words } from '../../../ui/Words';
import { BASES, blankPack, FAMILIES, type OilDraft, STRIPS } from './oilDraft';

const TRI = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
  { value: 'unknown', label: 'not stated' },
] as const;

export function OilFields({ d, set, at }: { d: OilDraft; set: (part: Partial<OilDraft>) => void; at: (field: string) => string }) {
  const tick = (label: string, key: 'friction' | 'safe' | 'settles') => (
    <FormControlLabel control={<Checkbox checked={d[key]} onChange={(e) => set({ [key]: e.target.checked })} />} label={label} />
  );
  return (
    <>
      <Words label="Name on the label" value={d.name} onChange={(name) => set({ name })} problem={at('name')} />
      <Pick
        label="Family"
        value={d.family}
        options={FAMILIES.map((f) => [f, f])}
        onChange={(family) => set({ family: family as OilDraft['family'] })}
        problem={at('family')}
      />
      <Words label="Grade" value={d.grade} onChange={(grade) => set({ grade })} problem={at('grade')} hint="75W-90, SAE 30, ISO VG 46" />
      <Words
        label="API categories"
        value={d.categories}
        onChange={(categories) => set({ categories })}
        problem={at('categories') || at('category')}
        hint="GL-4, GL-5, MT-1; empty: none on the label"
      />
      <Words
        label="Viscosity at 40 °C, mm²/s"
        value={d.kv40}
        onChange={(kv40) => set({ kv40 })}
        problem={at('kv40')}
        hint="empty: estimated from the grade, and marked so"
      />
      <Words label="Viscosity at 100 °C, mm²/s" value={d.kv100} onChange={(kv100) => set({ kv100 })} problem={at('kv100')} />
      <Words label="Density at 15 °C, kg/m³" value={d.density} onChange={(density) => set({ density })} problem={at('density15')} hint="empty: unknown" />
      <Pick
        label="Copper strip, ASTM D130"
        value={d.strip}
        options={STRIPS.map((s) => [s, s || 'not stated'])}
        onChange={(strip) => set({ strip: strip as OilDraft['strip'] })}
        problem={at('copper_strip')}
      />
      <Pick
        label="Base"
        value={d.base}
        options={BASES.map((b) => [b, b || 'not stated'])}
        onChange={(base) => set({ base: base as OilDraft['base'] })}
        problem={at('base')}
      />
      <Words
        label="Approvals and fluids it claims"
        value={d.approvals}
        onChange={(approvals) => set({ approvals })}
        problem={at('approvals')}
        hint="set apart by commas"
        most={300}
      />
      <Box sx={{ display: 'grid' }}>
        {tick('Friction modifier in it', 'friction')}
        {tick('Declared safe for yellow metal', 'safe')}
        {tick('Settles: shake it', 'settles')}
      </Box>
      <Choice label="Detergent" value={d.detergent} options={TRI} onChange={(detergent) => set({ detergent })} />
      {d.packs.map((p, k) => (
        <Box key={p.key} sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, gridColumn: '1 / -1' }}>
          <QuantityField
            label={`Pack ${k + 1}`}
            kind="volume"
            value={p.size}
            onChange={(size) => set({ packs: d.packs.map((o) => (o.key === p.key ? { ...o, size } : o)) })}
            problem={at(`packs.${k}.size_ml`)}
          />
          <Words
            label={`Price of pack ${k + 1}`}
            value={p.price}
            onChange={(price) => set({ packs: d.packs.map((o) => (o.key === p.key ? { ...o, price } : o)) })}
            problem={at(`packs.${k}.price`)}
            most={12}
          />
        </Box>
      ))}
      <Button variant="text" onClick={() => set({ packs: [...d.packs, blankPack()] })} sx={{ justifySelf: 'start' }}>
        One more pack
      </Button>
    </>
  );
}
