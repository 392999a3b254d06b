/** The Bay's door: open services to go on with, and vehicles to start on. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { askAll } from '../../app/api';
import { clockTime, date, useMay } from '../../app/session';
import { useOpenServices } from '../../app/Tray';
import { Bones } from '../../ui/Bones';
import { Empty } from '../../ui/Empty';
import { Page, Section } from '../../ui/Page';
import { SightGlass } from '../../ui/SightGlass';
import { Trouble } from '../../ui/Trouble';

export function BayHome() {
  const services = useOpenServices();
  const board = useQuery({ queryKey: ['due', 'all'], queryFn: askAll });
  const mayWork = useMay('technician');
  if (services.isPending || board.isPending) return <Bones />;
  if (services.isError || board.isError) return <Trouble error={services.error ?? board.error} />;
  const waiting = board.data.vehicles.filter((v) => v.together.length > 0);
  return (
    <Page title={t`Bay`}>
      <Section title={t`Open now`}>
        {!services.data.length && (
          <Empty title={t`Nothing is open`}>
            <span>{t`Start below with what is due, or from any vehicle's page.`}</span>
          </Empty>
        )}
        {services.data.map((s) => (
          <Box key={s.id} sx={{ display: 'flex', gap: 3, alignItems: 'center', bgcolor: (t) => t.tones.pan, borderRadius: 2, p: 2, flexWrap: 'wrap' }}>
            <Typography variant="h2" component="h3">
              {s.vehicle}
            </Typography>
            <Box sx={{ flex: 1, minWidth: 240 }}>
              <Trans>
                {s.compartments.join(', ')} · {s.done} of {s.total} steps
              </Trans>
              <Box sx={{ color: 'text.secondary' }}>
                <Trans>
                  next: {s.step} · begun {date(s.started_at)} {clockTime(s.started_at)} by {s.started_by}
                </Trans>
              </Box>
            </Box>
            <Button variant="contained" component={Link} to={`/bay/${s.id}`}>{t`Go on`}</Button>
          </Box>
        ))}
      </Section>
      <Section title={t`Worth starting`}>
        {!waiting.length && <span>{t`Nothing is due.`}</span>}
        {waiting.map((v) => (
          <Box key={v.id} sx={{ display: 'flex', gap: 2, alignItems: 'center', borderTop: 1, borderColor: 'divider', pt: 1, flexWrap: 'wrap' }}>
            <Typography variant="h3" sx={{ width: 190 }}>
              {v.name}
            </Typography>
            <Box sx={{ flex: 1, display: 'flex', gap: 2.5, flexWrap: 'wrap' }}>
              {v.compartments
                .filter((c) => v.together.includes(c.id))
                .map((c) => (
                  <Box key={c.id} sx={{ display: 'inline-flex', gap: 1, alignItems: 'center' }}>
                    <SightGlass state={c.state} used={c.used} family={c.family} colour={c.colour} level={c.level} size={20} title={c.name} />
                    {c.name}
                  </Box>
                ))}
            </Box>
            {mayWork && <Button variant="outlined" component={Link} to={`/bay/start/${v.id}?c=${v.together.join(',')}`}>{t`Start`}</Button>}
          </Box>
        ))}
      </Section>
    </Page>
  );
}
