/** The fields of an oil, as its label and data sheet have them. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useFieldArray } from 'react-hook-form';
import { Amount, Line, OneOf, OneOfFew, pairs, YesNo } from '../../../ui/form/fields';
import { BASES, blankPack, FAMILIES, type OilDraft, STRIPS } from './oilDraft';

const TRI = [
  { value: 'yes', label: t`yes` },
  { value: 'no', label: t`no` },
  { value: 'unknown', label: t`not stated` },
] as const;
const orNot = (words: readonly string[]) => words.map((w) => [w, w || t`not stated`] as const);

function Packs() {
  const { fields, append } = useFieldArray<OilDraft, 'packs'>({ name: 'packs' });
  return (
    <>
      {fields.map((p, k) => (
        <Box key={p.id} sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, gridColumn: '1 / -1' }}>
          <Amount name={`packs.${k}.size_ml`} label={t`Pack ${k + 1}`} kind="volume" />
          <Line name={`packs.${k}.price`} label={t`Price of pack ${k + 1}`} most={12} hint={t`empty: not known`} />
        </Box>
      ))}
      <Button variant="text" onClick={() => append(blankPack())} sx={{ justifySelf: 'start' }}>{t`One more pack`}</Button>
    </>
  );
}

export function OilFields() {
  return (
    <>
      <Line name="name" label={t`Name on the label`} />
      <OneOf name="family" label={t`Family`} options={pairs(FAMILIES)} />
      <Line name="grade" label={t`Grade`} hint={t`75W-90, SAE 30, ISO VG 46`} />
      <Line name="categories" label={t`API categories`} hint={t`GL-4, GL-5, MT-1; empty: none on the label`} />
      <Line name="kv40" label={t`Viscosity at 40 °C, mm²/s`} hint={t`empty: estimated from the grade, and marked so`} />
      <Line name="kv100" label={t`Viscosity at 100 °C, mm²/s`} />
      <Line name="density15" label={t`Density at 15 °C, kg/m³`} hint={t`empty: unknown`} />
      <OneOf name="copper_strip" label={t`Copper strip, ASTM D130`} options={orNot(STRIPS)} />
      <OneOf name="base" label={t`Base`} options={orNot(BASES)} />
      <Line name="approvals" label={t`Approvals and fluids it claims`} hint={t`set apart by commas`} most={300} />
      <Box sx={{ display: 'grid' }}>
        <YesNo name="friction_modifier" label={t`Friction modifier in it`} />
        <YesNo name="safe_for_yellow_metal" label={t`Declared safe for yellow metal`} />
        <YesNo name="settles" label={t`Settles: shake it`} />
      </Box>
      <OneOfFew name="detergent" label={t`Detergent`} options={TRI} />
      <Packs />
    </>
  );
}
