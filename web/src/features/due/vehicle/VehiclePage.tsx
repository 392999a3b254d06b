/** A vehicle: its strip with large glasses, what each compartment says, its readings. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { ask, client } from '../../../app/api';
import { date, useMay, useShow } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { DrivelineStrip } from '../../../ui/DrivelineStrip';
import { FailedPage } from '../../../ui/FailedPage';
import { glassNote } from '../../../ui/glassNote';
import { Page, Section } from '../../../ui/Page';
import { NamedGlass } from '../../../ui/SightGlass';
import { Trouble } from '../../../ui/Trouble';
import { OpenList } from '../board/OpenList';
import { dueSentence, rateWords } from '../words';
import { AddCompartment } from './AddCompartment';
import { AwayNotice, Changes, detailsOf } from './Changes';
import { LifeOf } from './Life';
import { Readings } from './Readings';
import { UseNotice } from './UseNotice';
import { UsePanel } from './UsePanel';

export function VehiclePage() {
  const vehicle = Number(useParams().vehicle);
  const { show } = useShow();
  const mayWork = useMay('technician');
  const mayAdd = useMay('lead');
  const board = useQuery({ queryKey: ['due', vehicle], queryFn: () => ask(client.GET('/api/due/{vehicle}', { params: { path: { vehicle } } })) });
  const details = useQuery(detailsOf(vehicle)).data;
  const away = Boolean(details?.retired_on);
  const life = useQuery({ queryKey: ['life', vehicle], queryFn: () => ask(client.GET('/api/due/{vehicle}/life', { params: { path: { vehicle } } })) });
  if (board.isPending) return <Bones lines={6} />;
  const v = board.data?.vehicles[0];
  if (!v || !board.data) return <FailedPage error={board.error ?? new Error(t`There is no such vehicle.`)} />;
  const notice = <AwayNotice vehicle={v.id} />;
  if (details?.retired_how === 'merged') return <Page title={v.name}>{notice}</Page>;
  const { today, consequences } = board.data;
  const kind = v.meter === 'h' ? 'engine_hours' : 'distance';
  const note = [
    v.plate,
    v.kind,
    v.depot,
    v.driver && t`driven by ${v.driver}`,
    v.meter_now === null ? t`no reading yet` : t`${show(v.meter_now, kind)} on ${date(v.meter_on)}`,
    `${rateWords(v, show)}${v.per_day_is_default ? t` (assumed: too few readings)` : ''}`,
    v.parked_days > 0 ? t`stood parked ${v.parked_days} days, counted in that` : '',
  ]
    .filter(Boolean)
    .join(' · ');
  const open = v.compartments.find((c) => c.in_service !== null)?.in_service;
  return (
    <Page
      title={v.name}
      note={note}
      right={
        <>
          <Button variant="text" component={Link} to={`/book/vehicle/${v.id}`}>{t`For its owner`}</Button>
          {mayWork && (
            <Button
              variant="text"
              component="a"
              href={`/api/vehicles/${v.id}/file`}
              download
              title={t`all that the book knows of it, to go along with it`}>{t`Its file`}</Button>
          )}
          {mayWork && open && <Button variant="contained" component={Link} to={`/bay/${open}`}>{t`Go on in the Bay`}</Button>}
          {mayWork && !away && (
            <Button
              variant={open ? 'outlined' : 'contained'}
              component={Link}
              to={`/bay/start/${v.id}${v.together.length ? `?c=${v.together.join(',')}` : ''}`}>{t`Start a service`}</Button>
          )}
        </>
      }>
      <DrivelineStrip
        layout={v.layout}
        to={(id) => `/book/${id}`}
        compartments={v.compartments.map((c) => ({ ...c, note: glassNote(c, v.meter, today, show) }))}
      />
      {v.wants_reading && (
        <Box role="status" sx={{ borderLeft: 6, borderColor: (t) => t.tones.amberText, pl: 1.5 }}>
          <Trans>
            {v.meter_now === null ? t`It has no reading yet` : t`The last reading is of ${date(v.meter_on)}`}: until it is read again its due dates are wide
            guesses.
          </Trans>
        </Box>
      )}
      {notice}
      <UseNotice v={v} />
      <Trouble error={life.error} again={() => life.refetch()} />
      {consequences.length > 0 && (
        <Section title={t`Open: to be mended, looked at, taken over`}>
          <OpenList list={consequences} />
        </Section>
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', lg: 'minmax(0, 1fr) 340px' }, gap: 4 }}>
        <Box sx={{ display: 'grid', gap: 4, alignContent: 'start', minWidth: 0 }}>
          <Section title={t`Compartments`}>
            {v.compartments.map((c) => (
              <Box
                key={c.id}
                sx={{
                  display: 'grid',
                  gridTemplateColumns: { xs: '1fr', sm: '272px minmax(0, 1fr)' },
                  gap: 2,
                  alignItems: 'center',
                  borderTop: 1,
                  borderColor: 'divider',
                  pt: 1.5,
                }}>
                <NamedGlass state={c.state} used={c.used} family={c.family} colour={c.colour} level={c.level} title={c.name} />
                <Box sx={{ display: 'grid', gap: 0.5 }}>
                  <Typography variant="h3">
                    <Link to={`/book/${c.id}`}>{c.name}</Link>
                  </Typography>
                  <span>{dueSentence(c, v.meter, today, show)}</span>
                  <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
                    <Trans>
                      Takes {c.capacity_ml === null ? t`an unknown amount` : show(c.capacity_ml, 'volume')}
                      {c.oil ? t` · last oil ${c.oil}` : ''}
                      {c.last_on ? ` · ${date(c.last_on)}${c.last_meter === null ? '' : ` at ${show(c.last_meter, kind)}`}` : ''} · sheet{' '}
                      <Link to={`/shelf/sheets/${c.sheet_id}`}>{c.sheet}</Link>
                    </Trans>
                  </Box>
                  {life.data
                    ?.filter((l) => l.id === c.id)
                    .map((l) => (
                      <LifeOf key={l.id} life={l} meter={v.meter} today={today} family={c.family} colour={c.colour} />
                    ))}
                </Box>
              </Box>
            ))}
            {mayAdd && <AddCompartment vehicle={v.id} />}
          </Section>
          <Changes vehicle={v.id} />
        </Box>
        <Box sx={{ display: 'grid', gap: 4, alignContent: 'start' }}>
          <UsePanel vehicle={v.id} />
          <Readings vehicle={v.id} meter={v.meter} />
        </Box>
      </Box>
    </Page>
  );
}
