/** The plugs of a sheet as they are written. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useFieldArray, useFormContext } from 'react-hook-form';
import type { Schemas } from '../../../app/api';
import { Amount, Line, OneOf, pairs, YesNo } from '../../../ui/form/fields';
import { Trouble } from '../../../ui/Trouble';
import { BLANK, type SheetDraft } from './sheetDraft';

const GRID = { display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr 1fr', md: '120px 1.2fr 1fr 1fr 1fr 1.1fr auto auto' }, alignItems: 'start' };

export function PlugLines({ words, plugs }: { words: Schemas['SheetWords']; plugs: SheetDraft['plugs'] }) {
  const { fields, append, remove } = useFieldArray<SheetDraft, 'plugs'>({ name: 'plugs' });
  const wrong = useFormContext<SheetDraft>().formState.errors.plugs?.message;
  return (
    <>
      {fields.map((row, k) => (
        <Box key={row.id} sx={GRID}>
          <OneOf<SheetDraft> name={`plugs.${k}.role`} label={t`Role`} options={pairs(words.roles)} />
          <Line<SheetDraft> name={`plugs.${k}.label`} label={t`Called`} most={40} />
          <OneOf<SheetDraft> name={`plugs.${k}.drive`} label={t`Drive`} options={pairs(words.drives)} />
          <Amount<SheetDraft> name={`plugs.${k}.size_mm`} label={t`Key`} kind="length" />
          <OneOf<SheetDraft> name={`plugs.${k}.seal`} label={t`Seal`} options={pairs(words.seals)} />
          <Amount<SheetDraft> name={`plugs.${k}.torque_nm`} label={t`Torque`} kind="torque" hint={t`empty: unknown`} />
          <YesNo<SheetDraft> name={`plugs.${k}.magnet`} label={t`magnet`} />
          <Button variant="text" onClick={() => remove(k)} aria-label={t`Take out ${plugs[k]?.label ?? ''}`}>{t`Take out`}</Button>
        </Box>
      ))}
      {wrong && <Trouble error={new Error(wrong)} />}
      <Button variant="outlined" onClick={() => append(BLANK.plug('level', 'level plug'))} sx={{ justifySelf: 'start' }}>{t`One more plug`}</Button>
    </>
  );
}
