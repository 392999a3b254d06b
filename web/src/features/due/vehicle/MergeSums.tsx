/** What two vehicles say of themselves side by side, and in figures what comes, what both have, what contradicts. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { Schemas } from '../../../app/api';

export type View = Schemas['MergeView'];
export const things = (n: number, one: string) => plural(n, { one: `one ${one}`, other: `${n} ${one}s` });

export function Said({ view }: { view: View }) {
  return (
    <Table size="small" aria-label={t`What both say`} sx={{ '& td, & th': { py: 0.5 } }}>
      <TableHead>
        <TableRow>
          <TableCell />
          <TableCell>
            <Trans>{view.kept} (stays)</Trans>
          </TableCell>
          <TableCell>{view.other}</TableCell>
          <TableCell>{t`afterwards`}</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {view.rows.map((r) => (
          <TableRow key={r.what}>
            <TableCell component="th" scope="row">
              {r.what}
            </TableCell>
            <TableCell>{r.kept}</TableCell>
            <TableCell sx={r.other && r.kept && r.other !== r.kept ? { color: (t) => t.tones.amberText, fontWeight: 700 } : undefined}>{r.other}</TableCell>
            <TableCell>
              <b>{r.after}</b>
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

/** What both have, what comes, what contradicts, in figures. */
export function Sums({ view }: { view: View }) {
  const lines = [
    view.changes > 0 && t`${things(view.changes, 'change')} of ${view.other} ${plural(view.changes, { one: 'comes', other: 'come' })} along.`,
    view.twins.length > 0 && t`Both have ${view.twins.join('; ')}: said once afterwards, the other one stands as void.`,
    view.readings > 0 && t`${things(view.readings, 'reading')} ${plural(view.readings, { one: 'comes', other: 'come' })} along.`,
    view.twice > 0 && t`${things(view.twice, 'reading')} ${plural(view.twice, { one: 'stands', other: 'stand' })} in both: once afterwards.`,
    view.contrary > 0 &&
      t`${things(view.contrary, 'reading')} of ${view.other} ${plural(view.contrary, { one: 'contradicts', other: 'contradict' })} those of ${view.kept}: void afterwards, with that reason.`,
  ].filter(Boolean);
  return (
    <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
      {lines.map((l) => (
        <li key={String(l)}>{l}</li>
      ))}
      <li>{t`Services, visits and bottles on board come along; nothing is deleted, and it can be taken back.`}</li>
    </Box>
  );
}
