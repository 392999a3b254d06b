/** The form of a sheet: what is needed now stands open (kind, capacity, oil, plugs); the rest is folded, with what is filled in shown. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { FAMILIES } from '../oils/oilDraft';
import { PlugLine } from './PlugLine';
import { SheetLayers } from './SheetLayers';
import { blankPlug, ofKind, type SheetDraft } from './sheetDraft';
import { fieldsOf, pairs, THREE } from './sheetFields';
import { useSheetForm } from './useSheetForm';

export const FILLS = ['to the lip', 'measured', 'dipstick', 'overflow', 'dribble', 'syringe', 'below the lip'] as const;

export function Form({ start, sheet, from = 0 }: { start: SheetDraft; sheet: number; from?: number }) {
  const f = useSheetForm(start, sheet, from);
  const { d, set, send, overtaken, at } = f;
  const kinds = f.words.data?.kinds;
  const { line } = fieldsOf(f);
  return (
    <Box
      component="form"
      sx={{ display: 'grid', gap: 2.5, maxWidth: 1120 }}
      onSubmit={(e) => {
        e.preventDefault();
        send.mutate();
      }}>
      <Box sx={THREE}>
        {sheet ? line('Why it changes', 'reason', 'reason', 'goes on the sheet with the date') : line('Name of the sheet', 'name', 'name')}
        {!sheet && (
          <Pick
            label="Kind of compartment"
            value={d.kind}
            options={pairs(kinds?.map((k) => k.name) ?? [d.kind])}
            onChange={(kind) => set(ofKind(d, kind as SheetDraft['kind'], kinds ?? []))}
          />
        )}
        <QuantityField
          label="Service capacity"
          kind="volume"
          value={d.capacity}
          onChange={(capacity) => set({ capacity })}
          problem={at('capacity_ml')}
          hint="empty: unknown"
        />
      </Box>
      <Section title="Oil">
        <Box sx={THREE}>
          <Pick label="Family" value={d.family} options={pairs(FAMILIES)} onChange={(family) => set({ family: family as SheetDraft['family'] })} />
          {line('Grade', 'grade', 'grade', '75W-80, SAE 90')}
          {line('API categories', 'categories', 'categories', '“GL-4, GL-5” is either, “GL-4 and GL-5” one oil that is both; empty where none is named')}
        </Box>
      </Section>
      <Section title="Opening and filling">
        <Box sx={THREE}>
          <Pick
            label="Filled"
            value={d.fill}
            options={pairs(FILLS)}
            onChange={(fill) => set({ fill: fill as SheetDraft['fill'] })}
            problem={at('fill_method')}
          />
          <Pick
            label="Drained by"
            value={d.drain}
            options={pairs(['plug', 'suction', 'cover'])}
            onChange={(drain) => set({ drain: drain as SheetDraft['drain'] })}
            problem={at('drain_method')}
          />
        </Box>
        {d.plugs.map((p, k) => (
          <PlugLine
            key={p.key}
            p={p}
            k={k}
            at={at}
            change={(next) => set({ plugs: d.plugs.map((o) => (o.key === p.key ? next : o)) })}
            remove={() => set({ plugs: d.plugs.filter((o) => o.key !== p.key) })}
          />
        ))}
        {at('plugs') && <Trouble error={new Error(at('plugs'))} />}
        <Button variant="outlined" onClick={() => set({ plugs: [...d.plugs, blankPlug('level', 'level plug')] })} sx={{ justifySelf: 'start' }}>
          One more plug
        </Button>
      </Section>
      <Box>
        <SheetLayers f={f} />
      </Box>
      <Trouble error={send.error} />
      <Button type="submit" variant="contained" disabled={send.isPending} sx={{ justifySelf: 'start' }}>
        {overtaken ? 'Write mine over theirs' : sheet ? 'Write the revision' : 'Write the sheet'}
      </Button>
      {overtaken && (
        <Button variant="outlined" onClick={f.takeTheirs} sx={{ justifySelf: 'start' }}>
          Start again from what stands there
        </Button>
      )}
    </Box>
  );
}
