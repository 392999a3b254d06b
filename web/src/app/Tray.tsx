/** The tray along the bottom of every page: open services, their running timer, and what comes next. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { Link, useLocation } from 'react-router';
import { ask, client, type Schemas } from './api';
import { useWaiting } from './outbox/useOutbox';
import { minutes, ring, useServerNow } from './timers';

export function useOpenServices() {
  return useQuery({ queryKey: ['open-services'], queryFn: () => ask(client.GET('/api/services')), refetchInterval: 6000 });
}

/** `few`: they share the width; more of them stand side by side and are scrolled. */
function Line({ service, few }: { service: Schemas['OpenService']; few: boolean }) {
  const running = Boolean(service.timer_started);
  const now = useServerNow(service.now, running);
  const left = service.timer_started ? service.timer_s - (now - Date.parse(service.timer_started)) / 1000 : 0;
  const several = service.compartments.length > 1;
  const before = useRef(left);
  useEffect(() => {
    if (running && before.current > 0 && left <= 0) ring();
    before.current = left;
  }, [left, running]);
  return (
    <Box
      component={Link}
      to={`/bay/${service.id}`}
      sx={{
        display: 'flex',
        gap: 2.5,
        alignItems: 'baseline',
        color: 'text.primary',
        textDecoration: 'none',
        minWidth: few ? 0 : 400,
        flex: few ? 1 : 'none',
        whiteSpace: 'nowrap',
        overflow: 'hidden',
      }}>
      <Box component="b" sx={{ typography: 'h3' }}>
        {service.vehicle}
      </Box>
      <span>{service.compartments.join(', ')}</span>
      {running && (
        <Box component="span" role="timer" sx={{ typography: 'h2', color: left <= 0 ? 'error.main' : 'text.primary' }}>
          {left > 0 ? minutes(left) : `+${minutes(-left)}`}
        </Box>
      )}
      {running && (
        <Box component="span" sx={{ display: { xs: 'none', md: 'inline' } }}>
          {left > 0 ? (several ? service.timer_title : service.timer_task) : t`time is up`}
        </Box>
      )}
      <Box component="span" sx={{ ml: 'auto', color: 'text.secondary', overflow: 'hidden', textOverflow: 'ellipsis' }}>
        <Trans>
          {service.done} of {service.total} · next: {several ? service.step : service.task}
        </Trans>
      </Box>
    </Box>
  );
}

export function Tray() {
  const services = useOpenServices();
  const inService = /^\/bay\/\d+$/.test(useLocation().pathname); // the page of a service says it itself
  const waiting = useWaiting();
  const says = waiting > 0 && !inService;
  if (!services.data?.length && !says) return null;
  return (
    <Box
      component="aside"
      aria-label={t`In the bay`}
      sx={{
        gridArea: 'tray',
        borderTop: 3,
        borderColor: 'text.primary',
        bgcolor: (t) => t.tones.tray,
        px: 3,
        py: 1,
        display: 'flex',
        gap: 4,
        minHeight: 52,
        alignItems: 'center',
        overflowX: 'auto',
      }}>
      {says && (
        <Box role="status" sx={{ color: 'error.main', flex: 'none' }}>
          <Trans>{plural(waiting, { one: 'One act waits', other: `${waiting} acts wait` })} on this device for the server</Trans>
        </Box>
      )}
      {services.data?.map((s) => (
        <Line key={s.id} service={s} few={(services.data?.length ?? 0) < 3} />
      ))}
    </Box>
  );
}
