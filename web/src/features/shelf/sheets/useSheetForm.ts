/** A sheet that is being written: what was typed, where it is sent, and what somebody else wrote meanwhile. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { ask, client } from '../../../app/api';
import { useTyped } from '../../../ui/form/useTyped';
import { useBack } from '../../../ui/There';
import { draftOfSheet, figuresRequest, SHEET, type SheetDraft, type Words } from './sheetDraft';

export const KEPT = 'barodex.new-sheet';

export const sheetQuery = (sheet: number) => ({
  queryKey: ['sheet', sheet],
  queryFn: () => ask(client.GET('/api/sheets/{sheet}', { params: { path: { sheet } } })),
});

/** What a sheet may say and what each kind brings to it, once both are here. */
export function useSheetWords(): { words?: Words; error: unknown } {
  const sheet = useQuery({ queryKey: ['declared'], queryFn: () => ask(client.GET('/api/sheets/declared')), staleTime: Number.POSITIVE_INFINITY });
  const all = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  return { words: sheet.data && all.data && { sheet: sheet.data, kinds: all.data.kinds }, error: sheet.error ?? all.error };
}

/** ``from``: the revision that a new one is written from; another that was added since is shown before it is written over. */
export function useSheetForm(start: SheetDraft, sheet: number, from: number, words: Words) {
  const go = useNavigate();
  const back = useBack();
  const cache = useQueryClient();
  const scalars = new Set(words.sheet.figures.map((f) => f.name));
  const typed = useTyped<SheetDraft, number>({
    schema: SHEET,
    start,
    version: from,
    keep: sheet ? undefined : KEPT,
    pathOf: (field) => (scalars.has(field.split('.')[0] ?? '') ? `figures.${field.split('.')[0]}` : field),
    send: async (d, version) => {
      const figures = figuresRequest(d, words);
      if (!sheet) return (await ask(client.POST('/api/sheets', { body: { ...figures, name: d.name, kind: d.kind as 'axle' } }))).id;
      const header = { 'If-Match': String(version) };
      await ask(client.POST('/api/sheets/{sheet}', { params: { path: { sheet }, header }, body: { ...figures, reason: d.reason } }));
      return sheet;
    },
    settled: (id) => (back ? go(back.to, { state: { made: id } }) : go(`/shelf/sheets/${id}`)),
  });
  const takeTheirs = async () => {
    const now = await cache.fetchQuery({ ...sheetQuery(sheet), staleTime: 0 });
    typed.startAgain({ ...draftOfSheet(now, words), reason: typed.form.getValues('reason') });
  };
  return { ...typed, takeTheirs };
}
