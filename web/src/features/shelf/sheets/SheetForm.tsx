/** The form of a sheet: figures, plugs, and where each figure is from. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { Choice } from '../../../ui/Choice';
import { Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';
import { ASKED_BASES, FAMILIES } from '../oils/oilDraft';
import { DRIVES, PlugLine } from './PlugLine';
import { SheetRows } from './SheetRows';
import { blankPlug, FIGURES, type SheetDraft } from './sheetDraft';
import { SOURCES, TRUSTS } from './TrustForm';
import { useSheetForm } from './useSheetForm';

export const FILLS = ['to the lip', 'measured', 'dipstick', 'overflow', 'dribble', 'syringe', 'below the lip'] as const;

export const TRI = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
  { value: 'unknown', label: 'unknown' },
] as const;

export const pairs = (words: readonly string[]) => words.map((w) => [w, w] as const);

export function Form({ start, sheet, from = 0 }: { start: SheetDraft; sheet: number; from?: number }) {
  const { d, set, words, send, overtaken, takeTheirs, at } = useSheetForm(start, sheet, from);
  type Line = 'name' | 'reason' | 'grade' | 'categories' | 'minutes' | 'months' | 'note' | 'approvals' | 'also' | 'cycles' | 'selector' | 'resets';
  const tick = (label: string, key: 'hypoid' | 'noEp' | 'wetClutch' | 'synchro' | 'nonDetergent' | 'warmUp' | 'forLife') => (
    <FormControlLabel control={<Checkbox checked={d[key]} onChange={(e) => set({ [key]: e.target.checked })} />} label={label} />
  );
  const amount = (label: string, key: 'total' | 'residual' | 'rinse' | 'surplus' | 'modifier' | 'flush', field: string, hint = '') => (
    <QuantityField label={label} kind="volume" value={d[key]} onChange={(text) => set({ [key]: text })} problem={at(field)} hint={hint} />
  );
  const degrees = (label: string, key: 'windowLow' | 'windowHigh' | 'thermostat', field: string, hint = '') => (
    <QuantityField label={label} kind="temperature" value={d[key]} onChange={(text) => set({ [key]: text })} problem={at(field)} hint={hint} />
  );
  const line = (label: string, key: Line, field: string, hint = '') => (
    <TextField
      label={label}
      value={d[key]}
      onChange={(e) => set({ [key]: e.target.value })}
      error={Boolean(at(field))}
      helperText={at(field) || hint || ' '}
      slotProps={{ htmlInput: { maxLength: 200 } }}
    />
  );
  const three = { display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr', md: 'repeat(3, 1fr)' } };
  return (
    <Box
      component="form"
      sx={{ display: 'grid', gap: 2.5, maxWidth: 1120 }}
      onSubmit={(e) => {
        e.preventDefault();
        send.mutate();
      }}>
      <Box sx={three}>
        {sheet ? line('Why it changes', 'reason', 'reason', 'goes on the sheet with the date') : line('Name of the sheet', 'name', 'name')}
        {!sheet && (
          <Pick
            label="Kind of compartment"
            value={d.kind}
            options={pairs(words.data?.compartment_kinds ?? [d.kind])}
            onChange={(kind) => set({ kind: kind as SheetDraft['kind'] })}
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
        <Words type="date" label="In force from" value={d.from} onChange={(from) => set({ from })} problem={at('effective_on')} hint="empty: today" />
      </Box>
      <Section title="Oil">
        <Box sx={three}>
          <Pick label="Family" value={d.family} options={pairs(FAMILIES)} onChange={(family) => set({ family: family as SheetDraft['family'] })} />
          {line('Grade', 'grade', 'grade', '75W-80, SAE 90')}
          {line('API categories', 'categories', 'categories', '“GL-4, GL-5” is either, “GL-4 and GL-5” one oil that is both; empty where none is named')}
          {line('Approvals and fluids it asks for', 'approvals', 'approvals', 'set apart by commas; any one of them will do')}
          {line('Other families that it lists', 'also', 'also', 'atf, engine')}
          <Pick
            label="Base that it insists on"
            value={d.base}
            options={ASKED_BASES.map((b) => [b, b || 'none asked'])}
            onChange={(base) => set({ base: base as SheetDraft['base'] })}
          />
        </Box>
        <Box sx={{ display: 'flex', gap: 4, flexWrap: 'wrap' }}>
          <Choice label="Brass or bronze inside" value={d.yellow} options={TRI} onChange={(yellow) => set({ yellow })} />
          <Choice label="Clutch-type limited slip" value={d.limited} options={TRI} onChange={(limited) => set({ limited })} />
        </Box>
        <Box sx={{ display: 'flex', columnGap: 3, flexWrap: 'wrap' }}>
          {tick('Hypoid gears', 'hypoid')}
          {tick('Synchroniser rings', 'synchro')}
          {tick('Wet clutches run in the oil', 'wetClutch')}
          {tick('Forbids extreme-pressure oil', 'noEp')}
          {tick('Asks non-detergent oil', 'nonDetergent')}
        </Box>
        <Box sx={three}>
          {amount('Friction modifier dose', 'modifier', 'modifier_ml')}
          {amount('Stays inside after draining', 'residual', 'residual_ml')}
          {amount('Dry capacity', 'total', 'total_ml')}
          {amount('Rinse poured through', 'rinse', 'rinse_ml')}
          {amount('Planned surplus', 'surplus', 'surplus_ml', 'for a cooler or an overflow')}
          {line('Drain-and-refill cycles', 'cycles', 'exchange_cycles')}
        </Box>
      </Section>
      <Section title="Opening and filling">
        <Box sx={three}>
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
          <Pick
            label="Case"
            value={d.material}
            options={pairs(['iron', 'aluminium', 'magnesium', 'unknown'])}
            onChange={(material) => set({ material: material as SheetDraft['material'] })}
          />
          {line('Minutes until it drips', 'minutes', 'drain_minutes', 'empty: common practice')}
          {line('Note on the level', 'note', 'level_note')}
          {tick('Drained warm', 'warmUp')}
        </Box>
        <Box sx={three}>
          {degrees('Level window from', 'windowLow', 'window_low_c')}
          {degrees('to', 'windowHigh', 'window_high_c')}
          <Pick
            label="Engine for the level"
            value={d.engine}
            options={[
              ['', 'not stated'],
              ['running', 'running'],
              ['off', 'off'],
            ]}
            onChange={(engine) => set({ engine: engine as SheetDraft['engine'] })}
          />
          {line('Selector for the level', 'selector', 'selector', 'P, N')}
          {degrees('Cooler thermostat opens at', 'thermostat', 'thermostat_c', 'empty: no cooler behind one')}
          <QuantityField
            label="Stands below the hole by"
            kind="length"
            value={d.belowLip}
            onChange={(belowLip) => set({ belowLip })}
            problem={at('below_lip_mm')}
          />
          {amount('Flush fluid', 'flush', 'flush_ml')}
          {line('Resets', 'resets', 'resets', 'set apart by commas')}
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
      <Section title="Interval, whichever comes first">
        <Box sx={three}>
          <QuantityField
            label="Distance"
            kind="distance"
            value={d.km}
            onChange={(km) => set({ km })}
            problem={at('interval_km')}
            hint="all three empty: common practice counts"
          />
          <QuantityField label="Engine hours" kind="engine_hours" value={d.hours} onChange={(hours) => set({ hours })} problem={at('interval_h')} />
          {line('Months', 'months', 'interval_months')}
          {tick('Filled for life, says its maker', 'forLife')}
        </Box>
      </Section>
      <SheetRows d={d} set={set} at={at} drives={pairs(DRIVES)} />
      <Section title="Where the figures are from">
        <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr 1fr', md: 'repeat(4, 1fr)' } }}>
          {FIGURES.map((f) => (
            <Box key={f} sx={{ display: 'grid' }}>
              <Pick
                label={`${f[0]?.toUpperCase()}${f.slice(1)} from`}
                value={d.sources[f].source}
                options={[['', 'not stated'], ...pairs(SOURCES)]}
                onChange={(source) => set({ sources: { ...d.sources, [f]: { ...d.sources[f], source: source as SheetDraft['sources']['oil']['source'] } } })}
              />
              <Pick
                label="It is"
                value={d.sources[f].trust}
                options={pairs(TRUSTS)}
                onChange={(trust) => set({ sources: { ...d.sources, [f]: { ...d.sources[f], trust: trust as SheetDraft['sources']['oil']['trust'] } } })}
              />
            </Box>
          ))}
        </Box>
      </Section>
      <TextField
        label="Cautions, one a line"
        multiline
        minRows={2}
        value={d.cautions}
        onChange={(e) => set({ cautions: e.target.value })}
        error={Boolean(at('cautions'))}
        helperText={at('cautions') || ' '}
      />
      <Trouble error={send.error} />
      <Button type="submit" variant="contained" disabled={send.isPending} sx={{ justifySelf: 'start' }}>
        {overtaken ? 'Write mine over theirs' : sheet ? 'Write the revision' : 'Write the sheet'}
      </Button>
      {overtaken && (
        <Button variant="outlined" onClick={takeTheirs} sx={{ justifySelf: 'start' }}>
          Start again from what stands there
        </Button>
      )}
    </Box>
  );
}
