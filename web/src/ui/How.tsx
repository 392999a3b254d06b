/** The working behind a number, one tap away. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Schemas } from '../app/api';
import { Panel } from './Panel';

export function How({ working, title = t`How this came about` }: { working: Schemas['Working']; title?: string }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="text" size="small" onClick={() => setOpen(true)} sx={{ minHeight: 32, px: 0.5 }}>{t`How?`}</Button>
      <Panel label={title} open={open} close={() => setOpen(false)}>
        <Box sx={{ p: 3, display: 'grid', gap: 1.5, minWidth: 340 }}>
          <Typography variant="h2">{title}</Typography>
          <Typography sx={{ fontFamily: 'monospace' }}>{working.formula}</Typography>
          <Table sx={{ borderCollapse: 'collapse', '& td': { borderBottom: 1, borderColor: 'divider', py: 0.5, pr: 3 } }}>
            <TableBody>
              {working.inputs.map(([name, value]) => (
                <TableRow key={name}>
                  <TableCell>{name}</TableCell>
                  <TableCell>{value}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
          <Typography variant="body2" color="text.secondary">
            <Trans>Source: {working.source}</Trans>
          </Typography>
          <Button variant="outlined" onClick={() => setOpen(false)}>{t`Close`}</Button>
        </Box>
      </Panel>
    </>
  );
}
