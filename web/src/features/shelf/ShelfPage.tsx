/** What stands on the shelf: oils as their containers, and the sheets. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask, client } from '../../app/api';
import { useMay, useShow } from '../../app/session';
import { Bones } from '../../ui/Bones';
import { Empty } from '../../ui/Empty';
import { FailedPage } from '../../ui/FailedPage';
import { Page, Section } from '../../ui/Page';
import { Nav } from './Nav';
import { AddOil, Stock } from './oils/AddOil';
import { Bottle } from './store/Bottle';

export function ShelfPage() {
  const { show } = useShow();
  const mayWrite = useMay('lead');
  const oils = useQuery({ queryKey: ['lubricants'], queryFn: () => ask(client.GET('/api/lubricants')) });
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => ask(client.GET('/api/sheets')) });
  if (oils.isPending || sheets.isPending) return <Bones lines={8} />;
  if (oils.isError || sheets.isError) return <FailedPage error={oils.error ?? sheets.error} />;
  return (
    <Page
      title={t`Shelf`}
      note={t`${oils.data.length} oils, ${show(
        oils.data.reduce((sum, o) => sum + o.on_hand_ml, 0),
        'volume',
      )} on hand; ${sheets.data.length} sheets`}
      right={
        mayWrite && (
          <>
            <Button variant="text" component={Link} to="/shelf/file">{t`Read a sheet file`}</Button>
            <Button variant="contained" component={Link} to="/shelf/new">{t`Write a sheet`}</Button>
          </>
        )
      }>
      <Nav />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', lg: '1fr 1fr' }, gap: 4 }}>
        <Section title={t`Oils`}>
          {!oils.data.length && (
            <Empty title={t`No oil on the shelf`}>
              <span>
                <Trans>
                  Add the first oil, then put its containers on the shelf; or <Link to="/book/import">take in a list</Link>.
                </Trans>
              </span>
            </Empty>
          )}
          {oils.data.map((o) => (
            <Box
              key={o.id}
              sx={{ display: 'grid', gridTemplateColumns: '1fr auto 150px', gap: 2, alignItems: 'start', borderTop: 1, borderColor: 'divider', pt: 1 }}>
              <Box>
                <Typography variant="h4" component="h3">
                  <Link to={`/shelf/oils/${o.id}`}>{o.name}</Link>
                </Typography>
                <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
                  {[o.family, o.grade, o.categories, o.friction_modifier ? t`with friction modifier` : '', o.settles ? t`shake it` : '']
                    .filter(Boolean)
                    .join(' · ')}
                </Box>
                <Stock oil={o} />
              </Box>
              <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'end', flexWrap: 'wrap' }}>
                {o.containers.map((c) => (
                  <Bottle key={c.id} c={c} family={o.family} />
                ))}
              </Box>
              <Box sx={{ textAlign: 'right' }}>
                <b>{show(o.on_hand_ml, 'volume')}</b>
                <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
                  {o.packs.map((p) => `${show(p.size_ml, 'volume')} ${p.price === null ? t`(price unknown)` : p.price.toFixed(2)}`).join(', ')}
                </Box>
              </Box>
            </Box>
          ))}
          {mayWrite && <AddOil />}
        </Section>
        <Section title={t`Spec sheets`}>
          {!sheets.data.length && (
            <Empty title={t`No sheet yet`}>
              <span>
                <Trans>
                  A sheet says what a kind of compartment takes, how it opens and how its level is set. <Link to="/shelf/new">Write the first one</Link>, or{' '}
                  <Link to="/shelf/file">read a file</Link>.
                </Trans>
              </span>
            </Empty>
          )}
          {sheets.data.map((s) => {
            const r = s.revisions[0];
            const doubtful = r?.sources.filter((f) => f.trust !== 'verified') ?? [];
            return (
              <Box
                key={s.id}
                component={Link}
                to={`/shelf/sheets/${s.id}`}
                sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 2, borderTop: 1, borderColor: 'divider', pt: 1, textDecoration: 'none' }}>
                <Box>
                  <Typography variant="h4" component="h3">
                    {s.name}
                  </Typography>
                  <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
                    {s.kind} · {[r?.grade, r?.categories].filter(Boolean).join(' ') || r?.family} ·{' '}
                    {s.compartments.length ? s.compartments.join('; ') : t`not in use`}
                  </Box>
                  {doubtful.length > 0 && (
                    <Box sx={{ color: (t) => t.tones.amberText, typography: 'body2' }}>{doubtful.map((f) => `${f.figure}: ${f.trust}`).join(', ')}</Box>
                  )}
                </Box>
                <Box sx={{ textAlign: 'right' }}>
                  <b>{r?.capacity_ml === null || !r ? t`unknown` : show(r.capacity_ml, 'volume')}</b>
                  <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
                    <Trans>revision {r?.number}</Trans>
                  </Box>
                </Box>
              </Box>
            );
          })}
        </Section>
      </Box>
    </Page>
  );
}
