/** Records that were declared void: what they said, struck out, and why. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import type { Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { Section } from '../../../ui/Page';

export function Voided({ records }: { records: Schemas['HistoryView']['voided'] }) {
  const { show } = useShow();
  if (!records.length) return null;
  return (
    <Section title={t`Declared void`}>
      {records.map((r) => (
        <Box key={r.id} sx={{ color: 'text.secondary' }}>
          <s>
            {date(r.on)}: {r.drained_ml === null ? t`nothing measured` : t`${show(r.drained_ml, 'volume')} out`},{' '}
            {r.poured_ml === null ? t`fill not recorded` : t`${show(r.poured_ml, 'volume')} in`}, {r.oil || t`oil not recorded`}
          </s>{' '}
          {r.void}
        </Box>
      ))}
    </Section>
  );
}
