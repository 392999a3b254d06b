/** The workshop as it stands at the head of its papers. */
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../app/api';
import { useMay } from '../../app/session';
import { Line } from '../../ui/form/fields';
import { LittleForm } from '../../ui/LittleForm';
import { There } from '../../ui/There';

export function OwnWorkshop() {
  const lead = useMay('lead');
  const own = useQuery({ queryKey: ['workshop'], queryFn: () => ask(client.GET('/api/workshop')) });
  if (!own.data) return null;
  const { version, ...start } = own.data;
  return (
    <Box component="section" aria-label="The workshop" sx={{ display: 'grid', gap: 0.5 }}>
      <Box sx={{ typography: 'h4' }}>The workshop, as it stands on its papers</Box>
      <Box>{start.name || 'It has no name yet.'}</Box>
      {start.address.split('\n').map((line) => (
        <Box key={line}>{line}</Box>
      ))}
      {start.reached && <Box>{start.reached}</Box>}
      {start.web && <Box>Labels lead to {start.web}</Box>}
      {lead && (
        <LittleForm
          key={version}
          small
          open="Change it"
          of="the workshop"
          submit="Write it"
          columns="1fr"
          start={start}
          version={version}
          send={(d: Schemas['WorkshopRequestRequest'], from) =>
            ask(client.POST('/api/workshop', { params: { header: { 'If-Match': String(from) } }, body: d }))
          }>
          <Line name="name" autoFocus label="What it is called" most={80} />
          <Line name="address" label="Address" most={300} lines={3} />
          <Line name="reached" label="Telephone or mail" most={120} />
          <Line name="web" label="Barodex in your network" most={120} hint="such as https://oil.lan: codes on labels lead there" />
        </LittleForm>
      )}
      {lead && (
        <Box sx={{ mt: 1 }}>
          <There to="/settings/people" from="the settings">
            People: invite, roles, who has left
          </There>
        </Box>
      )}
    </Box>
  );
}
