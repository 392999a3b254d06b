/** What is bought: packs of oil, and the kit. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { How } from '../../../ui/How';
import { Section } from '../../../ui/Page';

export const STATES: Record<string, string> = { there: t`there`, missing: t`missing`, 'not counted': t`look: nobody counts it` };

export function Oils({ list }: { list: Schemas['ShoppingList'] }) {
  const { show } = useShow();
  return (
    <Section title={t`Oil to buy: ${list.cost.toFixed(2)}${list.oils.some((o) => o.cost === null) ? t` and what has no price` : ''}`}>
      {list.oils.map((o) => (
        <Box key={o.lubricant} sx={{ borderTop: 2, borderColor: 'text.primary', pt: 1, display: 'grid', gap: 0.5 }}>
          <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
            <Typography variant="h3">{o.name}</Typography>
            <Typography variant="h3" component="p" sx={{ ml: 'auto' }}>
              {o.buy.length
                ? `${o.buy.map((b) => `${b.count} × ${show(b.size_ml, 'volume')}`).join(' + ')}`
                : o.no_pack
                  ? t`no pack on offer`
                  : t`nothing: it is on hand`}
              {o.buy.length > 0 && (o.cost === null ? t`, price unknown` : `, ${o.cost.toFixed(2)}`)}
            </Typography>
          </Box>
          <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
            <Trans>
              {show(o.need_ml, 'volume')} needed, {show(o.on_hand_ml, 'volume')} on hand first
              {o.short_ml > 0 ? t`, ${show(o.short_ml, 'volume')} short` : ''}
              {o.leftover_ml > 0 ? t`, ${show(o.leftover_ml, 'volume')} left over` : ''}; for {o.needs.join('; ')}
            </Trans>
          </Box>
          {o.drum && (
            <Box sx={{ typography: 'body2', color: o.drum.pays ? (t) => t.tones.amberText : 'text.secondary' }}>
              {o.drum.pays
                ? t`A drum of ${show(o.drum.pack.size_ml, 'volume')} for ${o.drum.drum_cost.toFixed(2)} pays from ${o.drum.break_even_services} services on; a year brings more.`
                : t`A drum of ${show(o.drum.pack.size_ml, 'volume')} would pay from ${o.drum.break_even_services} services a year on: not here.`}{' '}
              <How working={o.drum.working} title={t`Drum or bottles`} />
            </Box>
          )}
        </Box>
      ))}
    </Section>
  );
}

export function Kit({ list }: { list: Schemas['ShoppingList'] }) {
  return (
    <Section title={t`Seals, parts and tools`}>
      {list.missing.length > 0 && (
        <Box role="alert" sx={{ borderLeft: 6, borderColor: 'error.main', bgcolor: (t) => t.tones.redWash, p: 1.25 }}>
          <Trans>
            Missing: <b>{list.missing.join(', ')}</b>. A missing seal or tool stops the start, not the middle.
          </Trans>
        </Box>
      )}
      <Table sx={{ borderCollapse: 'collapse', typography: 'body2', '& td': { borderTop: 1, borderColor: 'divider', py: 0.5, pr: 2, verticalAlign: 'top' } }}>
        <TableBody>
          {list.kit.map((k) => (
            <TableRow key={k.item.kind + k.item.name}>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>{k.item.count} ×</TableCell>
              <TableCell>
                <b>{k.item.name}</b> {k.item.mandatory ? '' : t`(if wanted)`}
                <Box sx={{ color: 'text.secondary' }}>{k.item.use}</Box>
              </TableCell>
              <TableCell sx={{ color: k.state === 'missing' ? 'error.main' : k.state === 'there' ? 'text.primary' : 'text.secondary', whiteSpace: 'nowrap' }}>
                {STATES[k.state]}
                {k.in_store === null ? '' : t`: ${k.in_store} in the store`}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Section>
  );
}

export function save(name: string, text: string) {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([text], { type: 'text/csv' }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
