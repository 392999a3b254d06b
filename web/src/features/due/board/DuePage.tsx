/** Due: every vehicle as its driveline, worst first. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { useKeys } from '../../../app/keys';
import { date, longDay, useMay, useShow } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { DrivelineStrip } from '../../../ui/DrivelineStrip';
import { Empty } from '../../../ui/Empty';
import { glassNote } from '../../../ui/glassNote';
import { Page, Section } from '../../../ui/Page';
import { SightGlass } from '../../../ui/SightGlass';
import { Trouble } from '../../../ui/Trouble';
import { proposal, rateWords } from '../words';
import { FirstHour } from './FirstHour';
import { OpenList } from './OpenList';

const PAGE = 50;
const NEAR = { px: 0.75, minWidth: 0 };
const SAMPLE: Record<string, number> = { stop: 0.7, overdue: 1.1, due: 0.98, unknown: 1, repair: 0.4, soon: 0.9, fine: 0.3 };
const SHORT: Record<string, string> = {
  stop: t`stop`,
  overdue: t`overdue`,
  due: t`due`,
  unknown: t`unknown`,
  repair: t`to mend`,
  soon: t`soon`,
  fine: t`fine`,
};

function Counts({ counts, chosen, choose }: { counts: Schemas['StateCount'][]; chosen: string; choose: (state: string) => void }) {
  return (
    <Box role="group" aria-label={t`Show only`} sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
      {counts
        .filter((c) => c.count > 0)
        .map((c) => (
          <Button
            key={c.state}
            variant="text"
            aria-pressed={chosen === c.state}
            onClick={() => choose(chosen === c.state ? '' : c.state)}
            sx={{
              textDecoration: 'none',
              gap: 1,
              px: 0.75,
              fontFamily: (t) => t.typography.body1.fontFamily,
              fontSize: '1rem',
              fontWeight: 400,
              border: 2,
              borderColor: chosen === c.state ? 'text.primary' : 'transparent',
            }}>
            <SightGlass state={c.state} used={SAMPLE[c.state] ?? 0.5} colour="brown" size={20} />
            {c.count} {SHORT[c.state]}
          </Button>
        ))}
    </Box>
  );
}

/** A day that cannot be right: a record after today, or a server that is ahead of this device. */
function ClockNotice({ today, clock }: { today: string; clock: string }) {
  const ahead = Date.parse(today) - Date.now() > 86_400_000;
  const words =
    clock || (ahead ? t`By this server it is ${date(today)}, by this device ${date(new Date().toISOString().slice(0, 10))}: one of the clocks is wrong.` : '');
  return words ? (
    <Box role="alert" sx={{ bgcolor: (t) => t.tones.amberWash, borderLeft: 6, borderColor: (t) => t.tones.amberText, px: 1.5, py: 1 }}>
      {words}
    </Box>
  ) : null;
}

function Row({ v, today, at }: { v: Schemas['VehicleDue']; today: string; at: boolean }) {
  const { show } = useShow();
  const mayWork = useMay('technician');
  const kind = v.meter === 'h' ? 'engine_hours' : 'distance';
  const rate = rateWords(v, show);
  const open = v.compartments.find((c) => c.in_service !== null)?.in_service;
  const urgent = ['stop', 'overdue', 'due', 'unknown'].includes(v.state);
  return (
    <Box
      component="article"
      aria-label={v.name}
      aria-current={at ? 'true' : undefined}
      ref={(e: HTMLElement | null) => {
        if (at) e?.scrollIntoView?.({ block: 'nearest' });
      }}
      sx={{
        bgcolor: at ? (t) => t.tones.amberWash : undefined,
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', md: '190px minmax(0, 1fr) 190px' },
        gap: { xs: 1, md: 2 },
        alignItems: 'center',
        borderTop: 1,
        borderColor: 'divider',
        py: 1,
      }}>
      <Box component={Link} to={`/due/vehicle/${v.id}`} sx={{ color: 'text.primary', textDecoration: 'none' }}>
        <Typography variant="h3" component="h2">
          {v.name}
        </Typography>
        <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
          {[v.plate, v.meter_now === null ? t`no reading yet` : show(v.meter_now, kind)].filter(Boolean).join(' · ')}
          <br />
          {rate}
          {v.per_day_is_default ? t` (assumed)` : ''}
          {v.wants_reading && (
            <>
              <br />
              <Box component="b" sx={{ color: (t) => t.tones.amberText }}>{t`reading wanted`}</Box>
            </>
          )}
        </Box>
      </Box>
      <DrivelineStrip
        layout={v.layout}
        to={(id) => `/book/${id}`}
        compartments={v.compartments.map((c) => ({ ...c, note: glassNote(c, v.meter, today, show) }))}
      />
      <Box sx={{ display: 'grid', justifyItems: { xs: 'start', md: 'end' }, gap: 0.75, textAlign: 'right' }}>
        <Box sx={{ typography: 'body2', color: v.state === 'stop' ? 'error.main' : 'text.secondary' }}>{proposal(v)}</Box>
        {open && mayWork ? (
          <Button variant="contained" component={Link} to={`/bay/${open}`}>{t`Go on`}</Button>
        ) : v.together.length && mayWork ? (
          <Button
            variant={urgent ? 'contained' : 'outlined'}
            component={Link}
            to={`/bay/start/${v.id}?c=${v.together.join(',')}`}>{t`Start in the Bay`}</Button>
        ) : (
          <Button variant="text" component={Link} to={`/due/vehicle/${v.id}`}>{t`Open`}</Button>
        )}
      </Box>
    </Box>
  );
}

export function DuePage() {
  const [state, setState] = useState('');
  const board = useInfiniteQuery({
    queryKey: ['due', 'page', state],
    queryFn: ({ pageParam }) => ask(client.GET('/api/due', { params: { query: { ...(state ? { state } : {}), offset: pageParam, limit: PAGE } } })),
    initialPageParam: 0,
    getNextPageParam: (_last, pages) => {
      const shown = pages.reduce((sum, p) => sum + p.vehicles.length, 0);
      return shown < (pages[0]?.matching ?? 0) ? shown : undefined;
    },
    placeholderData: keepPreviousData,
    refetchInterval: 30_000,
  });
  const go = useNavigate();
  const listed = board.data?.pages.flatMap((p) => p.vehicles) ?? [];
  const mayStart = useMay('technician');
  const [row, setRow] = useState(-1);
  const move = (by: number) => setRow((at) => Math.max(0, Math.min(listed.length - 1, at + by)));
  const start = () => {
    const v = listed[Math.max(0, row)];
    const open = v?.compartments.find((c) => c.in_service !== null)?.in_service;
    if (v && mayStart) go(open ? `/bay/${open}` : `/bay/start/${v.id}?c=${v.together.join(',')}`);
  };
  useKeys({
    j: { does: t`the next vehicle`, act: () => move(1) },
    k: { does: t`the vehicle before`, act: () => move(-1) },
    s: { does: t`start in the Bay, or go on there`, act: start },
  });
  const mayAdd = useMay('lead');
  const mayWrite = useMay('technician');
  if (board.isPending) return <Bones lines={8} />;
  if (board.isError)
    return (
      <Page title={t`Due`}>
        <Trouble error={board.error} again={() => board.refetch()} />
      </Page>
    );
  const [first] = board.data.pages;
  if (!first) return null;
  const { today, counts, consequences } = first;
  const vehicles = board.data.pages.flatMap((p) => p.vehicles);
  return (
    <Page
      title={longDay(today)}
      note={<Counts counts={counts} chosen={state} choose={setState} />}
      right={
        <>
          <Button variant="text" component={Link} to="/due/morning" sx={NEAR}>{t`Morning`}</Button>
          <Button variant="text" component={Link} to="/due/horizon" sx={NEAR}>{t`Horizon`}</Button>
          {mayWrite && <Button variant="text" component={Link} to="/due/readings" sx={NEAR}>{t`Readings`}</Button>}
          {mayAdd && <Button variant="text" component={Link} to="/due/add" sx={NEAR}>{t`Add a vehicle`}</Button>}
        </>
      }>
      <ClockNotice today={today} clock={first.clock} />
      {!state && <FirstHour />}
      {!vehicles.length && !state && !mayAdd && (
        <Empty title={t`No vehicle yet`}>
          <span>{t`The lead adds the first one, or takes in a spreadsheet.`}</span>
        </Empty>
      )}
      <Box>
        {vehicles.map((v) => (
          <Row key={v.id} v={v} today={today} at={row >= 0 && listed[row]?.id === v.id} />
        ))}
      </Box>
      {board.hasNextPage && (
        <Button variant="outlined" disabled={board.isFetchingNextPage} onClick={() => board.fetchNextPage()} sx={{ justifySelf: 'center' }}>
          {board.isFetchingNextPage ? t`Fetching …` : t`Show more: ${first.matching - vehicles.length} left`}
        </Button>
      )}
      {consequences.length > 0 && (
        <Section title={t`Open: to be mended, looked at, taken over`}>
          <OpenList list={consequences} />
          {first.open_in_all > consequences.length && (
            <span>
              <Trans>and {first.open_in_all - consequences.length} more</Trans>
            </span>
          )}
        </Section>
      )}
    </Page>
  );
}
