/** An oil being entered: text as typed, and the request that it becomes. */
import type { Schemas } from '../../../app/api';
import { figure, rowKey } from '../../../app/typed';

export const FAMILIES = ['gear', 'atf', 'cvt fluid', 'dual-clutch fluid', 'engine', 'ester turbine', 'clutch fluid', 'hub', 'chain case', 'marine'] as const;
export const BASES = ['', 'mineral', 'part synthetic', 'synthetic', 'ester', 'PAG'] as const;
export const ASKED_BASES = [...BASES, 'no mineral', 'no ester', 'no PAG'] as const;
export const STRIPS = ['', '1a', '1b', '2a', '2b', '2c', '2d', '2e', '3a', '3b', '4a', '4b', '4c'] as const;
type Request = Schemas['LubricantRequestRequest'];

export type PackDraft = { key: string; size: string; price: string };
export type OilDraft = {
  name: string;
  family: (typeof FAMILIES)[number];
  grade: string;
  categories: string;
  density: string;
  kv40: string;
  kv100: string;
  base: (typeof BASES)[number];
  strip: (typeof STRIPS)[number];
  approvals: string;
  detergent: 'yes' | 'no' | 'unknown';
  friction: boolean;
  safe: boolean;
  settles: boolean;
  packs: PackDraft[];
};

export const blankPack = (): PackDraft => ({ key: rowKey(), size: '', price: '' });

export const blankOil = (): OilDraft => ({
  name: '',
  family: 'gear',
  grade: '',
  categories: '',
  density: '',
  kv40: '',
  kv100: '',
  base: '',
  strip: '',
  approvals: '',
  detergent: 'unknown',
  friction: false,
  safe: false,
  settles: false,
  packs: [blankPack()],
});

const text = (value: number | null) => (value === null ? '' : String(value));

export function oilDraft(o: Schemas['LubricantView']): OilDraft {
  return {
    name: o.name,
    family: o.family as OilDraft['family'],
    grade: o.grade,
    categories: o.categories,
    density: text(o.density15),
    kv40: text(o.kv40),
    kv100: text(o.kv100),
    base: o.base as OilDraft['base'],
    strip: o.copper_strip as OilDraft['strip'],
    approvals: o.approvals.join(', '),
    detergent: o.detergent === null ? 'unknown' : o.detergent ? 'yes' : 'no',
    friction: o.friction_modifier,
    safe: o.safe_for_yellow_metal,
    settles: o.settles,
    packs: o.packs.map((p) => ({ ...blankPack(), size: `${p.size_ml} mL`, price: p.price.toFixed(2) })),
  };
}

/** The request that a draft becomes; empty is not stated. */
export function oilRequest(d: OilDraft): Request {
  return {
    name: d.name,
    family: d.family,
    grade: d.grade,
    categories: d.categories,
    density15: figure(d.density),
    kv40: figure(d.kv40),
    kv100: figure(d.kv100),
    base: d.base,
    copper_strip: d.strip,
    approvals: d.approvals
      .split(',')
      .map((a) => a.trim())
      .filter(Boolean),
    detergent: d.detergent === 'unknown' ? null : d.detergent === 'yes',
    friction_modifier: d.friction,
    safe_for_yellow_metal: d.safe,
    settles: d.settles,
    packs: d.packs.filter((p) => p.size.trim() || p.price.trim()).map((p) => ({ size_ml: p.size, price: p.price.trim().replace(',', '.') })),
  };
}
