/** The rows of a sheet being written: variants, casing marks, kit, grades by weather. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import type { ReactNode } from 'react';
import { Layer } from '../../../ui/Layer';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { Words } from '../../../ui/Words';
import type { LayerKey } from './layers';
import { blankAmbient, blankHead, blankKit, blankMark, blankVariant, type SheetDraft } from './sheetDraft';

type At = (field: string) => string;
type Layered = (key: LayerKey) => { title: string; said: string[]; wrong: boolean };
type Props = { d: SheetDraft; set: (part: Partial<SheetDraft>) => void; at: At; layer: Layered; drives: readonly (readonly [string, string])[] };
type RowProps<R> = { row: R; k: number; change: (part: Partial<R>) => void };

/** Rows that can be added and taken out. */
function Rows<R extends { key: string }>({
  rows,
  change,
  add,
  blank,
  out,
  children,
}: {
  rows: R[];
  change: (rows: R[]) => void;
  add: string;
  blank: () => R;
  out: (row: R) => string;
  children: (p: RowProps<R>) => ReactNode;
}) {
  return (
    <>
      {rows.map((row, k) => (
        <Box key={row.key} sx={{ borderTop: 1, borderColor: 'divider', pt: 1, display: 'grid', gap: 1 }}>
          {children({ row, k, change: (part) => change(rows.map((o) => (o.key === row.key ? { ...o, ...part } : o))) })}
          <Button variant="text" size="small" sx={{ justifySelf: 'start', px: 0 }} onClick={() => change(rows.filter((o) => o.key !== row.key))}>
            {out(row)}
          </Button>
        </Box>
      ))}
      <Button variant="outlined" onClick={() => change([...rows, blank()])} sx={{ justifySelf: 'start' }}>
        {add}
      </Button>
    </>
  );
}

const across = (columns: string) => ({ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr 1fr', md: columns }, alignItems: 'start' });

export function SheetRows({ d, set, at, layer, drives }: Props) {
  return (
    <>
      <Layer {...layer('weather')}>
        <Rows
          rows={d.ambient}
          change={(ambient) => set({ ambient })}
          add="A grade for some weather"
          blank={blankAmbient}
          out={(a) => `Take out ${a.grade || 'this grade'}`}>
          {({ row, k, change }) => (
            <Box sx={across('1fr 1fr 1fr')}>
              <Words label="Grade" value={row.grade} onChange={(grade) => change({ grade })} problem={at(`ambient.${k}.grade`)} most={40} />
              <QuantityField
                label="From"
                kind="temperature"
                value={row.min}
                onChange={(min) => change({ min })}
                problem={at(`ambient.${k}.min_c`)}
                hint="empty: however cold"
              />
              <QuantityField
                label="To"
                kind="temperature"
                value={row.max}
                onChange={(max) => change({ max })}
                problem={at(`ambient.${k}.max_c`)}
                hint="empty: however warm"
              />
            </Box>
          )}
        </Rows>
      </Layer>
      <Layer {...layer('variants')}>
        <Rows
          rows={d.variants}
          change={(variants) => set({ variants })}
          add="One more variant"
          blank={blankVariant}
          out={(v) => `Take out ${v.name || 'this variant'}`}>
          {({ row, k, change }) => (
            <>
              <Box sx={across('1.2fr 1.4fr 1fr 1fr 1fr')}>
                <Words label="Variant" value={row.name} onChange={(name) => change({ name })} problem={at(`variants.${k}.name`)} />
                <Words label="Marked on the casing" value={row.mark} onChange={(mark) => change({ mark })} problem={at(`variants.${k}.mark`)} />
                <QuantityField
                  label="Takes"
                  kind="volume"
                  value={row.capacity}
                  onChange={(capacity) => change({ capacity })}
                  problem={at(`variants.${k}.capacity_ml`)}
                  hint="empty: as the sheet"
                />
                <Words label="Grade of this one" value={row.grade} onChange={(grade) => change({ grade })} problem={at(`variants.${k}.grade`)} most={40} />
                <Words
                  label="Categories of this one"
                  value={row.categories}
                  onChange={(categories) => change({ categories })}
                  problem={at(`variants.${k}.categories`)}
                  most={40}
                />
              </Box>
              {row.heads.map((h, i) => {
                const head = (part: Partial<typeof h>) => change({ heads: row.heads.map((o) => (o.key === h.key ? { ...o, ...part } : o)) });
                return (
                  <Box key={h.key} sx={{ ...across('1fr 1fr 1fr 1fr'), pl: 3 }}>
                    <Pick
                      label="Head of"
                      value={h.plug}
                      options={d.plugs.map((p) => [p.label, p.label] as const)}
                      onChange={(plug) => head({ plug })}
                      problem={at(`variants.${k}.heads.${i}.plug`)}
                    />
                    <Pick label="Drive of the head" value={h.drive} options={drives} onChange={(drive) => head({ drive: drive as typeof h.drive })} />
                    <QuantityField
                      label="Key of the head"
                      kind="length"
                      value={h.size}
                      onChange={(size) => head({ size })}
                      problem={at(`variants.${k}.heads.${i}.size_mm`)}
                    />
                    <QuantityField
                      label="Its torque"
                      kind="torque"
                      value={h.torque}
                      onChange={(torque) => head({ torque })}
                      problem={at(`variants.${k}.heads.${i}.torque_nm`)}
                    />
                  </Box>
                );
              })}
              <Button
                variant="text"
                size="small"
                sx={{ justifySelf: 'start' }}
                onClick={() => change({ heads: [...row.heads, blankHead(d.plugs[0]?.label ?? '')] })}>
                It has another plug head
              </Button>
            </>
          )}
        </Rows>
      </Layer>
      <Layer {...layer('casing')}>
        <Rows rows={d.marks} change={(marks) => set({ marks })} add="One more mark" blank={blankMark} out={(m) => `Take out ${m.where || 'this mark'}`}>
          {({ row, k, change }) => (
            <Box sx={across('1fr 1fr 1.4fr')}>
              <Words label="Where to look" value={row.where} onChange={(where) => change({ where })} problem={at(`casing_marks.${k}.where`)} most={80} />
              <Words label="What stands there" value={row.reads} onChange={(reads) => change({ reads })} problem={at(`casing_marks.${k}.reads`)} most={80} />
              <Words label="What it tells" value={row.tells} onChange={(tells) => change({ tells })} problem={at(`casing_marks.${k}.tells`)} most={120} />
            </Box>
          )}
        </Rows>
      </Layer>
      <Layer {...layer('kit')}>
        <Words
          label="Hose"
          value={d.hose}
          onChange={(hose) => set({ hose })}
          problem={at('hose')}
          hint="largest outside diameter and length: 10 mm outside, 60 cm long"
        />
        <Rows rows={d.kit} change={(kit) => set({ kit })} add="One more seal, part or tool" blank={blankKit} out={(i) => `Take out ${i.name || 'this'}`}>
          {({ row, k, change }) => (
            <Box sx={across('1.6fr 1fr 90px 1.4fr auto')}>
              <Words label="What" value={row.name} onChange={(name) => change({ name })} problem={at(`kit.${k}.name`)} most={80} />
              <Pick
                label="It is a"
                value={row.kind}
                options={[
                  ['seal', 'seal'],
                  ['part', 'part'],
                  ['tool', 'tool'],
                ]}
                onChange={(kind) => change({ kind: kind as typeof row.kind })}
              />
              <Words label="How many" value={row.count} onChange={(count) => change({ count })} problem={at(`kit.${k}.count`)} most={3} />
              <Words label="For" value={row.use} onChange={(use) => change({ use })} problem={at(`kit.${k}.use`)} most={80} />
              <FormControlLabel control={<Checkbox checked={row.mandatory} onChange={(e) => change({ mandatory: e.target.checked })} />} label="mandatory" />
            </Box>
          )}
        </Rows>
      </Layer>
    </>
  );
}
