/** Two vehicles that are one, side by side: what stands afterwards, which compartment goes into which, what both have. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { Barred } from '../../../ui/Barred';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { Page, Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { Trouble } from '../../../ui/Trouble';

type View = Schemas['MergeView'];
const things = (n: number, one: string) => (n === 1 ? `one ${one}` : `${n} ${one}s`);

function Said({ view }: { view: View }) {
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
function Sums({ view }: { view: View }) {
  const lines = [
    view.changes > 0 && `${things(view.changes, 'change')} of ${view.other} come along.`,
    view.twins.length > 0 && `Both have ${view.twins.join('; ')}: said once afterwards, the other one stands as void.`,
    view.readings > 0 && `${things(view.readings, 'reading')} come along.`,
    view.twice > 0 && `${things(view.twice, 'reading')} stand in both: once afterwards.`,
    view.contrary > 0 && `${things(view.contrary, 'reading')} of ${view.other} contradict those of ${view.kept}: void afterwards, with that reason.`,
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

export function MergePage() {
  const [vehicle, other] = [Number(useParams().vehicle), Number(useParams().other)];
  const go = useNavigate();
  const cache = useQueryClient();
  const path = { vehicle, other };
  const both = useQuery({
    queryKey: ['merge', vehicle, other],
    queryFn: () => ask(client.GET('/api/vehicles/{vehicle}/merge/{other}', { params: { path } })),
    retry: false,
  });
  const [chosen, setChosen] = useState<Record<number, string>>({});
  const into = (p: View['pairs'][number]) => chosen[p.other_id] ?? String(p.kept_id ?? '');
  const merge = useMutation({
    mutationFn: (view: View) =>
      ask(
        client.POST('/api/vehicles/{vehicle}/merge/{other}', {
          params: { path },
          body: { pairs: view.pairs.map((p) => ({ other_id: p.other_id, kept_id: Number(into(p)) || null })) },
        }),
      ),
    onSuccess: async () => {
      go(`/due/vehicle/${vehicle}`);
      await cache.invalidateQueries();
    },
  });
  const mine = useQuery({ queryKey: ['vehicle', vehicle], queryFn: () => ask(client.GET('/api/vehicles/{vehicle}', { params: { path: { vehicle } } })) });
  if (both.isPending) return <Bones lines={6} />;
  if (!both.data) return <FailedPage error={both.error} again={() => both.refetch()} />;
  const view = both.data;
  const names = new Map(mine.data?.compartments.map((c) => [c.id, c.name]));
  return (
    <Page
      title="Two that are one"
      note={`${view.other} goes into ${view.kept}`}
      right={
        <Button variant="text" component={Link} to={`/due/vehicle/${other}/merge/${vehicle}`} replace>
          The other way round
        </Button>
      }>
      <Box sx={{ display: 'grid', gap: 3, maxWidth: 900 }}>
        {view.problem && <Barred>{view.problem}</Barred>}
        <Said view={view} />
        <Section title="Which compartment is which">
          {view.pairs.map((p) => (
            <Box key={p.other_id} sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' }, gap: 2, alignItems: 'center' }}>
              <Box>
                <b>{p.other}</b>, {p.kind}
                {p.changes > 0 && `, ${things(p.changes, 'change')}`}
              </Box>
              <Pick
                label={`${p.other} is`}
                value={into(p)}
                empty="one of its own: it comes along"
                options={p.may.map((id) => [String(id), names.get(id) ?? `${id}`] as const)}
                onChange={(id) => setChosen({ ...chosen, [p.other_id]: id })}
              />
            </Box>
          ))}
        </Section>
        <Sums view={view} />
        <Trouble error={merge.error} />
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button variant="contained" disabled={merge.isPending || Boolean(view.problem)} onClick={() => merge.mutate(view)}>
            Make them one
          </Button>
          <Button variant="text" component={Link} to={`/due/vehicle/${vehicle}`}>
            Not now
          </Button>
        </Box>
      </Box>
    </Page>
  );
}
