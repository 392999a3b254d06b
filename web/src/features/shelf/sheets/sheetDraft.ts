/** A sheet being written: text as typed, by the names that the server declares, and the request that it becomes. */
import { z } from 'zod';
import type { Schemas } from '../../../app/api';
import { figure } from '../../../app/typed';

export type FigureWords = Schemas['FigureWords'];
type Request = Omit<Schemas['SheetRequestRequest'], 'name' | 'kind'>;

const text = z.string();
const backing = z.object({ source: text, trust: text, note: text });
const head = z.object({ plug: text, drive: text, size_mm: text, torque_nm: text });
const plug = z.object({ role: text, label: text, drive: text, size_mm: text, seal: text, torque_nm: text, magnet: z.boolean() });

/** The shape of a draft; what was kept before a reload is read by it too. */
export const SHEET = z.object({
  name: text,
  kind: text,
  reason: text,
  effective_on: text,
  figures: z.record(text, text),
  ambient: z.array(z.object({ grade: text, min_c: text, max_c: text })),
  variants: z.array(z.object({ name: text, mark: text, capacity_ml: text, grade: text, categories: text, heads: z.array(head) })),
  casing_marks: z.array(z.object({ where: text, reads: text, tells: text })),
  kit: z.array(z.object({ name: text, kind: text, count: text, mandatory: z.boolean(), use: text })),
  plugs: z.array(plug),
  sources: z.record(text, backing),
});
export type SheetDraft = z.infer<typeof SHEET>;
export type PlugDraft = SheetDraft['plugs'][number];

export const BLANK = {
  head: (of: string): SheetDraft['variants'][number]['heads'][number] => ({ plug: of, drive: 'hex socket', size_mm: '', torque_nm: '' }),
  variant: (): SheetDraft['variants'][number] => ({ name: '', mark: '', capacity_ml: '', grade: '', categories: '', heads: [] }),
  mark: (): SheetDraft['casing_marks'][number] => ({ where: '', reads: '', tells: '' }),
  kit: (): SheetDraft['kit'][number] => ({ name: '', kind: 'seal', count: '1', mandatory: true, use: '' }),
  ambient: (): SheetDraft['ambient'][number] => ({ grade: '', min_c: '', max_c: '' }),
  source: (): SheetDraft['sources'][string] => ({ source: '', trust: 'unknown', note: '' }),
  plug: (role: string, label: string): PlugDraft => ({
    role,
    label,
    drive: 'hex socket',
    size_mm: '',
    seal: 'crush washer',
    torque_nm: '',
    magnet: role === 'drain',
  }),
};

export type Words = { sheet: Schemas['SheetWords']; kinds: Schemas['KindWords'][] };

export function blankSheet({ sheet, kinds }: Words): SheetDraft {
  const blank: SheetDraft = {
    name: '',
    kind: '',
    reason: '',
    effective_on: '',
    figures: Object.fromEntries(sheet.figures.map((f) => [f.name, f.blank])),
    ambient: [],
    variants: [],
    casing_marks: [],
    kit: [],
    plugs: [],
    sources: Object.fromEntries(sheet.backed.map((group) => [group, BLANK.source()])),
  };
  return { ...blank, ...ofKind(blank, kinds[0]?.name ?? '', kinds) };
}

type KindWords = Schemas['KindWords'];
const yes = (value: boolean) => (value ? 'yes' : 'no');
const plugOf = (p: KindWords['plugs'][number]): PlugDraft => ({ ...BLANK.plug(p.role, p.label), seal: p.seal, magnet: p.magnet });
const own = (k: KindWords): Record<string, string> => ({
  family: k.family,
  fill_method: k.fill_method,
  drain_method: k.drain_method,
  warm_up: yes(k.warm_up),
  wet_clutch: yes(k.wet_clutch),
});

/** What a kind brings to a draft; what was written otherwise than the kind before brought it stays as it was written. */
export function ofKind(d: SheetDraft, kind: string, kinds: KindWords[]): Pick<SheetDraft, 'kind' | 'figures' | 'plugs'> {
  const [before, now] = [d.kind, kind].map((name) => kinds.find((k) => k.name === name));
  if (!now) return { kind, figures: d.figures, plugs: d.plugs };
  const was = before && own(before);
  const brought = Object.entries(own(now)).filter(([name]) => !was || d.figures[name] === was[name]);
  const untouched = JSON.stringify(d.plugs) === JSON.stringify(before?.plugs.map(plugOf) ?? []);
  return { kind, figures: { ...d.figures, ...Object.fromEntries(brought) }, plugs: untouched ? now.plugs.map(plugOf) : d.plugs };
}

/** An amount as it stands on the sheet, exactly: shown in rounded units of another system it would come back as another one. */
export function exact(value: number | null, unit: string): string {
  if (value === null) return '';
  const digits = String(Math.round(value * 1e6) / 1e6);
  // Three decimals could be read as thousands: a fourth one says that they are not.
  return `${/^\d{1,3}\.\d{3}$/.test(digits) ? `${digits}0` : digits} ${unit}`;
}

export type Value = string | number | boolean | null | string[];
const PLAIN = ['minutes', 'months', 'count'];

/** A figure of a sheet as it is typed. */
export function typed(f: FigureWords, value: Value): string {
  if (f.kind === 'three') return value === null ? 'unknown' : yes(value === true);
  if (f.kind === 'flag') return yes(value === true);
  if (value === null) return '';
  if (Array.isArray(value)) return value.join(f.kind === 'lines' ? '\n' : ', ');
  if (typeof value === 'number') return PLAIN.includes(f.kind) ? String(value) : exact(value, f.unit);
  return String(value);
}

const several = (of: string, by: string) =>
  of
    .split(by)
    .map((t) => t.trim())
    .filter(Boolean);

/** A figure as it is sent: as typed, so that the server reads it or refuses it at its field; empty is unknown. */
function sent(f: FigureWords, said: string): Value {
  if (f.kind === 'three') return said === 'unknown' ? null : said === 'yes';
  if (f.kind === 'flag') return said === 'yes';
  if (f.kind === 'lines' || f.kind === 'names') return several(said, f.kind === 'lines' ? '\n' : ',');
  if (PLAIN.includes(f.kind)) return figure(said || f.blank);
  return said;
}

type Content = Omit<Schemas['Draft'], 'name' | 'kind'>;

/** A draft from what a sheet says: a revision, or a file that was read. */
export function draftOf(name: string, kind: string, r: Content, words: Words): SheetDraft {
  const values = r as unknown as Record<string, Value>;
  return {
    ...blankSheet(words),
    name,
    kind,
    figures: Object.fromEntries(words.sheet.figures.map((f) => [f.name, typed(f, values[f.name] ?? null)])),
    ambient: r.ambient.map((a) => ({ grade: a.grade, min_c: exact(a.min_c, '°C'), max_c: exact(a.max_c, '°C') })),
    variants: r.variants.map((v) => ({
      ...v,
      capacity_ml: exact(v.capacity_ml, 'mL'),
      heads: v.heads.map((h) => ({ ...h, size_mm: exact(h.size_mm, 'mm'), torque_nm: exact(h.torque_nm, 'N·m') })),
    })),
    casing_marks: r.casing_marks.map((m) => ({ ...m })),
    kit: r.kit.map((k) => ({ ...k, count: String(k.count) })),
    plugs: r.plugs.map((p) => ({ ...p, size_mm: exact(p.size_mm, 'mm'), torque_nm: exact(p.torque_nm, 'N·m') })),
    sources: {
      ...Object.fromEntries(words.sheet.backed.map((group) => [group, BLANK.source()])),
      ...Object.fromEntries(r.sources.map(({ figure: of, source, trust, note }) => [of, { source, trust, note }])),
    },
  };
}

export function draftOfSheet(sheet: Schemas['SheetView'], words: Words): SheetDraft {
  const newest = sheet.revisions[0];
  return newest ? draftOf(sheet.name, sheet.kind, newest, words) : { ...blankSheet(words), name: sheet.name, kind: sheet.kind };
}

/** The request that a draft becomes. What is chosen from a list of the server's is sent as chosen. */
export function figuresRequest(d: SheetDraft, words: Words): Request {
  const figures = Object.fromEntries(words.sheet.figures.map((f) => [f.name, sent(f, d.figures[f.name] ?? f.blank)]));
  const request = {
    ...figures,
    effective_on: d.effective_on || null,
    ambient: d.ambient,
    variants: d.variants,
    casing_marks: d.casing_marks,
    kit: d.kit.map((k) => ({ ...k, count: figure(k.count) ?? 1 })),
    plugs: d.plugs,
    sources: Object.entries(d.sources).flatMap(([of, { source, trust, note }]) => (source ? [{ figure: of, source, trust, note }] : [])),
  };
  return request as unknown as Request;
}
