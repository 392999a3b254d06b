/** The latest records of all vehicles; each line leads to its compartment. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { ask, client } from '../../app/api';
import { date, useMay, useShow } from '../../app/session';
import { Bones } from '../../ui/Bones';
import { Empty } from '../../ui/Empty';
import { FailedPage } from '../../ui/FailedPage';
import { LEVEL_WORDS } from '../../ui/oil';
import { Page } from '../../ui/Page';
import { LevelMarks } from './LevelMarks';
import { RetiredList } from './RetiredList';

/** Used oil of the last twelve months, and where it went. */
function Waste() {
  const { show } = useShow();
  const [open, setOpen] = useState(false);
  const waste = useQuery({ queryKey: ['waste'], queryFn: () => ask(client.GET('/api/book/waste')) });
  if (!waste.data) return null;
  const w = waste.data;
  return (
    <Box sx={{ display: 'grid', gap: 0.5, justifyItems: 'start' }}>
      <span>
        <Trans>
          <b>{show(w.total_ml, 'volume')}</b> of used oil since {date(w.since)}
          {w.unknown > 0 && t`; of ${w.unknown} ${plural(w.unknown, { one: 'change', other: 'changes' })} no amount was written down`}.
        </Trans>{' '}
        {w.lines.length > 0 && (
          <Button variant="text" size="small" sx={{ px: 0, minHeight: 32 }} aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? t`Close the list` : t`Waste log`}
          </Button>
        )}
      </span>
      {open && (
        <Table
          size="small"
          aria-label={t`Waste log`}
          sx={{ maxWidth: 1000, '& td': { borderTop: 1, borderColor: 'divider', py: 0.5, pr: 2, typography: 'body2' } }}>
          <TableBody>
            {w.lines.map((l) => (
              <TableRow key={l.record}>
                <TableCell>{date(l.on)}</TableCell>
                <TableCell align="right">
                  <b>{show(l.waste_ml, 'volume')}</b>
                </TableCell>
                <TableCell>{l.oil || t`oil not known`}</TableCell>
                <TableCell>
                  {l.vehicle}, {l.compartment.toLowerCase()}
                </TableCell>
                <TableCell sx={{ color: l.where_to ? undefined : 'text.secondary' }}>
                  {l.where_to ? t`to ${l.where_to}` : t`where to is not written down`}
                </TableCell>
                <TableCell>{l.by}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Box>
  );
}

export function BookHome() {
  const { show } = useShow();
  const lead = useMay('lead');
  const records = useQuery({ queryKey: ['book'], queryFn: () => ask(client.GET('/api/book')) });
  if (records.isPending) return <Bones lines={8} />;
  if (records.isError) return <FailedPage error={records.error} again={() => records.refetch()} />;
  return (
    <Page
      title={t`Book`}
      note={t`the latest ${records.data.length} records`}
      right={
        <>
          {lead && <Button variant="text" component={Link} to="/book/files">{t`Files, in and out`}</Button>}
          <Button variant="text" component={Link} to="/book/forecasts">{t`How forecasts came out`}</Button>
          <Button variant="text" component={Link} to="/book/audit">{t`What it does not know`}</Button>
        </>
      }>
      {!records.data.length && (
        <Empty title={t`The book is empty`}>
          <span>
            <Trans>
              Sign a service in the <Link to="/bay">Bay</Link>, or open a compartment from <Link to="/due">Due</Link> and write in an earlier change.
            </Trans>
          </span>
          {lead && (
            <span>
              <Trans>
                An old spreadsheet? <Link to="/book/import">Take it in</Link>
              </Trans>
            </span>
          )}
        </Empty>
      )}
      <Waste />
      <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {records.data.map((r) => (
          <Box component="li" key={r.id} sx={{ borderTop: 1, borderColor: 'divider' }}>
            <Box
              component={Link}
              to={`/book/${r.compartment_id}`}
              sx={{
                display: 'grid',
                gridTemplateColumns: { xs: '1fr auto', md: '110px 1.3fr 1fr 120px 190px 120px' },
                gap: 2,
                py: 1,
                alignItems: 'center',
                textDecoration: 'none',
                '&:hover': { bgcolor: (t) => t.tones.pan },
                '@media print': { gridTemplateColumns: '70px 1.4fr 1fr 70px 110px 80px', gap: 1, py: 0.5, fontSize: 11 },
              }}>
              <span>{date(r.on)}</span>
              <b>
                {r.vehicle}, {r.compartment.toLowerCase()}
              </b>
              <span>
                {r.work === 'change' ? '' : `${r.work}: `}
                {r.oil || t`oil not recorded`}
              </span>
              <Box component="span" sx={{ textAlign: 'right' }}>
                {r.poured_ml === null ? t`no amount` : show(r.poured_ml, 'volume')}
              </Box>
              <Box component="span" sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
                <LevelMarks level={r.level} />
                {r.level === null ? t`not looked at` : LEVEL_WORDS[r.level]}
              </Box>
              <Box component="span" sx={{ color: 'text.secondary' }}>
                {r.by}
              </Box>
            </Box>
          </Box>
        ))}
      </Box>
      <RetiredList />
    </Page>
  );
}
