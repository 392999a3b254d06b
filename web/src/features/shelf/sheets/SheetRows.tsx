/** The rows of a sheet being written: variants, casing marks, kit, grades by weather. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { type FieldArrayPath, type FieldArrayWithId, useFieldArray, useWatch } from 'react-hook-form';
import { Amount, Line, OneOf, YesNo } from '../../../ui/form/fields';
import { BLANK, type SheetDraft } from './sheetDraft';

type Pairs = readonly (readonly [string, string])[];
type RowsProps<N extends FieldArrayPath<SheetDraft>> = {
  name: N;
  add: string;
  blank: () => SheetDraft[N & keyof SheetDraft] extends (infer R)[] ? R : never;
  out: (row: FieldArrayWithId<SheetDraft, N>) => string;
  children: (k: number) => ReactNode;
};

/** Rows that can be added and taken out. */
function Rows<N extends 'ambient' | 'variants' | 'casing_marks' | 'kit'>({ name, add, blank, out, children }: RowsProps<N>) {
  const { fields, append, remove } = useFieldArray<SheetDraft, N>({ name });
  const now = useWatch<SheetDraft, N>({ name });
  return (
    <>
      {fields.map((row, k) => (
        <Box key={row.id} sx={{ borderTop: 1, borderColor: 'divider', pt: 1, display: 'grid', gap: 1 }}>
          {children(k)}
          <Button variant="text" size="small" sx={{ justifySelf: 'start', px: 0 }} onClick={() => remove(k)}>
            {out({ ...row, ...((now as object[])[k] ?? {}) })}
          </Button>
        </Box>
      ))}
      <Button variant="outlined" onClick={() => append(blank() as Parameters<typeof append>[0])} sx={{ justifySelf: 'start' }}>
        {add}
      </Button>
    </>
  );
}

const across = (columns: string) => ({ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr 1fr', md: columns }, alignItems: 'start' });

export function AmbientRows() {
  return (
    <Rows name="ambient" add={t`A grade for some weather`} blank={BLANK.ambient} out={(a) => t`Take out ${a.grade || t`this grade`}`}>
      {(k) => (
        <Box sx={across('1fr 1fr 1fr')}>
          <Line<SheetDraft> name={`ambient.${k}.grade`} label={t`Grade`} most={40} />
          <Amount<SheetDraft> name={`ambient.${k}.min_c`} label={t`From`} kind="temperature" hint={t`empty: however cold`} />
          <Amount<SheetDraft> name={`ambient.${k}.max_c`} label={t`To`} kind="temperature" hint={t`empty: however warm`} />
        </Box>
      )}
    </Rows>
  );
}

function Heads({ k, drives, plugs }: { k: number; drives: Pairs; plugs: string[] }) {
  const { fields, append } = useFieldArray<SheetDraft, `variants.${number}.heads`>({ name: `variants.${k}.heads` });
  return (
    <>
      {fields.map((head, i) => (
        <Box key={head.id} sx={{ ...across('1fr 1fr 1fr 1fr'), pl: 3 }}>
          <OneOf<SheetDraft> name={`variants.${k}.heads.${i}.plug`} label={t`Head of`} options={plugs.map((p) => [p, p] as const)} />
          <OneOf<SheetDraft> name={`variants.${k}.heads.${i}.drive`} label={t`Drive of the head`} options={drives} />
          <Amount<SheetDraft> name={`variants.${k}.heads.${i}.size_mm`} label={t`Key of the head`} kind="length" />
          <Amount<SheetDraft> name={`variants.${k}.heads.${i}.torque_nm`} label={t`Its torque`} kind="torque" />
        </Box>
      ))}
      <Button
        variant="text"
        size="small"
        sx={{ justifySelf: 'start' }}
        onClick={() => append(BLANK.head(plugs[0] ?? ''))}>{t`It has another plug head`}</Button>
    </>
  );
}

export function VariantRows({ drives, plugs }: { drives: Pairs; plugs: string[] }) {
  return (
    <Rows name="variants" add={t`One more variant`} blank={BLANK.variant} out={(v) => t`Take out ${v.name || t`this variant`}`}>
      {(k) => (
        <>
          <Box sx={across('1.2fr 1.4fr 1fr 1fr 1fr')}>
            <Line<SheetDraft> name={`variants.${k}.name`} label={t`Variant`} />
            <Line<SheetDraft> name={`variants.${k}.mark`} label={t`Marked on the casing`} />
            <Amount<SheetDraft> name={`variants.${k}.capacity_ml`} label={t`Takes`} kind="volume" hint={t`empty: as the sheet`} />
            <Line<SheetDraft> name={`variants.${k}.grade`} label={t`Grade of this one`} most={40} />
            <Line<SheetDraft> name={`variants.${k}.categories`} label={t`Categories of this one`} most={40} />
          </Box>
          <Heads k={k} drives={drives} plugs={plugs} />
        </>
      )}
    </Rows>
  );
}

export function MarkRows() {
  return (
    <Rows name="casing_marks" add={t`One more mark`} blank={BLANK.mark} out={(m) => t`Take out ${m.where || t`this mark`}`}>
      {(k) => (
        <Box sx={across('1fr 1fr 1.4fr')}>
          <Line<SheetDraft> name={`casing_marks.${k}.where`} label={t`Where to look`} most={80} />
          <Line<SheetDraft> name={`casing_marks.${k}.reads`} label={t`What stands there`} most={80} />
          <Line<SheetDraft> name={`casing_marks.${k}.tells`} label={t`What it tells`} most={120} />
        </Box>
      )}
    </Rows>
  );
}

const KIT = ['seal', 'part', 'tool'].map((kind) => [kind, kind] as const);

export function KitRows() {
  return (
    <Rows name="kit" add={t`One more seal, part or tool`} blank={BLANK.kit} out={(i) => t`Take out ${i.name || t`this`}`}>
      {(k) => (
        <Box sx={across('1.6fr 1fr 90px 1.4fr auto')}>
          <Line<SheetDraft> name={`kit.${k}.name`} label={t`What`} most={80} />
          <OneOf<SheetDraft> name={`kit.${k}.kind`} label={t`It is a`} options={KIT} />
          <Line<SheetDraft> name={`kit.${k}.count`} label={t`How many`} most={3} />
          <Line<SheetDraft> name={`kit.${k}.use`} label={t`For`} most={80} />
          <YesNo<SheetDraft> name={`kit.${k}.mandatory`} label={t`mandatory`} />
        </Box>
      )}
    </Rows>
  );
}
