/** All that is left to pour, by the plan, in one press: each container of it is one act, and the step goes on when the last is in. */
import type { Ledger, Step, Values } from '../guide/service';
import type { useService } from '../guide/useService';
import { usePourPlan } from './usePourPlan';

export function usePourAll(id: number, step: Step, ledger: Ledger | undefined, draft: Values, bay: ReturnType<typeof useService>) {
  const plan = usePourPlan(id, step.kind === 'pour' && step.status === 'open' ? step.compartment : '').data;
  const left = ledger?.target_ml == null ? 0 : ledger.target_ml - ledger.poured_ml;
  const bottles = (plan?.bottles ?? []).filter((b) => b.content_ml - b.left_ml > 0.5);
  const enough = bottles.length > 0 && (plan?.plan?.shortage_ml ?? 1) <= 0.5;
  if (step.kind !== 'pour' || left <= 0.5 || !enough || draft.pump || draft.stroke) return null;
  return (done: () => void) => {
    const pour = (k: number) => {
      const b = bottles[k];
      if (b) bay.act('add', step.id, { volume_ml: b.content_ml - b.left_ml, container: b.container }, () => pour(k + 1));
      else done();
    };
    pour(0);
  };
}
