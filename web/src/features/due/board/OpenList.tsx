/** What is open of all that was seen: stops, repairs, looks, offers; each is closed by saying what was found or mended. */

import Box from '@mui/material/Box';
import type { Schemas } from '../../../app/api';
import { CloseIt, TakeOver } from '../../../ui/Closing';
import { FollowMark, useBy } from '../../../ui/Follows';

function One({ c }: { c: Schemas['ConsequenceView'] }) {
  const by = useBy()(c, c.meter);
  const of = `${c.vehicle}, ${c.compartment}`;
  return (
    <Box component="li" sx={{ display: 'grid', gap: 1, py: 1, borderTop: 1, borderColor: 'divider' }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'start', flexWrap: 'wrap' }}>
        <FollowMark kind={c.kind} />
        <b>
          {c.vehicle}, {c.compartment}
        </b>
        <Box component="span" sx={{ flex: 1, minWidth: 220, color: c.kind === 'stop' ? 'error.main' : undefined }}>
          {c.what}
        </Box>
        <Box component="span" sx={{ color: 'text.secondary' }}>
          {by}
        </Box>
      </Box>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap', '& > form': { flexBasis: '100%' } }}>
        <TakeOver c={c} of={of} />
        <CloseIt c={c} of={of} />
      </Box>
    </Box>
  );
}

export function OpenList({ list }: { list: Schemas['ConsequenceView'][] }) {
  return (
    <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0 }}>
      {list.map((c) => (
        <One key={c.id} c={c} />
      ))}
    </Box>
  );
}
