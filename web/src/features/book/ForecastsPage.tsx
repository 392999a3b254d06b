/** How past forecasts came out: what was said eight times out of ten, and how often it was right. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
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
  'as wanted': t`That is what eight out of ten means: the whiskers in Due can be believed.`,
  narrow: t`That is fewer than eight out of ten: the whiskers in Due are too short for these vehicles. More readings help most.`,
  wide: t`That is more than eight out of ten: the whiskers in Due are wider than they need be.`,
  few: t`Too few readings yet to tell whether that is eight out of ten.`,
};

/** Sooner, within, later, as three parts of a rod; within is the filled one. */
function Rod({ tally }: { tally: Schemas['Tally'] }) {
  const n = tally.before + tally.within + tally.after;
  const part = (count: number, fill: string) => (
    <Box sx={{ width: `${(100 * count) / n}%`, bgcolor: fill, borderRight: count ? 1 : 0, borderColor: 'text.primary' }} />
  );
  return (
    <Box
      role="img"
      aria-label={t`${tally.before} sooner than said, ${tally.within} within, ${tally.after} later`}
      sx={{ display: 'flex', height: 14, border: 2, borderColor: 'text.primary', borderRadius: 1, overflow: 'hidden' }}>
      {part(tally.before, 'transparent')}
      {part(tally.within, 'primary.main')}
      {part(tally.after, 'transparent')}
    </Box>
  );
}

function offWords(off: number | null): string {
  if (off === null) return '';
  const share = Math.round(Math.abs(off) * 100);
  return share === 0 ? t`the middle day right on the whole` : t`the middle day ${share} % of the time to go too ${off > 0 ? t`late` : t`soon`}`;
}

export function ForecastsPage() {
  const told = useQuery({ queryKey: ['forecasts'], queryFn: () => ask(client.GET('/api/book/forecasts')) });
  if (told.isPending) return <Bones lines={8} />;
  if (told.isError) return <FailedPage error={told.error} again={() => told.refetch()} />;
  const f = told.data;
  const n = f.tally.before + f.tally.within + f.tally.after;
  return (
    <Page title={t`How forecasts came out`} note={t`what would have been said each quarter of the last ${f.quarters / 4} years, against what was read since`}>
      {n === 0 ? (
        <Empty title={t`Nothing to hold them against yet`}>
          <span>
            <Trans>
              A forecast is judged by a reading three months later or more. <Link to="/due/readings">Enter readings</Link>, old ones too.
            </Trans>
          </span>
        </Empty>
      ) : (
        <>
          <Box sx={{ display: 'grid', gap: 1, maxWidth: 720 }}>
            <span>
              <Trans>
                Of {n} forecasts <b>{f.tally.within} came out between their first and last day</b> ({Math.round((100 * f.tally.within) / n)} %),{' '}
                {f.tally.before} sooner, {f.tally.after} later; {offWords(f.off)}.
              </Trans>
            </span>
            <Rod tally={f.tally} />
            <span>{SAYS[f.tally.verdict]}</span>
          </Box>
          <Section title={t`By vehicle`}>
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
                  <Rod tally={v.tally} />
                  <Box sx={{ display: 'grid', gap: 0.25 }}>
                    <span>
                      <Trans>
                        {v.tally.within} of {v.tally.before + v.tally.within + v.tally.after} within; {offWords(v.off)}
                      </Trans>
                    </span>
                    {v.misses.map((m) => (
                      <Box component="span" key={m.as_of} sx={{ color: 'text.secondary', typography: 'body2' }}>
                        <Trans>
                          Said on {date(m.as_of)}: between {m.early ? date(m.early) : t`never`} and {m.late ? date(m.late) : t`never`}. It was {date(m.true)}.
                        </Trans>
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
