/** The state of a service and the acts on it: every act carries an id of its own, so that sending it twice counts once. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { ask, client, Refused, sentence, Unreachable } from '../../../app/api';
import { newId } from '../../../app/ids';
import { PACE } from '../../../app/pace';
import { useSession } from '../../../app/session';
import { useRested } from '../../../ui/QuantityField';
import { actInWords, keepQueue, keepsIt, type Queued, readQueue, WAITED, WAITS_ITS_TURN } from './queue';
import type { ActKind, Step, Values } from './service';

export function useService(id: number) {
  const cache = useQueryClient();
  const who = useSession().data?.username ?? '';
  const key = ['service', id];
  const service = useQuery({
    queryKey: key,
    queryFn: () => ask(client.GET('/api/services/{service}', { params: { path: { service: id } } })),
    refetchInterval: 1500,
  });
  // The server's clock less this device's, as of the last answer: a device whose clock is wrong still says the right time.
  const ahead = useRef(0);
  const heard = service.data?.now;
  useEffect(() => {
    if (heard) ahead.current = Date.parse(heard) - Date.now();
  }, [heard]);
  const [savedAt, setSavedAt] = useState<Date | null>(null);
  const [queue, setQueue] = useState<Queued[]>(() => readQueue(id, who));
  const [misfit, setMisfit] = useState('');
  // A failure that is not the act's own: it is kept, and sent again once that is over.
  const [paused, setPaused] = useState<Error | null>(null);
  const [resting, setResting] = useState(false);
  const sending = useRef('');
  const pressed = useRef(false);
  const afterwards = useRef(new Map<string, () => void>());
  const post = useMutation({
    mutationFn: ({ act_id, kind, step, values, at }: Queued) => {
      const waited = at !== undefined && Date.now() - at > WAITED;
      const done_at = waited ? new Date(at + ahead.current).toISOString() : null;
      return ask(client.POST('/api/services/{service}/acts', { params: { path: { service: id } }, body: { act_id, kind, step, values, done_at } }));
    },
    // A lost server: the same act, with the same id, is sent again until it is answered.
    retry: (_, error) => error instanceof Unreachable,
    retryDelay: () => PACE.retry,
    networkMode: 'always',
    onSuccess: (state, act) => {
      cache.setQueryData(key, state);
      setSavedAt(new Date());
      setPaused(null);
      cache.invalidateQueries({ queryKey: ['open-services'] });
      cache.invalidateQueries({ queryKey: ['pour', id] });
      if (state.state === 'signed') cache.invalidateQueries();
      afterwards.current.get(act.act_id)?.();
    },
    onError: (error, act) => {
      if (keepsIt(error)) {
        setPaused(error);
        setResting(true);
        return;
      }
      setPaused(null);
      // An act of before a reload, or one that stood behind another, has no field to show it at.
      if (afterwards.current.has(act.act_id)) return;
      const title = service.data?.steps.find((s) => s.id === act.step)?.title ?? '';
      setMisfit(`${sentence(error)} It said: ${actInWords(act, title)}.`);
    },
    onSettled: (_state, error, act) => {
      sending.current = '';
      pressed.current = false;
      if (error && keepsIt(error)) return;
      afterwards.current.delete(act.act_id);
      setQueue((acts) => acts.filter((a) => a.act_id !== act.act_id));
    },
  });
  const waiting = (post.isPending && post.failureCount > 0) || paused !== null;
  useEffect(() => keepQueue(id, who, queue), [id, who, queue]);
  const head = queue[0];
  useEffect(() => {
    if (!paused || !resting) return;
    // The key may have been renewed by another page: ask for it before the next try.
    if (paused instanceof Refused && paused.problem.status === 403) cache.invalidateQueries({ queryKey: ['session'] });
    const again = setTimeout(() => setResting(false), PACE.again);
    return () => clearTimeout(again);
  }, [paused, resting, cache]);
  useEffect(() => {
    if (!head || sending.current || resting) return;
    sending.current = head.act_id;
    post.mutate(head);
  }, [head, post.mutate, resting]);
  const leaveOut = useCallback(() => {
    setQueue((acts) => acts.slice(1));
    setPaused(null);
    setResting(false);
  }, []);
  const act = useCallback(
    (kind: ActKind, step: string, values: Values = {}, done?: () => void) => {
      if (pressed.current && !(waiting && WAITS_ITS_TURN.includes(kind))) return;
      pressed.current = true;
      setMisfit('');
      const queued = { kind, step, values, act_id: newId(), at: Date.now() };
      // While an earlier one waits it is kept at once: the field is free for the next.
      afterwards.current.set(queued.act_id, waiting || !done ? () => undefined : done);
      setQueue((acts) => [...acts, queued]);
      if (waiting) done?.();
    },
    [waiting],
  );
  return { service, act, post, savedAt, waiting, queued: queue.length, held: post.isPending && !waiting, misfit, paused, head, leaveOut };
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
