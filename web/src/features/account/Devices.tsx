/** Which devices hang on the bench; those that are simulated say so. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../app/api';
import { useMay } from '../../app/session';
import { Pick } from '../../ui/Pick';
import { Trouble } from '../../ui/Trouble';

type Choose = NonNullable<Schemas['PatchedChooseRequestRequest']>;
const words = (adaptor: string) => (adaptor === 'none' ? t`none: values are typed` : adaptor);
type Kind = NonNullable<Choose['kind']>;
const SPEEDS = ['1', '6', '20'];

export function Devices() {
  const cache = useQueryClient();
  const lead = useMay('lead');
  const devices = useQuery({ queryKey: ['devices'], queryFn: () => ask(client.GET('/api/devices')) });
  const choose = useMutation({
    mutationFn: (body: Choose) => ask(client.PATCH('/api/devices', { body })),
    onSuccess: (rows) => cache.setQueryData(['devices'], rows),
  });
  return (
    <Box component="section" aria-label={t`Devices`} sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ typography: 'h4' }}>{t`Devices of the workshop`}</Box>
      {devices.data?.map((d) => (
        <Box key={d.kind} sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 130px', gap: 1.5, alignItems: 'start' }}>
          <Box>
            <b>{d.kind}</b>
            <Box sx={{ color: 'text.secondary', typography: 'body2' }}>{d.what_for}</Box>
          </Box>
          {lead ? (
            <Pick
              label={t`Adaptor of the ${d.kind}`}
              value={d.adaptor}
              options={d.adaptors.map((a) => [a, words(a)] as const)}
              onChange={(adaptor) => choose.mutate({ kind: d.kind as Kind, adaptor })}
            />
          ) : (
            <span>
              {words(d.adaptor)}
              {d.faulty && d.simulated ? t`, with faults` : ''}
            </span>
          )}
          {lead && d.kind === 'scan tool' && d.simulated && (
            <Pick
              label={t`Simulated time`}
              value={String(d.speed)}
              options={[...new Set([...SPEEDS, String(d.speed)])].map((s) => [s, t`${s} × as fast`] as const)}
              onChange={(speed) => choose.mutate({ kind: 'scan tool', adaptor: d.adaptor, speed: Number(speed) })}
            />
          )}
          {lead && d.simulated && (
            <FormControlLabel
              sx={{ gridColumn: 2 }}
              control={<Checkbox checked={d.faulty} onChange={(e) => choose.mutate({ kind: d.kind as Kind, adaptor: d.adaptor, faulty: e.target.checked })} />}
              label={t`${d.kind} with faults`}
            />
          )}
        </Box>
      ))}
      <Trouble error={devices.error ?? choose.error} />
    </Box>
  );
}
