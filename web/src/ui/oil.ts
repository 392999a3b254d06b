import { t } from '@lingui/core/macro';

/** Colours of oil, by what was seen and by family: the one place where they stand. */
const GEAR: Record<string, string> = { fresh: '#E8C75A', darker: '#CB922A', brown: '#A4641A', 'dark brown': '#6A3A14', black: '#1E140D' };
const CHERRY = { fresh: '#C6384C', darker: '#A93A36', brown: '#87442E', 'dark brown': '#59291D', black: '#211210' };
const PALE = { fresh: '#CBD8BD', darker: '#BDB884', brown: '#9B7A3C', 'dark brown': '#64431E', black: '#1E140D' };
const VIOLET = { fresh: '#A99DB8', darker: '#8F7F93', brown: '#7A5F5A', 'dark brown': '#513A36', black: '#201614' };
const FOREIGN: Record<string, string> = { reddish: '#9A4A35', bluish: '#5B7282', foreign: '#7C8A5C' };
const BY_FAMILY: Record<string, Record<string, string>> = { atf: CHERRY, 'ester turbine': PALE, hub: PALE, 'clutch fluid': VIOLET };

/** The colour that an oil of a family has when it was last seen as a word; unseen oil is shown as fresh. */
export function oilColour(family: string, word: string): string {
  const shades = BY_FAMILY[family] ?? GEAR;
  return shades[word] ?? FOREIGN[word] ?? shades.fresh ?? '';
}

export const STATE_WORDS: Record<string, string> = {
  stop: t`stop, do not drive`,
  overdue: t`overdue`,
  due: t`due`,
  unknown: t`no record: counts as due`,
  repair: t`to be mended`,
  soon: t`due soon`,
  fine: t`fine`,
};
export const LEVEL_WORDS = [t`clean`, t`normal wear`, t`watch`, t`investigate`, t`stop`];

/** Whether an axle's limited slip is of the kind that an additive or a special oil is for. */
export const SLIP = [
  { value: 'yes', label: t`clutch-type` },
  { value: 'no', label: t`none, or gear-type` },
  { value: 'unknown', label: t`nobody knows` },
] as const;
export type Slip = (typeof SLIP)[number]['value'];
