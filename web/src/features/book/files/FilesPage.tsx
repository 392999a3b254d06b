/** Everything in and out as files: the whole book, one vehicle, a spreadsheet; each with what it holds. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask, client } from '../../../app/api';
import { useMay } from '../../../app/session';
import { Barred } from '../../../ui/Barred';
import { Page, Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { BookBack } from '../../account/BookBack';
import { VehicleIn } from './VehicleIn';

const MB = 1_000_000;

function Out() {
  const size = useQuery({ queryKey: ['whole-book'], queryFn: () => ask(client.GET('/api/whole-book/size')), staleTime: 0 });
  const s = size.data;
  return (
    <Section title={t`The whole book out`}>
      <Box>{t`One ZIP: tables that any spreadsheet opens, every row as JSON, the photos. By it a book moves to another machine or is kept for later; passwords are not in it.`}</Box>
      {s && (
        <Box>
          <Trans>
            <b>{s.vehicles}</b> {plural(s.vehicles, { one: 'vehicle', other: 'vehicles' })}, <b>{s.changes}</b>{' '}
            {plural(s.changes, { one: 'change', other: 'changes' })}, <b>{s.photos}</b> {plural(s.photos, { one: 'photo', other: 'photos' })}
            {s.photo_bytes > 0 ? t` of ${(s.photo_bytes / MB).toFixed(1)} MB` : ''}; {s.rows} rows in all.
          </Trans>
        </Box>
      )}
      <Trouble error={size.error} again={() => size.refetch()} />
      <Button variant="contained" component="a" href="/api/whole-book" download sx={{ justifySelf: 'start' }}>{t`Take the whole book out`}</Button>
      {s && s.vehicles === 0 && s.changes === 0 && <BookBack />}
    </Section>
  );
}

export function FilesPage() {
  const lead = useMay('lead');
  if (!lead) return <Barred>{t`The whole book goes out and in by a lead.`}</Barred>;
  return (
    <Page title={t`Files, in and out`} note={t`the whole book, one vehicle, a spreadsheet`}>
      <Box sx={{ display: 'grid', gap: 4, maxWidth: 860 }}>
        <Out />
        <Section title={t`A vehicle out`}>
          <span>
            <Trans>
              On the vehicle's own page: “Its file”. It goes along when the vehicle is sold. How it is written stands in its{' '}
              <a href="/api/vehicle-file/schema">schema</a>.
            </Trans>
          </span>
        </Section>
        <Section title={t`A vehicle in`}>
          <VehicleIn />
        </Section>
        <Section title={t`A spreadsheet in`}>
          <span>{t`Vehicles, compartments, past changes, readings, oils, containers, with headings in any language.`}</span>
          <Button variant="outlined" component={Link} to="/book/import" sx={{ justifySelf: 'start' }}>{t`Take in a spreadsheet`}</Button>
        </Section>
      </Box>
    </Page>
  );
}
