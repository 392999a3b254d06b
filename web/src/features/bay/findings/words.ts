/** What can be noted of a finding, in the words of the page. */
import type { Schemas } from '../../../app/api';

export type Particle = { form: string; metal: string; count: number; size_mm: number; magnetic: boolean | null };
export type FindingDraft = {
  magnet: string | null;
  particles: Particle[] | null;
  colour: string | null;
  clarity: string | null;
  smell: string | null;
  d1500?: number | null;
  delta_e?: number | null;
  covered?: number | null;
  wet?: string | null;
};
export type Swatch = Schemas['Swatch'];
export const NOTHING: FindingDraft = {
  magnet: null,
  particles: null,
  colour: null,
  clarity: null,
  smell: null,
  d1500: null,
  delta_e: null,
  covered: null,
  wet: null,
};

export const MAGNETS: [string, string][] = [
  ['none', 'clean'],
  ['film', 'thin film'],
  ['cap', 'cap to 2 mm'],
  ['whiskers', 'whiskers'],
  ['overflowing', 'overflowing'],
];

/** form, name, hint, and what it is taken for until said otherwise */
export const FORMS: [string, string, string, Omit<Particle, 'form'>][] = [
  ['paste', 'paste', 'not felt', { metal: 'steel', count: 1, size_mm: 0.1, magnetic: null }],
  ['glitter', 'glitter', 'by lamp', { metal: 'steel', count: 30, size_mm: 0.2, magnetic: null }],
  ['sliver', 'needles', 'hair-like', { metal: 'steel', count: 2, size_mm: 1, magnetic: null }],
  ['flake', 'flakes', 'picked up', { metal: 'steel', count: 2, size_mm: 0.8, magnetic: null }],
  ['chip', 'chips', 'broken', { metal: 'steel', count: 1, size_mm: 3, magnetic: null }],
  ['part', 'a part', 'tooth, clip', { metal: 'steel', count: 1, size_mm: 8, magnetic: null }],
];
export const formName = (form: string) => FORMS.find(([f]) => f === form)?.[1] ?? form;

/** metal, name, the test that tells it */
export const METALS: [string, string, string][] = [
  ['steel', 'steel', 'A magnet takes it.'],
  ['yellow', 'brass', 'Brass or bronze: gold-coloured, no magnet; a file shows yellow all through.'],
  ['aluminium', 'alloy', 'Aluminium: silver, no magnet; a file cuts it like butter, bright beneath.'],
  ['friction lining', 'lining', 'Dark fibres, no magnet; a match makes it glow, not melt.'],
  ['seal', 'seal', 'Soft, bends; a match: it smells of rubber.'],
  ['unknown', '?', 'Magnet, colour, file, match: in this order.'],
];
export const metalName = (metal: string) => (metal === 'unknown' ? 'unknown' : (METALS.find(([m]) => m === metal)?.[1] ?? metal));

export const COUNTS: [number, string][] = [
  [1, '1'],
  [2, '2'],
  [3, '3'],
  [6, 'several'],
  [40, 'many'],
];
/** Hex keys by width across flats, mm: laid beside a particle they tell its size. */
export const KEYS = [1.5, 2, 3, 5, 8, 12, 17];
export const SMALLEST = 0.1;
export const LARGEST = 50;

/** The slider runs over the logarithm: as much room for 0.1 to 1 mm as for 1 to 10. */
export const toSlider = (mm: number) => Math.log(mm / SMALLEST) / Math.log(LARGEST / SMALLEST);
export function fromSlider(share: number): number {
  const mm = SMALLEST * (LARGEST / SMALLEST) ** Math.min(1, Math.max(0, share));
  const step = mm < 1 ? 0.1 : mm < 10 ? 0.5 : 1;
  return Math.max(SMALLEST, Math.round(mm / step) * step);
}

/** Colours that no oil takes on by ageing. */
export const FOREIGN: [string, string][] = [
  ['reddish', 'reddish'],
  ['bluish', 'bluish'],
  ['foreign', 'another colour'],
];

export const WET: [string, string][] = [
  ['dry', 'dry'],
  ['breather', 'breather'],
  ['seal or flange', 'seal'],
  ['cover or gasket', 'cover'],
  ['brake', 'on a brake'],
  ['clutch', 'on a clutch'],
];

export function countWords(count: number): string {
  return count >= 40 ? 'many' : count > 3 ? 'several' : String(count);
}
