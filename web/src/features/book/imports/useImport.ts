/** A file that is moved in: its page of rows, and what can be done with it. Each answer is the file as it stands then. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import type { View } from './words';

export const PAGE = 50;

export function useImport(run: number) {
  const cache = useQueryClient();
  const go = useNavigate();
  const [state, setState] = useState('open');
  const [offset, setOffset] = useState(0);
  const [search, setSearch] = useState('');
  const query = { state, offset, search };
  const path = { run };
  const key = ['import', run, query];
  const view = useQuery({
    queryKey: key,
    queryFn: () => ask(client.GET('/api/imports/{run}', { params: { path, query } })),
    placeholderData: keepPreviousData,
  });
  const keep = async (now: View) => {
    cache.setQueryData(key, now);
    await cache.invalidateQueries({ queryKey: ['import', run], refetchType: 'none' });
  };
  const map = useMutation({
    mutationFn: (body: Partial<Schemas['PatchedWayRequestRequest']>) =>
      ask(client.PATCH('/api/imports/{run}', { params: { path, query }, body: { kept: '', ...body } })),
    onSuccess: keep,
  });
  const repair = useMutation({
    mutationFn: (body: Partial<Schemas['RepairRequestRequest']>) =>
      ask(client.POST('/api/imports/{run}/rows', { params: { path, query }, body: { skip: false, reason: '', ...body } })),
    onSuccess: keep,
  });
  const everything = async () => {
    await cache.invalidateQueries();
  };
  const take = useMutation({ mutationFn: () => ask(client.POST('/api/imports/{run}/take', { params: { path } })), onSuccess: everything });
  const undo = useMutation({ mutationFn: () => ask(client.POST('/api/imports/{run}/undo', { params: { path } })), onSuccess: everything });
  const drop = useMutation({
    mutationFn: () => ask(client.DELETE('/api/imports/{run}', { params: { path } })),
    onSuccess: async () => {
      await cache.invalidateQueries({ queryKey: ['imports'] });
      go('/book/import');
    },
  });
  const find = (words: string) => {
    setSearch(words);
    setOffset(0);
  };
  const choose = (next: string) => {
    setState(next);
    setOffset(0);
  };
  return { view, map, repair, take, undo, state, choose, offset, setOffset, search, setSearch: find, drop };
}

export type Importing = ReturnType<typeof useImport>;
