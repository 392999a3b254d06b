/** Records that were declared void: what they said, struck out, and why. */
import Box from '@mui/material/Box';
import type { Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { Section } from '../../../ui/Page';

export function Voided({ records }: { records: Schemas['HistoryView']['voided'] }) {
  const { show } = useShow();
  if (!records.length) return null;
  return (
    <Section title="Declared void">
      {records.map((r) => (
        <Box key={r.id} sx={{ color: 'text.secondary' }}>
          <s>
            {date(r.on)}: {r.drained_ml === null ? 'nothing measured' : `${show(r.drained_ml, 'volume')} out`},{' '}
            {r.poured_ml === null ? 'fill not recorded' : `${show(r.poured_ml, 'volume')} in`}, {r.oil || 'oil not recorded'}
          </s>{' '}
          {r.void}
        </Box>
      ))}
    </Section>
  );
}
