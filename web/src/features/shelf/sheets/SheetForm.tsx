/** The form of a sheet: what is needed now stands open (kind, capacity, oil, plugs); the rest is folded, with what is filled in shown. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { FormProvider } from 'react-hook-form';
import { Line, pairs } from '../../../ui/form/fields';
import { Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { Trouble } from '../../../ui/Trouble';
import { Field, FigureFields, THREE } from './FigureFields';
import { shown } from './layers';
import { PlugLines } from './PlugLine';
import { Reason, SheetLayers } from './SheetLayers';
import { ofKind, type SheetDraft, type Words } from './sheetDraft';
import { useSheetForm } from './useSheetForm';

type Props = { start: SheetDraft; sheet: number; from?: number; words: Words };

export function Form({ start, sheet, from = 0, words }: Props) {
  const { form, act, submit, overtaken, named, takeTheirs } = useSheetForm(start, sheet, from, words);
  const d = form.watch();
  const group = (key: string) => shown(d, words).filter((f) => f.group === key);
  const choose = (kind: string) => {
    const { figures, plugs } = ofKind(d, kind, words.kinds);
    form.setValue('kind', kind);
    form.setValue('figures', figures);
    if (plugs !== d.plugs) form.setValue('plugs', plugs);
  };
  return (
    <FormProvider {...form}>
      <Box
        component="form"
        noValidate
        sx={{ display: 'grid', gap: 2.5, maxWidth: 1120 }}
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}>
        <Box sx={THREE}>
          {sheet ? <Reason /> : <Line<SheetDraft> name="name" label={t`Name of the sheet`} most={80} />}
          {!sheet && <Pick label={t`Kind of compartment`} value={d.kind} options={pairs(words.kinds.map((k) => k.name))} onChange={choose} />}
          {group('amount').map((f) => (
            <Field key={f.name} f={f} />
          ))}
        </Box>
        <Section title={t`Oil`}>
          <FigureFields figures={group('oil')} />
        </Section>
        <Section title={t`Opening and filling`}>
          <FigureFields figures={group('ways')} />
          <PlugLines words={words.sheet} plugs={d.plugs} />
        </Section>
        <Box>
          <SheetLayers d={d} words={words} named={named} />
        </Box>
        <Trouble error={act.error} />
        <Button type="submit" variant="contained" disabled={act.isPending} sx={{ justifySelf: 'start' }}>
          {overtaken ? t`Write mine over theirs` : sheet ? t`Write the revision` : t`Write the sheet`}
        </Button>
        {overtaken && <Button variant="outlined" onClick={takeTheirs} sx={{ justifySelf: 'start' }}>{t`Start again from what stands there`}</Button>}
      </Box>
    </FormProvider>
  );
}
