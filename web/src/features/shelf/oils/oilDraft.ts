/** An oil being entered: text as typed, and the request that it becomes. */
import type { Schemas } from '../../../app/api';
import { figure } from '../../../app/typed';

export const FAMILIES = ['gear', 'atf', 'cvt fluid', 'dual-clutch fluid', 'engine', 'ester turbine', 'clutch fluid', 'hub', 'chain case', 'marine'] as const;
export const BASES = ['', 'mineral', 'part synthetic', 'synthetic', 'ester', 'PAG'] as const;
export const ASKED_BASES = [...BASES, 'no mineral', 'no ester', 'no PAG'] as const;
export const STRIPS = ['', '1a', '1b', '2a', '2b', '2c', '2d', '2e', '3a', '3b', '4a', '4b', '4c'] as const;
type Request = Schemas['LubricantRequestRequest'];

export const blankPack = () => ({ size_ml: '', price: '' });

/** An oil as it is typed, by the names that the server has for it. */
export const blankOil = () => ({
  name: '',
  family: 'gear',
  grade: '',
  categories: '',
  density15: '',
  kv40: '',
  kv100: '',
  base: '',
  copper_strip: '',
  approvals: '',
  detergent: 'unknown',
  friction_modifier: false,
  safe_for_yellow_metal: false,
  settles: false,
  packs: [blankPack()],
});
export type OilDraft = ReturnType<typeof blankOil>;

/** Where the form has what the core calls otherwise. */
export const oilPath = (field: string): string => (field === 'category' ? 'categories' : field);

const text = (value: number | null) => (value === null ? '' : String(value));

export function oilDraft(o: Schemas['LubricantView']): OilDraft {
  return {
    name: o.name,
    family: o.family,
    grade: o.grade,
    categories: o.categories,
    density15: text(o.density15),
    kv40: text(o.kv40),
    kv100: text(o.kv100),
    base: o.base,
    copper_strip: o.copper_strip,
    approvals: o.approvals.join(', '),
    detergent: o.detergent === null ? 'unknown' : o.detergent ? 'yes' : 'no',
    friction_modifier: o.friction_modifier,
    safe_for_yellow_metal: o.safe_for_yellow_metal,
    settles: o.settles,
    packs: o.packs.map((p) => ({ size_ml: `${p.size_ml} mL`, price: p.price === null ? '' : p.price.toFixed(2) })),
  };
}

/** The request that a draft becomes; empty is not stated. */
export function oilRequest(d: OilDraft): Request {
  const request = {
    ...d,
    density15: figure(d.density15),
    kv40: figure(d.kv40),
    kv100: figure(d.kv100),
    approvals: d.approvals
      .split(',')
      .map((a) => a.trim())
      .filter(Boolean),
    detergent: d.detergent === 'unknown' ? null : d.detergent === 'yes',
    packs: d.packs.filter((p) => p.size_ml.trim() || p.price.trim()).map((p) => ({ ...p, price: p.price.trim().replace(',', '.') || null })),
  };
  return request as Request;
}
