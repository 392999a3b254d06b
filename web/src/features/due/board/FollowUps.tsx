/** What must be looked at again, with a place to note what the second look showed. */

import Box from '@mui/material/Box';
import { ask, client, type Schemas } from '../../../app/api';
import { nearDate, useMay, useShow } from '../../../app/session';
import { Line } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';

function Look({ f, today }: { f: Schemas['FollowUpView']; today: string }) {
  const { show } = useShow();
  const may = useMay(f.stop ? 'lead' : 'technician');
  const by = [f.due_on ? nearDate(f.due_on, today) : '', f.due_meter === null ? '' : `at ${show(f.due_meter, f.meter === 'h' ? 'engine_hours' : 'distance')}`]
    .filter(Boolean)
    .join(' or ');
  return (
    <Box component="li" sx={{ display: 'grid', gap: 1, py: 1, borderTop: 1, borderColor: 'divider' }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <b>
          {f.vehicle}, {f.compartment}
        </b>
        <Box component="span" sx={{ flex: 1, minWidth: 220, color: f.stop ? 'error.main' : undefined }}>
          {f.what}
        </Box>
        <Box component="span" sx={{ color: 'text.secondary' }}>
          {f.stop ? 'at once' : by}
        </Box>
      </Box>
      {may && (
        <LittleForm
          small
          open={f.stop ? 'Clear the stop' : 'Looked at'}
          of={`${f.vehicle}, ${f.compartment}`}
          submit="Note it"
          columns="1fr"
          start={{ outcome: '' }}
          send={(body) => ask(client.POST('/api/follow-ups/{follow_up}', { params: { path: { follow_up: f.id } }, body }))}>
          <Line name="outcome" autoFocus label="What did it show?" most={300} />
        </LittleForm>
      )}
    </Box>
  );
}

export function FollowUps({ list, today }: { list: Schemas['FollowUpView'][]; today: string }) {
  return (
    <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0 }}>
      {list.map((f) => (
        <Look key={f.id} f={f} today={today} />
      ))}
    </Box>
  );
}
