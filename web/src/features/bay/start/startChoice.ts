/** What is chosen on the start page for one compartment, and the request that it becomes. */
import type { Schemas } from '../../../app/api';
import { rowKey } from '../../../app/typed';

export type Slip = '' | 'yes' | 'no' | 'unknown';
export type School = Schemas['WorkRequestRequest']['school'];
export type WorkKind = NonNullable<Schemas['WorkRequestRequest']['kind']>;
export type DoseDraft = { key: string; additive: number; amount: string };
/** The kind of service and what goes with it; an empty kind is the usual one of the compartment. */
export type WorkDraft = { kind: WorkKind; target: number; school: NonNullable<School>; cycles: number; attached: string[]; wrongOil: string };
/** `picked`: the person chose the oil; until then it follows what is best for the answers given. */
export type Choice = {
  on: boolean;
  oil: number;
  picked: boolean;
  override: string;
  variant: string;
  slip: Slip;
  doses: DoseDraft[];
  work: WorkDraft;
  warranty: string;
};

export const blankDose = (additive: number): DoseDraft => ({ key: rowKey(), additive, amount: '' });

/** The oil to begin with: the one used last where it is as good as the best, an equally good one on hand, else the best. */
export function firstOil(offers: Schemas['OilOffer'][], last: string): number {
  const fine = offers.filter((o) => o.verdict === 'meets' || o.verdict === 'equivalent');
  const best = fine.filter((o) => o.verdict === fine[0]?.verdict);
  return (fine.find((o) => o.name === last) ?? best.find((o) => o.on_hand_ml > 0) ?? offers[0])?.lubricant ?? 0;
}

export function firstChoice(job: Schemas['StartJob'], wanted: number[]): Choice {
  return {
    on: wanted.includes(job.compartment) && !job.in_service,
    oil: firstOil(job.offers, job.last_oil),
    picked: false,
    override: '',
    variant: job.variant,
    slip: '',
    doses: [],
    warranty: '',
    work: { kind: '', target: job.target_fresh, school: 'drain and refill', cycles: 0, attached: [], wrongOil: '' },
  };
}

export function jobRequest(compartment: number, c: Choice): Schemas['JobRequestRequest'] {
  return {
    compartment_id: compartment,
    lubricant_id: c.oil,
    override: c.override,
    variant: c.variant,
    slip: c.slip,
    doses: dosesOf(c),
    warranty: c.warranty,
    work: {
      kind: c.work.kind,
      cycles: c.work.cycles,
      target_fresh: c.work.target,
      school: c.work.school,
      attached: c.work.attached,
      wrong_oil: c.work.wrongOil,
    },
  };
}

export function dosesOf(c: Choice) {
  return c.doses.filter((d) => d.additive && d.amount.trim()).map((d) => ({ additive_id: d.additive, volume_ml: d.amount }));
}
