/** A sheet being written: text as typed, and the request that it becomes. */
import type { Schemas } from '../../app/api';

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
export type SourceDraft = { source: Schemas['SourceRequestRequest']['source']; trust: Schemas['SourceRequestRequest']['trust'] };
type Sheet = Schemas['SheetRequestRequest'];
export const FIGURES = ['capacity', 'oil', 'interval', 'torque'] as const;

export type SheetDraft = {
  name: string;
  kind: Sheet['kind'];
  reason: string;
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
  cautions: string;
  km: string;
  hours: string;
  months: string;
  plugs: PlugDraft[];
  sources: Record<(typeof FIGURES)[number], SourceDraft>;
};

let serial = 0;
export const blankPlug = (role: PlugDraft['role'], label: string): PlugDraft => ({
  key: `p${serial++}`,
  role,
  label,
  drive: 'hex socket',
  size: '',
  seal: 'crush washer',
  torque: '',
  magnet: role === 'drain',
});

export function blankSheet(): SheetDraft {
  const source: SourceDraft = { source: 'manual', trust: 'verified' };
  return {
    name: '',
    kind: 'manual gearbox',
    reason: '',
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
    cautions: '',
    km: '',
    hours: '',
    months: '',
    plugs: [blankPlug('fill', 'fill plug'), blankPlug('drain', 'drain plug')],
    sources: { capacity: { ...source }, oil: { ...source }, interval: { ...source }, torque: { ...source } },
  };
}

const tri = (value: boolean | null) => (value === null ? 'unknown' : value ? 'yes' : 'no');
const bool = (value: string) => (value === 'unknown' ? null : value === 'yes');

/** A draft from a revision, its amounts as the person reads them. */
export function draftOf(
  sheet: Schemas['SheetView'],
  show: (v: number, kind: 'volume' | 'torque' | 'distance' | 'engine_hours' | 'length') => string,
): SheetDraft {
  const r = sheet.revisions[0];
  if (!r) return blankSheet();
  const text = (value: number | null, kind: Parameters<typeof show>[1]) => (value === null ? '' : show(value, kind));
  const base = blankSheet();
  return {
    ...base,
    name: sheet.name,
    kind: sheet.kind as Sheet['kind'],
    capacity: text(r.capacity_ml, 'volume'),
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
    cautions: r.cautions.join('\n'),
    km: text(r.interval_km, 'distance'),
    hours: text(r.interval_h, 'engine_hours'),
    months: r.interval_months === null ? '' : String(r.interval_months),
    plugs: r.plugs.map((p) => ({
      ...blankPlug(p.role as PlugDraft['role'], p.label),
      drive: p.drive as PlugDraft['drive'],
      size: p.size_mm === null ? '' : `${p.size_mm} mm`,
      seal: p.seal as PlugDraft['seal'],
      torque: p.torque_nm === null ? '' : `${p.torque_nm} N·m`,
      magnet: p.magnet,
    })),
    sources: { ...base.sources, ...Object.fromEntries(r.sources.map((s) => [s.figure, { source: s.source, trust: s.trust }])) } as SheetDraft['sources'],
  };
}

/** The request that a draft becomes; empty is unknown. */
export function figuresRequest(d: SheetDraft): Omit<Sheet, 'name' | 'kind'> {
  return {
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
    drain_minutes: d.minutes.trim() ? Number(d.minutes.replace(',', '.')) : null,
    warm_up: true,
    level_note: d.note,
    cautions: d.cautions
      .split('\n')
      .map((c) => c.trim())
      .filter(Boolean),
    interval_km: d.km,
    interval_h: d.hours,
    interval_months: d.months.trim() ? Number(d.months) : null,
    plugs: d.plugs.map((p) => ({ role: p.role, label: p.label, drive: p.drive, size_mm: p.size, seal: p.seal, torque_nm: p.torque, magnet: p.magnet })),
    sources: FIGURES.map((figure) => ({ figure, ...d.sources[figure], note: '' })),
  };
}
