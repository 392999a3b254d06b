/** What the body of a step is given: the step, what was typed, and the way to act. */
import type { Ledger, Service, Step, Values } from './service';
import type { useService } from './useService';

type Draft = { draft: Values; change: (part: Values) => void; trial: Ledger | null };
export type BodyProps = Draft & {
  id: number;
  step: Step;
  service: Service;
  ledger: Ledger | undefined;
  problem: (field: string) => string;
  mayWork: boolean;
  bay: ReturnType<typeof useService>;
};
