/** What the readings say of a vehicle's use that nobody has told: when it stands, which is asked, and since when it runs otherwise. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { date, useMay } from '../../../app/session';
import { Trouble } from '../../../ui/Trouble';

export function UseNotice({ v }: { v: Schemas['VehicleDue'] }) {
  const may = useMay('lead');
  const cache = useQueryClient();
  const answer = useMutation({
    mutationFn: (stands: boolean) => ask(client.POST('/api/vehicles/{vehicle}/season', { params: { path: { vehicle: v.id } }, body: { stands } })),
    onSuccess: () => cache.invalidateQueries(),
  });
  if (!v.stands && v.changed_factor === null) return null;
  return (
    <Box role="status" sx={{ borderLeft: 6, borderColor: (t) => t.tones.steel, pl: 1.5, display: 'grid', gap: 0.5 }}>
      {v.changed_factor !== null && (
        <span>
          <Trans>
            Since {date(v.changed_since)} it runs{' '}
            <b>{v.changed_factor < 1 ? `${Math.round(v.changed_factor * 100)} %` : t`${v.changed_factor.toFixed(1)} times`}</b> of what it ran before: the days
            below go by what was run since.
          </Trans>
        </span>
      )}
      {v.stands && (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
          <span>
            <Trans>
              Does it stand from <b>{v.stands}</b> each year? Its readings look so, and the days below count it.
            </Trans>
          </span>
          {may && (
            <>
              <Button variant="contained" size="small" disabled={answer.isPending} onClick={() => answer.mutate(true)}>{t`Yes, each year`}</Button>
              <Button variant="outlined" size="small" disabled={answer.isPending} onClick={() => answer.mutate(false)}>{t`No, it runs all year`}</Button>
            </>
          )}
        </Box>
      )}
      <Trouble error={answer.error} />
    </Box>
  );
}
