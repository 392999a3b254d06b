/** The parts of the form of a sheet: what each says of what is filled in, and which fields of a refusal open it. */
import { t } from '@lingui/core/macro';
import type { FigureWords, SheetDraft, Words } from './sheetDraft';

/** The folded groups of scalar figures, and what of the rows. */
export const GROUPS = {
  'oil more': t`More of the oil`,
  inside: t`What stays inside, exchange, flush`,
  level: t`Level, warmth, resets`,
  interval: t`Interval, whichever comes first`,
  cautions: t`Cautions`,
} as const;
export const ROWS = {
  ambient: t`Grade by air temperature`,
  variants: t`Variants that look alike`,
  casing_marks: t`What to read on the casing`,
  kit: t`Kit beside the plugs' seals and keys`,
  sources: t`Where the figures are from`,
} as const;
export type GroupKey = keyof typeof GROUPS;
export type RowKey = keyof typeof ROWS;

/** A figure summed up; empty where it says no more than that nothing is known. */
export function summedUp(f: FigureWords, said: string): string {
  const value = said.trim();
  if (f.kind === 'flag') return value === f.blank ? '' : value === 'yes' ? f.said : t`not ${f.said}`;
  if (!value || value === 'unknown' || (value === f.blank && f.kind !== 'choice')) return '';
  const unit = (f.kind === 'minutes' || f.kind === 'months') && /^[\d.,]+$/.test(value) ? ` ${f.unit}` : '';
  return f.said.replace('{}', value.replaceAll('\n', ' · ') + unit);
}

/** What a group says of what is filled in. */
export const saidOf = (group: string, d: SheetDraft, { sheet }: Words): string[] =>
  sheet.figures
    .filter((f) => f.group === group)
    .map((f) => summedUp(f, d.figures[f.name] ?? f.blank))
    .filter(Boolean);

/** What the rows of a kind say. */
export function rowsSaid(rows: RowKey, d: SheetDraft): string[] {
  if (rows === 'ambient') return d.ambient.map((a) => a.grade || t`a grade`);
  if (rows === 'variants') return d.variants.map((v) => v.name || t`a variant`);
  if (rows === 'kit') return d.kit.map((k) => k.name || t`a part`);
  if (rows === 'casing_marks') return d.casing_marks.map((m) => m.where || t`a mark`);
  return Object.entries(d.sources).flatMap(([of, s]) => (s.source ? [`${of}: ${s.source}, ${s.trust}`] : []));
}

/** Whether a refusal names a field of a group, or one of the rows. */
export const wrongIn = (fields: string[], named: string[]): boolean =>
  named.some((field) => fields.some((mine) => field === mine || field.startsWith(`${mine}.`)));

/** The figures that a compartment of a kind has, and those that are stated all the same. */
export const shown = (d: SheetDraft, { sheet }: Words): FigureWords[] =>
  sheet.figures.filter((f) => f.kinds.includes(d.kind) || (d.figures[f.name] ?? f.blank) !== f.blank);
