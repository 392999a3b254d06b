/** The scalar figures of a sheet as fields, each as it is declared. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useController } from 'react-hook-form';
import type { Kind } from '../../../app/session';
import { Amount, Line, OneOf, OneOfFew } from '../../../ui/form/fields';
import type { FigureWords, SheetDraft } from './sheetDraft';

export const THREE = { display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr', md: 'repeat(3, 1fr)' }, alignItems: 'start' };
const TRI = ['yes', 'no', 'unknown'].map((value) => ({ value, label: value }));

function Flag({ f }: { f: FigureWords }) {
  const { field } = useController<SheetDraft>({ name: `figures.${f.name}` });
  return (
    <FormControlLabel
      control={<Checkbox checked={field.value === 'yes'} onChange={(e) => field.onChange(e.target.checked ? 'yes' : 'no')} />}
      label={f.label}
    />
  );
}

export function Field({ f }: { f: FigureWords }) {
  const name = `figures.${f.name}` as const;
  const common = { name, label: f.label, hint: f.hint };
  if (f.kind === 'three') return <OneOfFew<SheetDraft> name={name} label={f.label} options={TRI} />;
  if (f.kind === 'choice') return <OneOf<SheetDraft> {...common} options={f.choices.map((c) => [c, c || t`not stated`] as const)} />;
  if (f.kind === 'lines') return <Line<SheetDraft> {...common} lines={2} most={(f.longest + 1) * f.most} />;
  if (f.kind === 'names') return <Line<SheetDraft> {...common} most={400} />;
  if (f.kind === 'text') return <Line<SheetDraft> {...common} most={f.longest} />;
  if (f.kind === 'minutes' || f.kind === 'months' || f.kind === 'count') return <Line<SheetDraft> {...common} most={12} />;
  return <Amount<SheetDraft> {...common} kind={f.kind as Kind} />;
}

/** A group of figures: what is typed first, then what is one of three, then what is ticked. */
export function FigureFields({ figures }: { figures: FigureWords[] }) {
  const typed = figures.filter((f) => f.kind !== 'three' && f.kind !== 'flag');
  const three = figures.filter((f) => f.kind === 'three');
  const flags = figures.filter((f) => f.kind === 'flag');
  const wide = typed.every((f) => f.kind === 'lines');
  return (
    <>
      {typed.length > 0 && (
        <Box sx={wide ? { display: 'grid' } : THREE}>
          {typed.map((f) => (
            <Field key={f.name} f={f} />
          ))}
        </Box>
      )}
      {three.length > 0 && (
        <Box sx={{ display: 'flex', gap: 4, flexWrap: 'wrap' }}>
          {three.map((f) => (
            <Field key={f.name} f={f} />
          ))}
        </Box>
      )}
      {flags.length > 0 && (
        <Box sx={{ display: 'flex', columnGap: 3, flexWrap: 'wrap' }}>
          {flags.map((f) => (
            <Flag key={f.name} f={f} />
          ))}
        </Box>
      )}
    </>
  );
}
