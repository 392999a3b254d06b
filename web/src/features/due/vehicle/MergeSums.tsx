/** What two vehicles say of themselves side by side, and in figures what comes, what both have, what contradicts. */
import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { Schemas } from '../../../app/api';

export type View = Schemas['MergeView'];
export const things = (n: number, one: string) => (n === 1 ? `one ${one}` : `${n} ${one}s`);

export function Said({ view }: { view: View }) {
  return (
    <Table size="small" aria-label="What both say" sx={{ '& td, & th': { py: 0.5 } }}>
      <TableHead>
        <TableRow>
          <TableCell />
          <TableCell>{view.kept} (stays)</TableCell>
          <TableCell>{view.other}</TableCell>
          <TableCell>afterwards</TableCell>
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
    view.changes > 0 && `${things(view.changes, 'change')} of ${view.other} ${view.changes === 1 ? 'comes' : 'come'} along.`,
    view.twins.length > 0 && `Both have ${view.twins.join('; ')}: said once afterwards, the other one stands as void.`,
    view.readings > 0 && `${things(view.readings, 'reading')} ${view.readings === 1 ? 'comes' : 'come'} along.`,
    view.twice > 0 && `${things(view.twice, 'reading')} ${view.twice === 1 ? 'stands' : 'stand'} in both: once afterwards.`,
    view.contrary > 0 &&
      `${things(view.contrary, 'reading')} of ${view.other} ${view.contrary === 1 ? 'contradicts' : 'contradict'} those of ${view.kept}: void afterwards, with that reason.`,
  ].filter(Boolean);
  return (
    <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
      {lines.map((l) => (
        <li key={String(l)}>{l}</li>
      ))}
      <li>Services, visits and bottles on board come along; nothing is deleted, and it can be taken back.</li>
    </Box>
  );
}
