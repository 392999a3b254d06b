/** The draft of a sheet from what the server read in a file; every figure still has to be looked at. */
import { blankAmbient, blankHead, blankKit, blankMark, blankPlug, blankSheet, blankVariant, exact, type SheetDraft } from './sheetDraft';

type Rows = Record<string, unknown>[];
const word = (value: unknown, otherwise = '') => (typeof value === 'string' ? value : otherwise);
const flag = (value: unknown) => value === true;
const tri = (value: unknown) => (value === true ? 'yes' : value === false ? 'no' : 'unknown');
const rows = (value: unknown): Rows => (Array.isArray(value) ? (value as Rows) : []);
const words = (value: unknown) => (Array.isArray(value) ? value.filter((v): v is string => typeof v === 'string') : []);

export function draftFromFile(raw: Record<string, unknown>): SheetDraft {
  const base = blankSheet();
  const amount = (value: unknown, kind: Parameters<typeof exact>[1]) => (typeof value === 'number' ? exact(value, kind) : '');
  const sources = { ...base.sources };
  for (const s of rows(raw.sources))
    sources[s.figure as keyof typeof sources] = { source: s.source, trust: s.trust, note: word(s.note) } as (typeof sources)['oil'];
  return {
    ...base,
    name: word(raw.name),
    kind: word(raw.kind, base.kind) as SheetDraft['kind'],
    capacity: amount(raw.capacity_ml, 'volume'),
    family: word(raw.family, base.family) as SheetDraft['family'],
    grade: word(raw.grade),
    categories: word(raw.categories),
    hypoid: flag(raw.hypoid),
    yellow: tri(raw.yellow_metal),
    limited: tri(raw.limited_slip),
    fill: word(raw.fill_method, base.fill) as SheetDraft['fill'],
    drain: word(raw.drain_method, base.drain) as SheetDraft['drain'],
    material: word(raw.case_material, base.material) as SheetDraft['material'],
    minutes: typeof raw.drain_minutes === 'number' ? String(raw.drain_minutes) : '',
    note: word(raw.level_note),
    warmUp: raw.warm_up !== false,
    cautions: words(raw.cautions).join('\n'),
    km: amount(raw.interval_km, 'distance'),
    hours: amount(raw.interval_h, 'engine_hours'),
    months: typeof raw.interval_months === 'number' ? String(raw.interval_months) : '',
    total: amount(raw.total_ml, 'volume'),
    residual: amount(raw.residual_ml, 'volume'),
    rinse: amount(raw.rinse_ml, 'volume'),
    surplus: amount(raw.surplus_ml, 'volume'),
    cycles: typeof raw.exchange_cycles === 'number' ? String(raw.exchange_cycles) : '1',
    modifier: amount(raw.modifier_ml, 'volume'),
    also: words(raw.also).join(', '),
    approvals: words(raw.approvals).join(', '),
    base: word(raw.base) as SheetDraft['base'],
    noEp: flag(raw.no_ep),
    wetClutch: flag(raw.wet_clutch),
    synchro: flag(raw.synchro),
    nonDetergent: flag(raw.non_detergent),
    forLife: flag(raw.for_life),
    hose: word(raw.hose),
    windowLow: amount(raw.window_low_c, 'temperature'),
    windowHigh: amount(raw.window_high_c, 'temperature'),
    engine: word(raw.level_engine) as SheetDraft['engine'],
    selector: word(raw.selector),
    thermostat: amount(raw.thermostat_c, 'temperature'),
    belowLip: amount(raw.below_lip_mm, 'length'),
    flush: amount(raw.flush_ml, 'volume'),
    resets: words(raw.resets).join(', '),
    ambient: rows(raw.ambient).map((a) => ({
      ...blankAmbient(),
      grade: word(a.grade),
      min: amount(a.min_c, 'temperature'),
      max: amount(a.max_c, 'temperature'),
    })),
    variants: rows(raw.variants).map((v) => ({
      ...blankVariant(),
      name: word(v.name),
      mark: word(v.mark),
      capacity: amount(v.capacity_ml, 'volume'),
      grade: word(v.grade),
      categories: word(v.categories),
      heads: rows(v.heads).map((h) => ({
        ...blankHead(word(h.plug)),
        drive: word(h.drive, 'unknown') as 'unknown',
        size: amount(h.size_mm, 'length'),
        torque: amount(h.torque_nm, 'torque'),
      })),
    })),
    marks: rows(raw.casing_marks).map((m) => ({ ...blankMark(), where: word(m.where), reads: word(m.reads), tells: word(m.tells) })),
    kit: rows(raw.kit).map((k) => ({
      ...blankKit(),
      name: word(k.name),
      kind: word(k.kind, 'part') as 'part',
      count: String(k.count ?? 1),
      mandatory: k.mandatory !== false,
      use: word(k.use),
    })),
    plugs: rows(raw.plugs).map((p) => ({
      ...blankPlug(word(p.role, 'fill') as 'fill', word(p.label)),
      drive: word(p.drive, 'unknown') as 'unknown',
      size: amount(p.size_mm, 'length'),
      seal: word(p.seal, 'unknown') as 'unknown',
      torque: amount(p.torque_nm, 'torque'),
      magnet: flag(p.magnet),
    })),
    sources,
  };
}
