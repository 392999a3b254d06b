/** How past forecasts came out: what was said eight times out of ten, and how often it was right. */
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask, client, type Schemas } from '../../app/api';
import { date } from '../../app/session';
import { Bones } from '../../ui/Bones';
import { Empty } from '../../ui/Empty';
import { FailedPage } from '../../ui/FailedPage';
import { Page, Section } from '../../ui/Page';

const SAYS: Record<string, string> = {
  'as wanted': 'That is what eight out of ten means: the whiskers in Due can be believed.',
  narrow: 'That is fewer than eight out of ten: the whiskers in Due are too short for these vehicles. More readings help most.',
  wide: 'That is more than eight out of ten: the whiskers in Due are wider than they need be.',
  few: 'Too few readings yet to tell whether that is eight out of ten.',
};

/** Sooner, within, later, as three parts of a rod; within is the filled one. */
function Rod({ t }: { t: Schemas['Tally'] }) {
  const n = t.before + t.within + t.after;
  const part = (count: number, fill: string) => (
    <Box sx={{ width: `${(100 * count) / n}%`, bgcolor: fill, borderRight: count ? 1 : 0, borderColor: 'text.primary' }} />
  );
  return (
    <Box
      role="img"
      aria-label={`${t.before} sooner than said, ${t.within} within, ${t.after} later`}
      sx={{ display: 'flex', height: 14, border: 2, borderColor: 'text.primary', borderRadius: 1, overflow: 'hidden' }}>
      {part(t.before, 'transparent')}
      {part(t.within, 'primary.main')}
      {part(t.after, 'transparent')}
    </Box>
  );
}

function offWords(off: number | null): string {
  if (off === null) return '';
  const share = Math.round(Math.abs(off) * 100);
  return share === 0 ? 'the middle day right on the whole' : `the middle day ${share} % of the time to go too ${off > 0 ? 'late' : 'soon'}`;
}

export function ForecastsPage() {
  const told = useQuery({ queryKey: ['forecasts'], queryFn: () => ask(client.GET('/api/book/forecasts')) });
  if (told.isPending) return <Bones lines={8} />;
  if (told.isError) return <FailedPage error={told.error} again={() => told.refetch()} />;
  const f = told.data;
  const n = f.tally.before + f.tally.within + f.tally.after;
  return (
    <Page title="How forecasts came out" note={`what would have been said each quarter of the last ${f.quarters / 4} years, against what was read since`}>
      {n === 0 ? (
        <Empty title="Nothing to hold them against yet">
          <span>
            A forecast is judged by a reading three months later or more. <Link to="/due/readings">Enter readings</Link>, old ones too.
          </span>
        </Empty>
      ) : (
        <>
          <Box sx={{ display: 'grid', gap: 1, maxWidth: 720 }}>
            <span>
              Of {n} forecasts <b>{f.tally.within} came out between their first and last day</b> ({Math.round((100 * f.tally.within) / n)} %), {f.tally.before}{' '}
              sooner, {f.tally.after} later; {offWords(f.off)}.
            </span>
            <Rod t={f.tally} />
            <span>{SAYS[f.tally.verdict]}</span>
          </Box>
          <Section title="By vehicle">
            <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
              {f.vehicles.map((v) => (
                <Box
                  component="li"
                  key={v.vehicle_id}
                  sx={{
                    borderTop: 1,
                    borderColor: 'divider',
                    py: 1,
                    display: 'grid',
                    gap: { xs: 0.5, md: 2 },
                    alignItems: 'start',
                    gridTemplateColumns: { xs: '1fr', md: '200px 220px minmax(0, 1fr)' },
                  }}>
                  <Link to={`/due/vehicle/${v.vehicle_id}`}>{v.vehicle}</Link>
                  <Rod t={v.tally} />
                  <Box sx={{ display: 'grid', gap: 0.25 }}>
                    <span>
                      {v.tally.within} of {v.tally.before + v.tally.within + v.tally.after} within; {offWords(v.off)}
                    </span>
                    {v.misses.map((m) => (
                      <Box component="span" key={m.as_of} sx={{ color: 'text.secondary', typography: 'body2' }}>
                        Said on {date(m.as_of)}: between {m.early ? date(m.early) : 'never'} and {m.late ? date(m.late) : 'never'}. It was {date(m.true)}.
                      </Box>
                    ))}
                  </Box>
                </Box>
              ))}
            </Box>
          </Section>
        </>
      )}
    </Page>
  );
}
