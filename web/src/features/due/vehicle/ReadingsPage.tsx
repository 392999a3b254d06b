/** Readings from a CSV file: all of it or nothing, with what is wrong row by row. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { Refused, type Schemas, upload } from '../../../app/api';
import { Page } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';

const COLUMNS = [
  ['vehicle', t`its name or plate`],
  ['date', t`year-month-day, such as 2026-03-09`],
  ['reading', t`what the meter shows`],
  ['unit', t`km, mi or h; empty: as the vehicle counts`],
] as const;
const MOST = 1_000_000;

export function ReadingsPage() {
  const cache = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const send = useMutation({
    mutationFn: async (chosen: File) => {
      if (chosen.size > MOST)
        throw new Refused({
          type: '/problems/inconsistent',
          title: '',
          status: 422,
          detail: t`The file is ${Math.round(chosen.size / 1e6)} MB; at most 1 MB is read at once.`,
          errors: [],
        });
      return upload<Schemas['CsvResult']>('/api/readings/file', chosen);
    },
    onSuccess: () => cache.invalidateQueries(),
  });
  const rows = send.error instanceof Refused ? send.error.problem.errors.filter((e) => e.line !== undefined) : [];
  return (
    <Page title={t`Readings from a file`} note={<Link to="/due">{t`back to Due`}</Link>}>
      <Box sx={{ display: 'grid', gap: 2, maxWidth: 760 }}>
        <Typography>{t`The first line names the columns; every further line is a reading. If one row is wrong, nothing is taken, and the row is named. The same file twice adds nothing.`}</Typography>
        <Box
          component="dl"
          sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', gap: 0.5, columnGap: 3, m: 0, '& dt': { fontWeight: 700 }, '& dd': { m: 0 } }}>
          {COLUMNS.map(([name, meaning]) => (
            <Box key={name} sx={{ display: 'contents' }}>
              <dt>{name}</dt>
              <dd>{meaning}</dd>
            </Box>
          ))}
        </Box>
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap' }}>
          <Button variant="outlined" component="label">
            {t`Choose the file`}
            <input
              type="file"
              accept=".csv,text/csv,text/plain"
              hidden
              onChange={(e) => {
                setFile(e.target.files?.[0] ?? null);
                send.reset();
              }}
            />
          </Button>
          <span>{file?.name ?? t`no file chosen`}</span>
          <Button variant="contained" disabled={!file || send.isPending} onClick={() => file && send.mutate(file)}>{t`Take them in`}</Button>
          <Button variant="text" href="/api/readings/file" download>{t`A sample to fill in`}</Button>
        </Box>
        <Trouble error={send.error} />
        {rows.length > 0 && (
          <Table sx={{ borderCollapse: 'collapse', '& td, & th': { textAlign: 'left', py: 0.75, pr: 2, borderTop: 1, borderColor: 'divider' } }}>
            <TableHead>
              <TableRow>
                <TableCell>{t`Line`}</TableCell>
                <TableCell>{t`Value`}</TableCell>
                <TableCell>{t`What is wrong`}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((r) => (
                <TableRow key={`${r.line} ${r.value}`}>
                  <TableCell>{r.line}</TableCell>
                  <TableCell>{r.value}</TableCell>
                  <TableCell>{r.message}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        )}
        {send.data && (
          <Typography role="status">
            <b>
              <Trans>{send.data.added} added</Trans>
            </b>
            {send.data.known ? t`, ${send.data.known} known already` : ''}.
          </Typography>
        )}
      </Box>
    </Page>
  );
}
