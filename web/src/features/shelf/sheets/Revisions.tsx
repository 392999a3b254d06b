/** The revisions of a sheet: what changed from one to another, and who was filled by a capacity that no longer holds. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { Trouble } from '../../../ui/Trouble';

function Compare({ s }: { s: Schemas['SheetView'] }) {
  const newest = s.revisions[0]?.number ?? 1;
  const [older, setOlder] = useState(newest - 1);
  const [newer, setNewer] = useState(newest);
  const view = useQuery({
    queryKey: ['compare', s.id, older, newer],
    queryFn: () => ask(client.GET('/api/sheets/{sheet}/compare/{older}/{newer}', { params: { path: { sheet: s.id, older, newer } } })),
  });
  const options = s.revisions.map((r) => [String(r.number), t`revision ${r.number}, ${date(r.effective_on)}`] as const);
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, maxWidth: 560 }}>
        <Pick label={t`From`} value={String(older)} options={options} onChange={(v) => setOlder(Number(v))} />
        <Pick label={t`to`} value={String(newer)} options={options} onChange={(v) => setNewer(Number(v))} />
      </Box>
      <Trouble error={view.error} />
      {view.data && (
        <Table sx={{ borderCollapse: 'collapse', maxWidth: 900, '& td': { borderTop: 1, borderColor: 'divider', py: 0.5, pr: 3, verticalAlign: 'top' } }}>
          <TableBody>
            {view.data.changes.map((c) => (
              <TableRow key={c.figure}>
                <TableCell>{c.figure}</TableCell>
                <TableCell sx={{ color: 'text.secondary', textDecoration: c.before ? 'line-through' : 'none' }}>{c.before || t`not stated`}</TableCell>
                <TableCell>
                  <b>{c.after || t`not stated`}</b>
                </TableCell>
              </TableRow>
            ))}
            {!view.data.changes.length && (
              <TableRow>
                <TableCell>{t`Nothing differs.`}</TableCell>
              </TableRow>
            )}
          </TableBody>
        </Table>
      )}
    </Box>
  );
}

function Superseded({ sheet }: { sheet: number }) {
  const { show } = useShow();
  const view = useQuery({ queryKey: ['superseded', sheet], queryFn: () => ask(client.GET('/api/sheets/{sheet}/superseded', { params: { path: { sheet } } })) });
  if (!view.data?.length) return <Trouble error={view.error} />;
  return (
    <Section title={t`Filled by a superseded capacity`}>
      {view.data.map((f) => (
        <Box key={f.compartment} sx={{ borderLeft: 6, borderColor: 'primary.main', bgcolor: (t) => t.tones.amberWash, p: 1.25, maxWidth: 900 }}>
          <Trans>
            <Link to={`/book/${f.compartment}`}>{f.name}</Link>: last filled {date(f.on)}{' '}
            {f.poured_ml === null ? t`by the old ${show(f.old_ml, 'volume')}` : t`with ${show(f.poured_ml, 'volume')}`}; the sheet now says{' '}
            {show(f.new_ml, 'volume')}:{' '}
            <b>
              {show(Math.abs(f.difference_ml), 'volume')} too {f.difference_ml > 0 ? t`much` : t`little`} inside
            </b>
            .
          </Trans>
        </Box>
      ))}
    </Section>
  );
}

export function Revisions({ s }: { s: Schemas['SheetView'] }) {
  const { show } = useShow();
  return (
    <>
      <Superseded sheet={s.id} />
      <Section title={t`Revisions`}>
        {s.revisions.map((r) => (
          <Box key={r.id} sx={{ borderTop: 1, borderColor: 'divider', pt: 0.75 }}>
            <b>
              <Trans>Revision {r.number}</Trans>
            </b>
            , {date(r.effective_on)}, {r.written_by}: {r.reason}. {r.capacity_ml === null ? t`Capacity unknown` : t`Takes ${show(r.capacity_ml, 'volume')}`}.
          </Box>
        ))}
        {s.revisions.length > 1 && <Compare s={s} key={s.revisions.length} />}
      </Section>
    </>
  );
}
