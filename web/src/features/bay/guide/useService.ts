/** The state of a service and the acts on it: every act carries an id of its own, so that sending it twice counts once. */
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useState } from 'react';
import { ask, client } from '../../../app/api';
import { misfitInWords, outbox } from '../../../app/outbox/outbox';
import { useLane, useSending } from '../../../app/outbox/useOutbox';
import { useRested } from '../../../ui/QuantityField';
import type { ActKind, Step, Values } from './service';

export function useService(id: number) {
  useSending();
  const service = useQuery({
    queryKey: ['service', id],
    queryFn: () => ask(client.GET('/api/services/{service}', { params: { path: { service: id } } })),
    refetchInterval: 1500,
  });
  const heard = service.data?.now;
  useEffect(() => {
    if (heard) outbox.ahead = Date.parse(heard) - Date.now();
  }, [heard]);
  const name = `${id} acts` as const;
  const lane = useLane(name);
  const [head] = lane.items;
  const act = useCallback((kind: ActKind, step: string, values: Values = {}, done?: () => void) => outbox.act(id, { kind, step, values }, done), [id]);
  const waiting = lane.away || lane.paused !== null;
  const title = service.data?.steps.find((s) => s.id === lane.unshown?.act.step)?.title ?? '';
  return {
    service,
    act,
    post: { error: lane.refused, isPending: lane.sending || lane.away, reset: () => outbox.forgive(name) },
    savedAt: lane.savedAt,
    waiting,
    queued: lane.items.length,
    held: lane.sending && !waiting,
    misfit: lane.unshown ? misfitInWords(lane.unshown, title) : '',
    paused: lane.paused,
    head,
    leaveOut: () => outbox.leaveOut(name),
  };
}

/** What is typed at a step, kept through a reload until the step is noted. */
export function useDraft(service: number, step: Step): [Values, (part: Values) => void, () => void] {
  const key = `barodex.step.${service}.${step.id}`;
  const [draft, setDraft] = useState<Values>(() => {
    try {
      const kept = JSON.parse(sessionStorage.getItem(key) ?? 'null') as Values | null;
      const said = Object.fromEntries(step.fields.filter((f) => f.default_text).map((f) => [f.name, f.default_text]));
      return kept ?? { ...said, ...step.values };
    } catch {
      return {};
    }
  });
  useEffect(() => {
    if (Object.keys(draft).length) sessionStorage.setItem(key, JSON.stringify(draft));
  }, [draft, key]);
  const change = useCallback((part: Values) => setDraft((old) => ({ ...old, ...part })), []);
  const forget = useCallback(() => sessionStorage.removeItem(key), [key]);
  return [draft, change, forget];
}

/** What the ledger would be with what is typed at a step: asked of the server as it is typed. */
export function useTrial(service: number, step: Step, draft: Values) {
  const rested = useRested(draft, 250);
  const given = (name: string) => rested[name] !== undefined && rested[name] !== null && String(rested[name]).trim() !== '';
  const asks = step.status === 'open' || step.status === 'done';
  const enabled = asks && (step.kind === 'measure' ? given('pan_ml') || given('mass_g') : step.kind === 'inspect' && given('finding'));
  // A reason may be due only when it is noted for good: asking is free.
  const values = (step.kind === 'measure' || step.kind === 'inspect') && !given('reason') ? { ...rested, reason: 'only asking' } : rested;
  return useQuery({
    queryKey: ['trial', service, step.id, values],
    queryFn: () => ask(client.POST('/api/services/{service}/trial', { params: { path: { service } }, body: { kind: 'done', step: step.id, values } })),
    enabled,
    retry: false,
    staleTime: 60_000,
    placeholderData: (old) => old,
  });
}
