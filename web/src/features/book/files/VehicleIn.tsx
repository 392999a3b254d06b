/** A vehicle's file held against this book: what of it is new, the same, in conflict; then taken in. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { type Schemas, upload } from '../../../app/api';
import { date } from '../../../app/session';
import { FileButton } from '../../../ui/FileButton';
import { Trouble } from '../../../ui/Trouble';

type Preview = Schemas['VehiclePreview'];
const PLURAL: Record<string, string> = { person: 'people' };
const many = (what: string) => PLURAL[what] ?? `${what}s`;

function Counts({ counts }: { counts: Preview['counts'] }) {
  return (
    <Table size="small" aria-label={t`What is in the file`} sx={{ maxWidth: 560, '& td, & th': { py: 0.5 } }}>
      <TableHead>
        <TableRow>
          <TableCell />
          <TableCell align="right">{t`new`}</TableCell>
          <TableCell align="right">{t`here already`}</TableCell>
          <TableCell align="right">{t`in conflict`}</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {counts.map((c) => (
          <TableRow key={c.what}>
            <TableCell component="th" scope="row">
              {many(c.what)}
            </TableCell>
            <TableCell align="right">
              <b>{c.new || ''}</b>
            </TableCell>
            <TableCell align="right">{c.same || ''}</TableCell>
            <TableCell align="right">{c.conflict || ''}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

function Seen({ file, seen, drop }: { file: File; seen: Preview; drop: () => void }) {
  const go = useNavigate();
  const cache = useQueryClient();
  const take = useMutation({
    mutationFn: () => upload<Schemas['VehicleTaken']>('/api/vehicle-file/take', file),
    onSuccess: async (made) => {
      await cache.invalidateQueries();
      go(`/due/vehicle/${made.vehicle}`);
    },
  });
  const noted = seen.parts.filter((p) => p.note);
  const nothing = seen.counts.every((c) => c.new === 0);
  return (
    <Box role="group" aria-label={t`The file of ${seen.vehicle}`} sx={{ bgcolor: (t) => t.tones.pan, borderRadius: 2, p: 2, display: 'grid', gap: 1.5 }}>
      <Box>
        <Box component="b" sx={{ typography: 'h4' }}>
          {[seen.vehicle, seen.plate].filter(Boolean).join(', ')}
        </Box>
        <Box sx={{ color: 'text.secondary' }}>
          <Trans>
            written {seen.workshop ? `at ${seen.workshop} ` : ''}on {date(seen.made)}
            {seen.left_behind > 0 &&
              t`; ${plural(seen.left_behind, { one: 'one change', other: `${seen.left_behind} changes` })} of its boxes from other vehicles stayed with those`}
          </Trans>
        </Box>
      </Box>
      <Counts counts={seen.counts} />
      {noted.length > 0 && (
        <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
          {noted.map((p) => (
            <li key={`${p.what} ${p.name} ${p.note}`}>
              <b>{p.name}</b> ({p.what}): {p.note}
            </li>
          ))}
        </Box>
      )}
      <Trouble error={take.error} />
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap' }}>
        <Button variant="contained" disabled={take.isPending || nothing} onClick={() => take.mutate()}>
          {take.isPending ? t`Taking it in …` : t`Take in what is new`}
        </Button>
        <Button variant="text" onClick={drop}>{t`Not now`}</Button>
        {nothing && <span>{t`There is nothing in it that the book does not have.`}</span>}
      </Box>
    </Box>
  );
}

export function VehicleIn() {
  const preview = useMutation({ mutationFn: (file: File) => upload<Preview>('/api/vehicle-file', file) });
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <span>{t`What came with a vehicle from another workshop: its compartments, sheets, oils, history and photos. First it is held against this book.`}</span>
      {preview.data && preview.variables ? (
        <Seen key={preview.submittedAt} file={preview.variables} seen={preview.data} drop={preview.reset} />
      ) : (
        <FileButton label={t`Vehicle's file`} accept=".zip" plain busy={preview.isPending} take={(file) => preview.mutate(file)}>
          {preview.isPending ? t`Reading it …` : t`Choose the vehicle's file`}
        </FileButton>
      )}
      <Trouble error={preview.error} />
    </Box>
  );
}
