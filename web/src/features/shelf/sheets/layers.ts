/** The folded parts of the form of a sheet: what each says of what is filled in, and which fields of a refusal open it. */
import { FIGURES, type SheetDraft } from './sheetDraft';

export type LayerKey = 'oil' | 'inside' | 'level' | 'interval' | 'weather' | 'variants' | 'casing' | 'kit' | 'sources' | 'cautions';
type Said = { title: string; fields: string[]; said: (d: SheetDraft) => (string | false)[] };

const worded = (label: string, text: string) => text.trim() !== '' && `${label} ${text.trim()}`;
const counted = (rows: unknown[], one: string, many: string) => rows.length > 0 && `${rows.length} ${rows.length === 1 ? one : many}`;
const known = (label: string, value: string) => value !== 'unknown' && value !== '' && `${label}: ${value}`;

export const LAYERS: Record<LayerKey, Said> = {
  oil: {
    title: 'More of the oil',
    fields: ['approvals', 'also', 'base', 'yellow_metal', 'limited_slip', 'modifier_ml'],
    said: (d) => [
      d.approvals.trim() !== '' && d.approvals,
      worded('or', d.also),
      known('base', d.base),
      known('brass', d.yellow),
      known('limited slip', d.limited),
      d.hypoid && 'hypoid',
      d.synchro && 'synchronisers',
      d.wetClutch && 'wet clutches',
      d.noEp && 'no extreme pressure',
      d.nonDetergent && 'non-detergent',
      worded('modifier', d.modifier),
    ],
  },
  inside: {
    title: 'What stays inside, exchange, flush',
    fields: ['residual_ml', 'total_ml', 'rinse_ml', 'surplus_ml', 'exchange_cycles', 'flush_ml'],
    said: (d) => [
      worded('stays', d.residual),
      worded('dry', d.total),
      worded('rinse', d.rinse),
      worded('surplus', d.surplus),
      d.cycles.trim() !== '' && d.cycles.trim() !== '1' && `${d.cycles.trim()} cycles`,
      worded('flush', d.flush),
    ],
  },
  level: {
    title: 'Level, warmth, resets',
    fields: [
      'case_material',
      'drain_minutes',
      'level_note',
      'window_low_c',
      'window_high_c',
      'level_engine',
      'selector',
      'thermostat_c',
      'below_lip_mm',
      'resets',
    ],
    said: (d) => [
      d.material !== 'unknown' && d.material,
      d.minutes.trim() !== '' && `drips for ${d.minutes.trim()} min`,
      d.warmUp ? 'drained warm' : 'drained cold',
      (d.windowLow || d.windowHigh) !== '' && `${d.windowLow} to ${d.windowHigh}`,
      known('engine', d.engine),
      worded('selector', d.selector),
      worded('thermostat', d.thermostat),
      worded('below the hole by', d.belowLip),
      worded('resets:', d.resets),
      d.note,
    ],
  },
  interval: {
    title: 'Interval, whichever comes first',
    fields: ['interval_km', 'interval_h', 'interval_months', 'for_life', 'effective_on'],
    said: (d) => [d.km, d.hours, d.months.trim() !== '' && `${d.months.trim()} months`, d.forLife && 'filled for life', worded('in force from', d.from)],
  },
  weather: { title: 'Grade by air temperature', fields: ['ambient'], said: (d) => d.ambient.map((a) => a.grade || 'a grade') },
  variants: { title: 'Variants that look alike', fields: ['variants'], said: (d) => d.variants.map((v) => v.name || 'a variant') },
  casing: { title: 'What to read on the casing', fields: ['casing_marks'], said: (d) => [counted(d.marks, 'mark', 'marks')] },
  kit: { title: "Kit beside the plugs' seals and keys", fields: ['kit', 'hose'], said: (d) => d.kit.map((k) => k.name || 'a part') },
  sources: {
    title: 'Where the figures are from',
    fields: ['sources'],
    said: (d) => FIGURES.filter((f) => d.sources[f].source !== '').map((f) => `${f}: ${d.sources[f].source}, ${d.sources[f].trust}`),
  },
  cautions: { title: 'Cautions', fields: ['cautions'], said: (d) => d.cautions.split('\n').filter((line) => line.trim() !== '') },
};

/** What a layer says of what is filled in. */
export const saidOf = (layer: LayerKey, d: SheetDraft): string[] => LAYERS[layer].said(d).filter((s): s is string => typeof s === 'string' && s !== '');

/** Whether a refusal names a field of a layer, or of one of its rows. */
export const wrongIn = (layer: LayerKey, named: string[]): boolean =>
  named.some((field) => LAYERS[layer].fields.some((mine) => field === mine || field.startsWith(`${mine}.`)));
