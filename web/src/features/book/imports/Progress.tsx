/** How far a file is that is being taken in. */
import { t } from '@lingui/core/macro';
import LinearProgress from '@mui/material/LinearProgress';
import { useQuery } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';

export function Progress({ run }: { run: number }) {
  const told = useQuery({
    queryKey: ['import-progress', run],
    queryFn: () => ask(client.GET('/api/imports/{run}/progress', { params: { path: { run } } })),
    refetchInterval: 500,
    gcTime: 0,
    retry: false,
  });
  const share = Math.round((told.data?.share ?? 0) * 100);
  return <LinearProgress aria-label={t`Taking in`} variant={share > 0 ? 'determinate' : 'indeterminate'} value={share} />;
}
