/** What can be noted of a finding, in the words of the page. */
import { t } from '@lingui/core/macro';
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
  ['none', t`clean`],
  ['film', t`thin film`],
  ['cap', t`cap to 2 mm`],
  ['whiskers', t`whiskers`],
  ['overflowing', t`overflowing`],
];

/** form, name, hint, and what it is taken for until said otherwise */
export const FORMS: [string, string, string, Omit<Particle, 'form'>][] = [
  ['paste', t`paste`, t`not felt`, { metal: 'steel', count: 1, size_mm: 0.1, magnetic: null }],
  ['glitter', t`glitter`, t`by lamp`, { metal: 'steel', count: 30, size_mm: 0.2, magnetic: null }],
  ['sliver', t`needles`, t`hair-like`, { metal: 'steel', count: 2, size_mm: 1, magnetic: null }],
  ['flake', t`flakes`, t`picked up`, { metal: 'steel', count: 2, size_mm: 0.8, magnetic: null }],
  ['chip', t`chips`, t`broken`, { metal: 'steel', count: 1, size_mm: 3, magnetic: null }],
  ['part', t`a part`, t`tooth, clip`, { metal: 'steel', count: 1, size_mm: 8, magnetic: null }],
];
export const formName = (form: string) => FORMS.find(([f]) => f === form)?.[1] ?? form;

/** metal, name, the test that tells it */
export const METALS: [string, string, string][] = [
  ['steel', t`steel`, t`A magnet takes it.`],
  ['yellow', t`brass`, t`Brass or bronze: gold-coloured, no magnet; a file shows yellow all through.`],
  ['aluminium', t`alloy`, t`Aluminium: silver, no magnet; a file cuts it like butter, bright beneath.`],
  ['friction lining', t`lining`, t`Dark fibres, no magnet; a match makes it glow, not melt.`],
  ['seal', t`seal`, t`Soft, bends; a match: it smells of rubber.`],
  ['unknown', '?', t`Magnet, colour, file, match: in this order.`],
];
export const metalName = (metal: string) => (metal === 'unknown' ? 'unknown' : (METALS.find(([m]) => m === metal)?.[1] ?? metal));

export const COUNTS: [number, string][] = [
  [1, '1'],
  [2, '2'],
  [3, '3'],
  [6, t`several`],
  [40, t`many`],
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
  ['reddish', t`reddish`],
  ['bluish', t`bluish`],
  ['foreign', t`another colour`],
];

export const WET: [string, string][] = [
  ['dry', t`dry`],
  ['breather', t`breather`],
  ['seal or flange', t`seal`],
  ['cover or gasket', t`cover`],
  ['brake', t`on a brake`],
  ['clutch', t`on a clutch`],
];

export function countWords(count: number): string {
  return count >= 40 ? 'many' : count > 3 ? 'several' : String(count);
}
