/** A sheet being written: text as typed, and the request that it becomes. */
import type { Schemas } from '../../../app/api';
import { figure, rowKey } from '../../../app/typed';

export type PlugDraft = {
  key: string;
  role: Schemas['PlugRequestRequest']['role'];
  label: string;
  drive: NonNullable<Schemas['PlugRequestRequest']['drive']>;
  size: string;
  seal: NonNullable<Schemas['PlugRequestRequest']['seal']>;
  torque: string;
  magnet: boolean;
};
/** An empty source is not stated, and is not sent. */
export type SourceDraft = { source: Schemas['SourceRequestRequest']['source'] | ''; trust: Schemas['SourceRequestRequest']['trust']; note?: string };
type Sheet = Schemas['SheetRequestRequest'];
export type HeadDraft = { key: string; plug: string; drive: PlugDraft['drive']; size: string; torque: string };
export type VariantDraft = { key: string; name: string; mark: string; capacity: string; grade: string; categories: string; heads: HeadDraft[] };
export type MarkDraft = { key: string; where: string; reads: string; tells: string };
export type KitDraft = { key: string; name: string; kind: 'seal' | 'part' | 'tool'; count: string; mandatory: boolean; use: string };
export type AmbientDraft = { key: string; grade: string; min: string; max: string };
export const FIGURES = ['capacity', 'oil', 'interval', 'torque'] as const;

export type SheetDraft = {
  name: string;
  kind: Sheet['kind'];
  reason: string;
  from: string;
  capacity: string;
  family: Sheet['family'];
  grade: string;
  categories: string;
  hypoid: boolean;
  yellow: 'yes' | 'no' | 'unknown';
  limited: 'yes' | 'no' | 'unknown';
  fill: Sheet['fill_method'];
  drain: Sheet['drain_method'];
  material: NonNullable<Sheet['case_material']>;
  minutes: string;
  note: string;
  warmUp: boolean;
  cautions: string;
  km: string;
  hours: string;
  months: string;
  total: string;
  residual: string;
  rinse: string;
  surplus: string;
  cycles: string;
  modifier: string;
  also: string;
  approvals: string;
  base: NonNullable<Sheet['base']>;
  noEp: boolean;
  wetClutch: boolean;
  synchro: boolean;
  nonDetergent: boolean;
  forLife: boolean;
  hose: string;
  windowLow: string;
  windowHigh: string;
  engine: NonNullable<Sheet['level_engine']>;
  selector: string;
  thermostat: string;
  belowLip: string;
  flush: string;
  resets: string;
  ambient: AmbientDraft[];
  variants: VariantDraft[];
  marks: MarkDraft[];
  kit: KitDraft[];
  plugs: PlugDraft[];
  sources: Record<(typeof FIGURES)[number], SourceDraft>;
};

const key = rowKey;
export const blankHead = (plug: string): HeadDraft => ({ key: key(), plug, drive: 'hex socket', size: '', torque: '' });
export const blankVariant = (): VariantDraft => ({ key: key(), name: '', mark: '', capacity: '', grade: '', categories: '', heads: [] });
export const blankMark = (): MarkDraft => ({ key: key(), where: '', reads: '', tells: '' });
export const blankKit = (): KitDraft => ({ key: key(), name: '', kind: 'seal', count: '1', mandatory: true, use: '' });
export const blankAmbient = (): AmbientDraft => ({ key: key(), grade: '', min: '', max: '' });
export const blankPlug = (role: PlugDraft['role'], label: string): PlugDraft => ({
  key: key(),
  role,
  label,
  drive: 'hex socket',
  size: '',
  seal: 'crush washer',
  torque: '',
  magnet: role === 'drain',
});

export function blankSheet(): SheetDraft {
  const source: SourceDraft = { source: '', trust: 'unknown' };
  return {
    name: '',
    kind: 'manual gearbox',
    reason: '',
    from: '',
    capacity: '',
    family: 'gear',
    grade: '',
    categories: '',
    hypoid: false,
    yellow: 'unknown',
    limited: 'unknown',
    fill: 'to the lip',
    drain: 'plug',
    material: 'unknown',
    minutes: '',
    note: '',
    warmUp: true,
    cautions: '',
    km: '',
    hours: '',
    months: '',
    total: '',
    residual: '',
    rinse: '',
    surplus: '',
    cycles: '1',
    modifier: '',
    also: '',
    approvals: '',
    base: '',
    noEp: false,
    wetClutch: false,
    synchro: false,
    nonDetergent: false,
    forLife: false,
    hose: '',
    windowLow: '',
    windowHigh: '',
    engine: '',
    selector: '',
    thermostat: '',
    belowLip: '',
    flush: '',
    resets: '',
    ambient: [],
    variants: [],
    marks: [],
    kit: [],
    plugs: [blankPlug('fill', 'fill plug'), blankPlug('drain', 'drain plug')],
    sources: { capacity: { ...source }, oil: { ...source }, interval: { ...source }, torque: { ...source } },
  };
}

type KindWords = Schemas['KindWords'];
const plugOf = (p: KindWords['plugs'][number]): PlugDraft => ({
  ...blankPlug(p.role as PlugDraft['role'], p.label),
  seal: p.seal as PlugDraft['seal'],
  magnet: p.magnet,
});
const bare = ({ key: _, ...plug }: PlugDraft) => JSON.stringify(plug);

/** What a kind brings to a draft; what was written otherwise than the kind before brought it stays as it was written. */
export function ofKind(d: SheetDraft, kind: SheetDraft['kind'], kinds: KindWords[]): Partial<SheetDraft> {
  const [before, now] = [d.kind, kind].map((name) => kinds.find((k) => k.name === name));
  if (!before || !now) return { kind };
  const untouched = d.plugs.map(bare).join() === before.plugs.map((p) => bare(plugOf(p))).join();
  return {
    kind,
    ...(d.family === before.family && { family: now.family as SheetDraft['family'] }),
    ...(d.fill === before.fill_method && { fill: now.fill_method as SheetDraft['fill'] }),
    ...(d.drain === before.drain_method && { drain: now.drain_method as SheetDraft['drain'] }),
    ...(d.warmUp === before.warm_up && { warmUp: now.warm_up }),
    ...(d.wetClutch === before.wet_clutch && { wetClutch: now.wet_clutch }),
    ...(untouched && { plugs: now.plugs.map(plugOf) }),
  };
}

const tri = (value: boolean | null) => (value === null ? 'unknown' : value ? 'yes' : 'no');
const bool = (value: string) => (value === 'unknown' ? null : value === 'yes');

const UNITS = { volume: 'mL', distance: 'km', engine_hours: 'h', temperature: '°C', length: 'mm', torque: 'N·m' } as const;

/** A figure as it stands on the sheet, exactly: shown in rounded units of another system it would come back as another figure. */
export function exact(value: number | null | undefined, kind: keyof typeof UNITS): string {
  if (value === null || value === undefined) return '';
  const digits = String(Math.round(value * 1e6) / 1e6);
  // Three decimals could be read as thousands: a fourth one says that they are not.
  return `${/^\d{1,3}\.\d{3}$/.test(digits) ? `${digits}0` : digits} ${UNITS[kind]}`;
}

/** A draft from a revision. */
export function draftOf(sheet: Schemas['SheetView']): SheetDraft {
  const r = sheet.revisions[0];
  if (!r) return blankSheet();
  const base = blankSheet();
  return {
    ...base,
    name: sheet.name,
    kind: sheet.kind as Sheet['kind'],
    capacity: exact(r.capacity_ml, 'volume'),
    family: r.family as Sheet['family'],
    grade: r.grade,
    categories: r.categories,
    hypoid: r.hypoid,
    yellow: tri(r.yellow_metal),
    limited: tri(r.limited_slip),
    fill: r.fill_method as Sheet['fill_method'],
    drain: r.drain_method as Sheet['drain_method'],
    material: r.case_material as SheetDraft['material'],
    minutes: r.drain_minutes === null ? '' : String(r.drain_minutes),
    note: r.level_note,
    warmUp: r.warm_up,
    cautions: r.cautions.join('\n'),
    km: exact(r.interval_km, 'distance'),
    hours: exact(r.interval_h, 'engine_hours'),
    months: r.interval_months === null ? '' : String(r.interval_months),
    total: exact(r.total_ml, 'volume'),
    residual: exact(r.residual_ml, 'volume'),
    rinse: exact(r.rinse_ml, 'volume'),
    surplus: exact(r.surplus_ml, 'volume'),
    cycles: String(r.exchange_cycles),
    modifier: exact(r.modifier_ml, 'volume'),
    also: r.also.join(', '),
    approvals: r.approvals.join(', '),
    base: r.base as SheetDraft['base'],
    noEp: r.no_ep,
    wetClutch: r.wet_clutch,
    synchro: r.synchro,
    nonDetergent: r.non_detergent,
    forLife: r.for_life,
    hose: r.hose,
    windowLow: exact(r.window_low_c, 'temperature'),
    windowHigh: exact(r.window_high_c, 'temperature'),
    engine: r.level_engine as SheetDraft['engine'],
    selector: r.selector,
    thermostat: exact(r.thermostat_c, 'temperature'),
    belowLip: exact(r.below_lip_mm, 'length'),
    flush: exact(r.flush_ml, 'volume'),
    resets: r.resets.join(', '),
    ambient: r.ambient.map((a) => ({ ...blankAmbient(), grade: a.grade, min: exact(a.min_c, 'temperature'), max: exact(a.max_c, 'temperature') })),
    variants: r.variants.map((v) => ({
      ...blankVariant(),
      name: v.name,
      mark: v.mark,
      capacity: exact(v.capacity_ml, 'volume'),
      grade: v.grade,
      categories: v.categories,
      heads: v.heads.map((h) => ({
        ...blankHead(h.plug),
        drive: h.drive as PlugDraft['drive'],
        size: exact(h.size_mm, 'length'),
        torque: exact(h.torque_nm, 'torque'),
      })),
    })),
    marks: r.casing_marks.map((m) => ({ ...blankMark(), ...m })),
    kit: r.kit.map((k) => ({ ...blankKit(), ...k, kind: k.kind as KitDraft['kind'], count: String(k.count) })),
    plugs: r.plugs.map((p) => ({
      ...blankPlug(p.role as PlugDraft['role'], p.label),
      drive: p.drive as PlugDraft['drive'],
      size: exact(p.size_mm, 'length'),
      seal: p.seal as PlugDraft['seal'],
      torque: exact(p.torque_nm, 'torque'),
      magnet: p.magnet,
    })),
    sources: {
      ...base.sources,
      ...Object.fromEntries(r.sources.map((s) => [s.figure, { source: s.source, trust: s.trust, note: s.note }])),
    } as SheetDraft['sources'],
  };
}

const list = (typed: string) =>
  typed
    .split(',')
    .map((t) => t.trim())
    .filter(Boolean);

/** The request that a draft becomes; empty is unknown. */
export function figuresRequest(d: SheetDraft): Omit<Sheet, 'name' | 'kind'> {
  return {
    effective_on: d.from || null,
    capacity_ml: d.capacity,
    family: d.family,
    grade: d.grade,
    categories: d.categories,
    hypoid: d.hypoid,
    yellow_metal: bool(d.yellow),
    limited_slip: bool(d.limited),
    fill_method: d.fill,
    drain_method: d.drain,
    case_material: d.material,
    drain_minutes: figure(d.minutes),
    warm_up: d.warmUp,
    level_note: d.note,
    cautions: d.cautions
      .split('\n')
      .map((c) => c.trim())
      .filter(Boolean),
    interval_km: d.km,
    interval_h: d.hours,
    interval_months: figure(d.months),
    total_ml: d.total,
    residual_ml: d.residual,
    rinse_ml: d.rinse,
    surplus_ml: d.surplus,
    exchange_cycles: figure(d.cycles) ?? 1,
    modifier_ml: d.modifier,
    also: list(d.also) as Sheet['also'],
    approvals: list(d.approvals),
    base: d.base,
    no_ep: d.noEp,
    wet_clutch: d.wetClutch,
    synchro: d.synchro,
    non_detergent: d.nonDetergent,
    for_life: d.forLife,
    hose: d.hose,
    window_low_c: d.windowLow,
    window_high_c: d.windowHigh,
    level_engine: d.engine,
    selector: d.selector,
    thermostat_c: d.thermostat,
    below_lip_mm: d.belowLip,
    flush_ml: d.flush,
    resets: list(d.resets),
    ambient: d.ambient.map((a) => ({ grade: a.grade, min_c: a.min, max_c: a.max })),
    variants: d.variants.map((v) => ({
      name: v.name,
      mark: v.mark,
      capacity_ml: v.capacity,
      grade: v.grade,
      categories: v.categories,
      heads: v.heads.map((h) => ({ plug: h.plug, drive: h.drive, size_mm: h.size, torque_nm: h.torque })),
    })),
    casing_marks: d.marks.map((m) => ({ where: m.where, reads: m.reads, tells: m.tells })),
    kit: d.kit.map((k) => ({ name: k.name, kind: k.kind, count: figure(k.count) ?? 1, mandatory: k.mandatory, use: k.use })),
    plugs: d.plugs.map((p) => ({ role: p.role, label: p.label, drive: p.drive, size_mm: p.size, seal: p.seal, torque_nm: p.torque, magnet: p.magnet })),
    sources: FIGURES.flatMap((figure) => {
      const { source, trust, note = '' } = d.sources[figure];
      return source ? [{ figure, source, trust, note }] : [];
    }),
  };
}
