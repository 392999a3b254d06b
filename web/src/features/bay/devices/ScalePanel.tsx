/** The scale beside the measuring step: tared, at rest, then its grams are taken. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { Trouble } from '../../../ui/Trouble';

type Put = Schemas['PatchedScaleRequestRequest']['put'];

export function ScalePanel({ service, take }: { service: number; take: (grams: number) => void }) {
  const { show } = useShow();
  const cache = useQueryClient();
  const key = ['scale', service];
  const path = { params: { path: { service } } };
  const keep = (view: Schemas['ScaleView']) => cache.setQueryData(key, view);
  const scale = useQuery({
    queryKey: key,
    queryFn: () => ask(client.GET('/api/services/{service}/scale', path)),
    retry: false,
    refetchInterval: (q) => (q.state.data?.connected ? 1000 : false),
  });
  const connect = useMutation({ mutationFn: () => ask(client.POST('/api/services/{service}/scale', path)), onSuccess: keep });
  const put = useMutation({ mutationFn: (what: Put) => ask(client.PATCH('/api/services/{service}/scale', { ...path, body: { put: what } })), onSuccess: keep });
  const view = scale.data;
  if (!view) return null;
  if (!view.connected)
    return view.adaptor === 'none' ? null : (
      <Box>
        <Button variant="outlined" disabled={connect.isPending} onClick={() => connect.mutate()}>
          <Trans>Connect the scale{view.simulated ? t` (simulated)` : ''}</Trans>
        </Button>
        <Trouble error={connect.error} />
      </Box>
    );
  const usable = view.usable_g;
  return (
    <Box role="group" aria-label={t`Scale`} sx={{ border: 2, borderColor: 'divider', borderRadius: 2, p: 1.25, display: 'grid', gap: 1, maxWidth: 640 }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Box component="span" sx={{ typography: 'h1', fontSize: '2.4rem', opacity: usable === null ? 0.5 : 1 }}>
          {view.reading?.mass_g === null || view.reading === null ? '–' : show(view.reading.mass_g, 'mass')}
        </Box>
        <Box component="span" role="status" sx={{ color: 'text.secondary' }}>
          {view.simulated ? t`Scale, simulated: ` : ''}
          {view.text}
        </Box>
        <Button variant="outlined" disabled={usable === null} onClick={() => usable !== null && take(usable)} sx={{ ml: 'auto' }}>{t`Take it`}</Button>
      </Box>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        <Button size="small" variant="outlined" disabled={put.isPending || !view.reading?.steady} onClick={() => put.mutate('tare')}>{t`Tare`}</Button>
        {view.simulated &&
          (['empty pan', 'full pan', 'nothing'] as const).map((what) => (
            <Button key={what} size="small" variant="text" disabled={put.isPending} onClick={() => put.mutate(what)}>
              <Trans>{what} on it</Trans>
            </Button>
          ))}
      </Box>
      <Trouble error={put.error} />
    </Box>
  );
}
