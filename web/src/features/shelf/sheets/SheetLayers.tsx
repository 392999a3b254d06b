/** What of a sheet is not needed at once, folded by group. */
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { Choice } from '../../../ui/Choice';
import { Layer } from '../../../ui/Layer';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { Words } from '../../../ui/Words';
import { ASKED_BASES } from '../oils/oilDraft';
import { LAYERS, type LayerKey, saidOf, wrongIn } from './layers';
import { DRIVES } from './PlugLine';
import { SheetRows } from './SheetRows';
import { FIGURES, type SheetDraft } from './sheetDraft';
import { fieldsOf, pairs, THREE, TRI } from './sheetFields';
import { SOURCES, TRUSTS } from './TrustForm';
import type { SheetForm } from './useSheetForm';

export function SheetLayers({ f }: { f: SheetForm }) {
  const { d, set, at } = f;
  const { tick, amount, degrees, line } = fieldsOf(f);
  const layer = (key: LayerKey) => ({ title: LAYERS[key].title, said: saidOf(key, d), wrong: wrongIn(key, f.named) });
  return (
    <>
      <Layer {...layer('oil')}>
        <Box sx={THREE}>
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
        <Box sx={THREE}>{amount('Friction modifier dose', 'modifier', 'modifier_ml')}</Box>
      </Layer>
      <Layer {...layer('inside')}>
        <Box sx={THREE}>
          {amount('Stays inside after draining', 'residual', 'residual_ml')}
          {amount('Dry capacity', 'total', 'total_ml')}
          {amount('Rinse poured through', 'rinse', 'rinse_ml')}
          {amount('Planned surplus', 'surplus', 'surplus_ml', 'for a cooler or an overflow')}
          {line('Drain-and-refill cycles', 'cycles', 'exchange_cycles')}
          {amount('Flush fluid', 'flush', 'flush_ml')}
        </Box>
      </Layer>
      <Layer {...layer('level')}>
        <Box sx={THREE}>
          <Pick
            label="Case"
            value={d.material}
            options={pairs(['iron', 'aluminium', 'magnesium', 'unknown'])}
            onChange={(material) => set({ material: material as SheetDraft['material'] })}
          />
          {line('Minutes until it drips', 'minutes', 'drain_minutes', 'empty: common practice')}
          {line('Note on the level', 'note', 'level_note')}
          {tick('Drained warm', 'warmUp')}
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
          {line('Resets', 'resets', 'resets', 'set apart by commas')}
        </Box>
      </Layer>
      <Layer {...layer('interval')}>
        <Box sx={THREE}>
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
          <Words type="date" label="In force from" value={d.from} onChange={(from) => set({ from })} problem={at('effective_on')} hint="empty: today" />
        </Box>
      </Layer>
      <SheetRows d={d} set={set} at={at} layer={layer} drives={pairs(DRIVES)} />
      <Layer {...layer('sources')}>
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
      </Layer>
      <Layer {...layer('cautions')}>
        <TextField
          label="Cautions, one a line"
          multiline
          minRows={2}
          value={d.cautions}
          onChange={(e) => set({ cautions: e.target.value })}
          error={Boolean(at('cautions'))}
          helperText={at('cautions') || ' '}
        />
      </Layer>
    </>
  );
}
