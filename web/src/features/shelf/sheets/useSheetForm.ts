/** A sheet that is being written: what was typed, where it is sent, and what somebody else wrote meanwhile. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { ask, client, Refused, standing } from '../../../app/api';
import { blankSheet, draftOf, figuresRequest, type SheetDraft } from './sheetDraft';

export const KEPT = 'barodex.new-sheet';

export function kept(): SheetDraft {
  try {
    return { ...blankSheet(), ...(JSON.parse(sessionStorage.getItem(KEPT) ?? '{}') as Partial<SheetDraft>) };
  } catch {
    return blankSheet();
  }
}

export const sheetQuery = (sheet: number) => ({
  queryKey: ['sheet', sheet],
  queryFn: () => ask(client.GET('/api/sheets/{sheet}', { params: { path: { sheet } } })),
});

/** ``from``: the revision that a new one is written from; another that was added since is shown before it is written over. */
export function useSheetForm(start: SheetDraft, sheet: number, from: number) {
  const [d, setD] = useState(start);
  const [base, setBase] = useState(from);
  const go = useNavigate();
  const cache = useQueryClient();
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  useEffect(() => {
    if (!sheet) sessionStorage.setItem(KEPT, JSON.stringify(d));
  }, [d, sheet]);
  const send = useMutation({
    mutationFn: async () => {
      const figures = figuresRequest(d);
      if (!sheet) return (await ask(client.POST('/api/sheets', { body: { ...figures, name: d.name, kind: d.kind } }))).id;
      await ask(
        client.POST('/api/sheets/{sheet}', { params: { path: { sheet }, header: { 'If-Match': String(base) } }, body: { ...figures, reason: d.reason } }),
      );
      return sheet;
    },
    onSuccess: async (id) => {
      if (!sheet) sessionStorage.removeItem(KEPT);
      await cache.invalidateQueries();
      go(`/shelf/sheets/${id}`);
    },
    onError: (error) => {
      if (standing(error)) setBase(standing(error));
    },
  });
  const overtaken = standing(send.error) > 0;
  const takeTheirs = async () => {
    const now = await cache.fetchQuery({ ...sheetQuery(sheet), staleTime: 0 });
    setD({ ...draftOf(now), reason: d.reason });
    send.reset();
  };
  const at = (field: string) => (send.error instanceof Refused ? send.error.at(field) : '');
  const named = send.error instanceof Refused && !overtaken ? send.error.problem.errors.map((e) => e.field) : [];
  const set = (part: Partial<SheetDraft>) => setD({ ...d, ...part });
  return { d, set, words, send, overtaken, takeTheirs, at, named };
}

export type SheetForm = ReturnType<typeof useSheetForm>;
