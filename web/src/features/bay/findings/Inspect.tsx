/** The step at which oil and magnet are read. */

import type { BodyProps } from '../guide/body';
import { Finding } from './Finding';
import { type FindingDraft, NOTHING } from './words';

export function Inspect({ draft, change, ledger, service, step }: BodyProps) {
  const finding = { ...NOTHING, ...((draft.finding as Partial<FindingDraft> | undefined) ?? {}) };
  const photos = service.photos.filter((p) => p.compartment === step.compartment || p.step === step.id);
  return (
    <Finding value={finding} onChange={(next) => change({ finding: next })} family={ledger?.family ?? 'gear'} photos={photos} compartment={step.compartment} />
  );
}
