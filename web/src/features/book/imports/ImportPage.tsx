/** A spreadsheet before it is taken in: what it would bring, how it is read, each row with what it becomes; and its undo afterwards. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Pagination from '@mui/material/Pagination';
import { Link, useParams } from 'react-router';
import { date } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { Line } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { Page, Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';
import { Columns } from './Columns';
import { Progress } from './Progress';
import { RowLine } from './RowLine';
import { type Importing, PAGE, useImport } from './useImport';
import { counted, countOf, FILE_STATES, STATES, type View } from './words';

/** All rows that stand alike, answered at once. */
function AllOf({ view, repair }: { view: View; repair: Importing['repair'] }) {
  const [problems, doubts] = [countOf(view.states, 'problem'), countOf(view.states, 'doubt')];
  if (problems + doubts < 2) return null;
  return (
    <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'start' }}>
      {problems > 1 && (
        <Button variant="outlined" disabled={repair.isPending} onClick={() => repair.mutate({ all_of: 'problem', skip: true })}>
          <Trans>Skip all {problems} that are to be repaired</Trans>
        </Button>
      )}
      {doubts > 1 && (
        <LittleForm
          open={t`One reason for all ${doubts} that are to be explained`}
          submit={t`Take them so`}
          columns="1fr"
          start={{ reason: '' }}
          send={({ reason }) => repair.mutateAsync({ all_of: 'doubt', reason })}>
          <Line name="reason" autoFocus label={t`Why they are so all the same`} most={200} hint={t`goes on each record`} />
        </LittleForm>
      )}
    </Box>
  );
}

function Rows({ view, i }: { view: View; i: Importing }) {
  const filters = [
    ['open', countOf(view.states, 'problem') + countOf(view.states, 'doubt'), t`waiting for you`],
    ...view.states.filter((s) => !STATES[s.what]?.waits).map((s) => [s.what, s.count, STATES[s.what]?.one ?? s.what]),
    ['', view.states.reduce((n, s) => n + s.count, 0), 'all'],
  ] as [string, number, string][];
  return (
    <Section title={t`Its rows`}>
      <Box role="group" aria-label={t`Show only`} sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
        {filters.map(([state, count, words]) => (
          <Button
            key={words}
            size="small"
            variant="outlined"
            aria-pressed={i.state === state}
            onClick={() => i.choose(state)}
            sx={
              i.state === state ? { bgcolor: 'text.primary', color: 'background.default', '&:hover': { bgcolor: 'text.primary' } } : { borderColor: 'divider' }
            }>
            {count} {words}
          </Button>
        ))}
        <Box sx={{ width: 220, mb: -2.5 }}>
          <Words label={t`Find in the rows`} value={i.search} onChange={i.setSearch} />
        </Box>
      </Box>
      {i.state === 'open' && <AllOf view={view} repair={i.repair} />}
      <Trouble error={i.repair.error} />
      <Box component="ol" aria-label={t`Rows`} sx={{ listStyle: 'none', p: 0, m: 0 }}>
        {view.rows.map((row) => (
          <RowLine key={row.key} row={row} view={view} repair={i.repair} several={view.tables.length > 1} />
        ))}
      </Box>
      {!view.rows.length && <Box>{i.state === 'open' ? t`Nothing waits for you: it can be taken in.` : t`No row stands so.`}</Box>}
      {view.matching > PAGE && (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <Pagination
            count={Math.ceil(view.matching / PAGE)}
            page={i.offset / PAGE + 1}
            onChange={(_, page) => i.setOffset((page - 1) * PAGE)}
            aria-label={t`Pages of rows`}
          />
          <Trans>
            {i.offset + 1} to {Math.min(view.matching, i.offset + PAGE)} of {view.matching}
          </Trans>
        </Box>
      )}
    </Section>
  );
}

/** What it comes to, and the one button. */
function Balance({ view, i }: { view: View; i: Importing }) {
  const waits = countOf(view.states, 'problem') + countOf(view.states, 'doubt');
  const asks = view.tables.some((t) => t.use && t.asks.length > 0);
  if (view.state === 'draft')
    return (
      <Box sx={{ display: 'grid', gap: 1 }}>
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap' }}>
          <Box sx={{ typography: 'h3' }} role="status">
            {view.brings.length ? t`It brings ${counted(view.brings)}.` : t`So far it brings nothing: say what its columns are.`}
          </Box>
          <Button
            variant="contained"
            sx={{ ml: 'auto', minHeight: 52 }}
            disabled={i.take.isPending || waits > 0 || asks || !view.brings.length}
            onClick={() => i.take.mutate()}>
            {asks ? t`Day or month first?` : waits > 0 ? t`${waits} rows wait for you` : i.take.isPending ? t`Taking them in …` : t`Take them in`}
          </Button>
        </Box>
        {i.take.isPending && <Progress run={view.id} />}
        <Trouble error={i.take.error} />
      </Box>
    );
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ typography: 'h3' }} role="status">
        {view.state === 'taken'
          ? t`Taken in on ${date(view.taken_at)}: ${counted(view.brings)}.`
          : t`Undone on ${date(view.undone_at)}: nothing of it is in the book.`}
      </Box>
      {view.state === 'taken' && (
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap' }}>
          <Link to="/due">{t`To what is due`}</Link>
          <Button variant="outlined" disabled={i.undo.isPending} onClick={() => i.undo.mutate()}>
            {i.undo.isPending ? t`Undoing …` : t`Undo the whole import`}
          </Button>
          <span>{t`possible until something stands on it`}</span>
        </Box>
      )}
      <Trouble error={i.undo.error} />
    </Box>
  );
}

export function ImportPage() {
  const run = Number(useParams().run);
  const i = useImport(run);
  if (i.view.isPending) return <Bones lines={8} />;
  if (i.view.isError) return <FailedPage error={i.view.error} again={() => i.view.refetch()} />;
  const view = i.view.data;
  return (
    <Page
      title={view.name}
      note={
        <>
          {FILE_STATES[view.state]} · <Link to="/book/import">{t`other files`}</Link>
        </>
      }>
      <Box sx={{ display: 'grid', gap: 2, maxWidth: 1180 }}>
        <Balance view={view} i={i} />
        {view.state === 'draft' && (
          <>
            {view.tables.map((t) => (
              <Columns key={t.number} table={t} view={view} run={run} map={i.map} />
            ))}
            <Trouble error={i.map.error} />
            <Rows view={view} i={i} />
            <Button
              variant="text"
              disabled={i.drop.isPending}
              onClick={() => i.drop.mutate()}
              sx={{ justifySelf: 'start', color: 'text.secondary' }}>{t`Let this file go`}</Button>
            <Trouble error={i.drop.error} />
          </>
        )}
      </Box>
    </Page>
  );
}
