/** Everything in and out as files: the whole book, one vehicle, a spreadsheet; each with what it holds. */
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
    <Section title="The whole book out">
      <Box>
        One ZIP: tables that any spreadsheet opens, every row as JSON, the photos. By it a book moves to another machine or is kept for later; passwords are not
        in it.
      </Box>
      {s && (
        <Box>
          <b>{s.vehicles}</b> {s.vehicles === 1 ? 'vehicle' : 'vehicles'}, <b>{s.changes}</b> {s.changes === 1 ? 'change' : 'changes'}, <b>{s.photos}</b>{' '}
          {s.photos === 1 ? 'photo' : 'photos'}
          {s.photo_bytes > 0 ? ` of ${(s.photo_bytes / MB).toFixed(1)} MB` : ''}; {s.rows} rows in all.
        </Box>
      )}
      <Trouble error={size.error} again={() => size.refetch()} />
      <Button variant="contained" component="a" href="/api/whole-book" download sx={{ justifySelf: 'start' }}>
        Take the whole book out
      </Button>
      {s && s.vehicles === 0 && s.changes === 0 && <BookBack />}
    </Section>
  );
}

export function FilesPage() {
  const lead = useMay('lead');
  if (!lead) return <Barred>The whole book goes out and in by a lead.</Barred>;
  return (
    <Page title="Files, in and out" note="the whole book, one vehicle, a spreadsheet">
      <Box sx={{ display: 'grid', gap: 4, maxWidth: 860 }}>
        <Out />
        <Section title="A vehicle out">
          <span>
            On the vehicle's own page: “Its file”. It goes along when the vehicle is sold. How it is written stands in its{' '}
            <a href="/api/vehicle-file/schema">schema</a>.
          </span>
        </Section>
        <Section title="A vehicle in">
          <VehicleIn />
        </Section>
        <Section title="A spreadsheet in">
          <span>Vehicles, compartments, past changes, readings, oils, containers, with headings in any language.</span>
          <Button variant="outlined" component={Link} to="/book/import" sx={{ justifySelf: 'start' }}>
            Take in a spreadsheet
          </Button>
        </Section>
      </Box>
    </Page>
  );
}
