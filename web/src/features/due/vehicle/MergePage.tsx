/** Two vehicles that are one, side by side: what stands afterwards, which compartment goes into which, what both have. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { ask, client } from '../../../app/api';
import { Barred } from '../../../ui/Barred';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { Page, Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { Trouble } from '../../../ui/Trouble';
import { Said, Sums, things, type View } from './MergeSums';

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
      title={t`Two that are one`}
      note={t`${view.other} goes into ${view.kept}`}
      right={<Button variant="text" component={Link} to={`/due/vehicle/${other}/merge/${vehicle}`} replace>{t`The other way round`}</Button>}>
      <Box sx={{ display: 'grid', gap: 3, maxWidth: 900 }}>
        {view.problem && <Barred>{view.problem}</Barred>}
        {view.doubts.length > 0 && (
          <Box role="note" sx={{ borderLeft: 6, borderColor: (t) => t.tones.amberText, pl: 1.5 }}>
            <b>{t`Do they look like one vehicle?`}</b> {view.doubts.join(' ')}
          </Box>
        )}
        <Said view={view} />
        <Section title={t`Which compartment is which`}>
          {view.pairs.map((p) => (
            <Box
              key={p.other_id}
              sx={{
                display: 'grid',
                gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' },
                gap: 2,
                alignItems: 'center',
                '& .MuiFormHelperText-root': { display: 'none' },
              }}>
              <Box>
                <b>{p.other}</b>, {p.kind}
                {p.changes > 0 && `, ${things(p.changes, 'change')}`}
              </Box>
              <Pick
                label={t`${p.other} is`}
                value={into(p)}
                empty={t`one of its own: it comes along`}
                options={p.may.map((id) => [String(id), names.get(id) ?? `${id}`] as const)}
                onChange={(id) => setChosen({ ...chosen, [p.other_id]: id })}
              />
            </Box>
          ))}
        </Section>
        <Sums view={view} />
        <Trouble error={merge.error} />
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button variant="contained" disabled={merge.isPending || Boolean(view.problem)} onClick={() => merge.mutate(view)}>{t`Make them one`}</Button>
          <Button variant="text" component={Link} to={`/due/vehicle/${vehicle}`}>{t`Not now`}</Button>
        </Box>
      </Box>
    </Page>
  );
}
