/** A vehicle's sheet for its owner: what was seen, what it means, what next, in plain words; prints on one sheet. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { ask, client, type Schemas } from '../../app/api';
import { date, useShow } from '../../app/session';
import { Bones } from '../../ui/Bones';
import { FailedPage } from '../../ui/FailedPage';
import { Page } from '../../ui/Page';
import { PaperHead, SignHere } from '../../ui/Paper';
import { SightGlass } from '../../ui/SightGlass';

type Row = Schemas['CompartmentVerdict'];

function Part({ row, meter, today }: { row: Row; meter: string; today: string }) {
  const { show } = useShow();
  const unit = meter === 'h' ? 'engine_hours' : 'distance';
  const next = [row.next_meter === null ? '' : show(row.next_meter, unit), row.next_on === null ? '' : date(row.next_on)].filter(Boolean).join(' or ');
  const by = (w: Row['next_words'][number]) => {
    if (w.on !== null && w.on <= today) return t`Now.`;
    const told = [w.on === null ? '' : date(w.on), w.meter === null ? '' : show(w.meter, unit)].filter(Boolean).join(' or ');
    return told && t`By ${told}.`;
  };
  const head = { typography: 'body2', color: 'text.secondary' } as const;
  return (
    <Box
      component="article"
      aria-label={row.compartment}
      sx={{
        borderTop: 1,
        borderColor: 'divider',
        py: 1,
        display: 'grid',
        gap: { xs: 0.5, md: 2 },
        gridTemplateColumns: { xs: '1fr', md: '210px 1.35fr 1.2fr 1fr' },
        breakInside: 'avoid',
        '@media print': { gridTemplateColumns: '118px 1.35fr 1.2fr 1fr', gap: 1, py: 0.5, fontSize: 11, lineHeight: 1.25 },
      }}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>
        <SightGlass state={row.state} used={row.used} family={row.family} colour={row.colour} level={row.level} size={40} title={row.compartment} />
        <Box>
          <Box component={Link} to={`/book/${row.compartment_id}`} sx={{ fontWeight: 700, color: 'inherit', textDecoration: 'none' }}>
            {row.compartment}
          </Box>
          <Box sx={head}>{row.on === null ? t`no change on record` : t`changed ${date(row.on)}`}</Box>
          <Box sx={head}>{row.oil}</Box>
        </Box>
      </Box>
      <Box>
        <Box sx={head}>{t`Seen`}</Box>
        {row.seen.join(' ')}
        {row.photos.length > 0 && (
          <Box sx={{ display: 'flex', gap: 0.75, mt: 0.75 }}>
            {row.photos.map((p) => (
              <Box
                key={p.id}
                component="img"
                src={p.small_url}
                alt={t`Photo: ${p.words}`}
                sx={{ height: 74, borderRadius: 1, border: 1, borderColor: 'divider', '@media print': { height: 52 } }}
              />
            ))}
          </Box>
        )}
      </Box>
      <Box>
        <Box sx={head}>{t`It means`}</Box>
        {row.means} {row.loss}
      </Box>
      <Box>
        <Box sx={head}>{t`Next`}</Box>
        {row.next_words.map((w) => (
          <Box key={w.text} sx={{ color: w.stop ? 'error.main' : 'inherit' }}>
            <b>{w.text}</b> {w.stop ? '' : by(w)}
          </Box>
        ))}
        {row.state !== 'stop' && row.state !== 'unknown' && next && (
          <span>
            {row.used > 1 ? t`It was due` : t`Oil change`} {next}. {row.why.map((w) => `${w}.`).join(' ')}
          </span>
        )}
      </Box>
    </Box>
  );
}

export function VerdictPage() {
  const vehicle = Number(useParams().vehicle);
  const { show } = useShow();
  const verdict = useQuery({
    queryKey: ['verdict', vehicle],
    queryFn: () => ask(client.GET('/api/book/vehicles/{vehicle}/verdict', { params: { path: { vehicle } } })),
  });
  if (verdict.isPending) return <Bones lines={6} />;
  if (verdict.isError) return <FailedPage error={verdict.error} again={() => verdict.refetch()} />;
  const v = verdict.data;
  return (
    <Page
      title={t`${v.vehicle}: what we found`}
      note={[v.plate, v.meter_now === null ? '' : show(v.meter_now, v.meter === 'h' ? 'engine_hours' : 'distance'), date(v.today)].filter(Boolean).join(' · ')}
      right={
        <>
          <Button variant="text" href={`/api/vehicles/${vehicle}/history/paper`} target="_blank">{t`Its whole history`}</Button>
          <Button variant="outlined" onClick={() => window.print()}>{t`Print it`}</Button>
        </>
      }>
      <PaperHead />
      <Box sx={{ typography: 'h2', color: v.compartments.some((c) => c.state === 'stop') ? 'error.main' : 'text.primary', '@media print': { fontSize: 17 } }}>
        {v.sentence}
      </Box>
      <Box>
        {v.compartments.map((row) => (
          <Part key={row.compartment_id} row={row} meter={v.meter} today={v.today} />
        ))}
      </Box>
      <Box
        sx={{
          color: 'text.secondary',
          typography: 'body2',
          '@media print': { fontSize: 9 },
        }}>{t`Read with Barodex, an aid: the maker’s current data, local rules and qualified practice come first. Levels: 0 clean, 1 normal wear, 2 watch, 3 investigate, 4 stop.`}</Box>
      <SignHere />
    </Page>
  );
}
