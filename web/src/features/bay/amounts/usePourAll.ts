/** What is poured with the step's one button: all that is left by the plan, a container after the other, or what was typed at a top-up. */
import { t } from '@lingui/core/macro';
import { text } from '../guide/Plain';
import type { Ledger, Step, Values } from '../guide/service';
import type { useService } from '../guide/useService';
import { usePourPlan } from './usePourPlan';

export const ELSEWHERE = 'elsewhere';

type Plan = ReturnType<typeof usePourPlan>['data'];

/** Containers that hold something, and those that the plan takes from. */
export function bottlesOf(plan: Plan) {
  const held = (plan?.bottles ?? []).filter((b) => b.content_ml > 0.5);
  return { held, planned: held.filter((b) => b.content_ml - b.left_ml > 0.5) };
}

/** From which bottle? The next of the plan is proposed; where the shelf has none, it can only have come from elsewhere. */
export function sourceOf(plan: Plan, draft: Values): string {
  const { held, planned } = bottlesOf(plan);
  return text(draft, 'from') || String((planned[0] ?? held[0])?.container ?? ELSEWHERE);
}

/** What an amount that was typed is noted with. */
export function typedPour(plan: Plan, draft: Values): Values {
  const source = sourceOf(plan, draft);
  const held = bottlesOf(plan).held.find((b) => String(b.container) === source);
  return { volume_ml: text(draft, 'free'), ...(held ? { container: held.container } : { elsewhere: true }) };
}

type Poured = { words: string; run: (done: () => void) => void };

export function usePourAll(
  id: number,
  step: Step,
  ledger: Ledger | undefined,
  draft: Values,
  change: (part: Values) => void,
  bay: ReturnType<typeof useService>,
): { pour: Poured | null; waiting: boolean } {
  const open = step.kind === 'pour' && step.status === 'open';
  const query = usePourPlan(id, open ? step.compartment : '');
  const plan = query.data;
  if (!open) return { pour: null, waiting: false };
  if (ledger?.work === 'top-up' && text(draft, 'free').trim()) {
    const run = (done: () => void) =>
      bay.act('add', step.id, typedPour(plan, draft), () => {
        change({ free: '' });
        done();
      });
    return { pour: { words: t`That is in, go on`, run }, waiting: false };
  }
  const left = ledger?.target_ml == null ? 0 : ledger.target_ml - ledger.poured_ml;
  const { planned } = bottlesOf(plan);
  const enough = planned.length > 0 && (plan?.plan?.shortage_ml ?? 1) <= 0.5;
  if (left <= 0.5 || !enough || draft.pump || draft.stroke) return { pour: null, waiting: query.isPending && left > 0.5 };
  const run = (done: () => void) => {
    const next = (k: number) => {
      const b = planned[k];
      if (b) bay.act('add', step.id, { volume_ml: b.content_ml - b.left_ml, container: b.container }, () => next(k + 1));
      else done();
    };
    next(0);
  };
  return { pour: { words: t`All in by the plan, go on`, run }, waiting: false };
}
