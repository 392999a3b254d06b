/** Vehicles that are no more in use: their past stays here. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask, client } from '../../app/api';
import { date } from '../../app/session';
import { Section } from '../../ui/Page';

export function RetiredList() {
  const away = useQuery({ queryKey: ['retired'], queryFn: () => ask(client.GET('/api/vehicles/retired')) });
  if (!away.data?.length) return null;
  return (
    <Section title={t`No more in use`}>
      <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0 }}>
        {away.data.map((v) => (
          <Box component="li" key={v.id} sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}>
            <Trans>
              <Link to={`/due/vehicle/${v.id}`}>{v.name}</Link>
              {v.plate ? `, ${v.plate}` : ''}: {v.how} on {date(v.on)}
              {v.note ? `, ${v.note}` : ''}
            </Trans>
          </Box>
        ))}
      </Box>
    </Section>
  );
}
