/** The code of a label leads to wherever its box is fitted now; of one in the store, to where it was. */
import { useQuery } from '@tanstack/react-query';
import { Navigate, useParams } from 'react-router';
import { Bones } from '../ui/Bones';
import { FailedPage } from '../ui/FailedPage';
import { ask, client } from './api';

export function ByCode() {
  const { code = '' } = useParams();
  const found = useQuery({ queryKey: ['code', code], queryFn: () => ask(client.GET('/api/codes/{code}', { params: { path: { code } } })), retry: false });
  if (found.isPending) return <Bones lines={3} />;
  if (!found.data) return <FailedPage error={found.error} again={() => found.refetch()} />;
  return <Navigate to={`/book/${found.data.compartment}${found.data.fitted ? '' : '?store=1'}`} replace />;
}
