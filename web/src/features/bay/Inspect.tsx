/** The step at which oil and magnet are read. */
import { Finding } from './finding/Finding';
import { type FindingDraft, NOTHING } from './finding/words';
import type { BodyProps } from './StepCard';

export function Inspect({ draft, change, ledger, service, step }: BodyProps) {
  const finding = { ...NOTHING, ...((draft.finding as Partial<FindingDraft> | undefined) ?? {}) };
  const photos = service.photos.filter((p) => p.compartment === step.compartment || p.step === step.id);
  return (
    <Finding value={finding} onChange={(next) => change({ finding: next })} family={ledger?.family ?? 'gear'} photos={photos} compartment={step.compartment} />
  );
}
