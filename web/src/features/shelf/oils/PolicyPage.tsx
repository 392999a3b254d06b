/** The workshop's policy: which school it follows where practitioners differ about oil. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { date, useMay } from '../../../app/session';
import { needed, share } from '../../../app/typed';
import { Bones } from '../../../ui/Bones';
import { Choice } from '../../../ui/Choice';
import { FailedPage } from '../../../ui/FailedPage';
import { problemAt } from '../../../ui/LittleForm';
import { Page, Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';
import { Nav } from '../Nav';
import { Schools } from './Schools';

type Request = Schemas['PolicyRequestRequest'];
const LIMITS = [
  ['near_low', 'Thinner by up to, %'],
  ['near_high', 'Thicker by up to, %'],
  ['off', 'Refused beyond, %'],
] as const;

export function PolicyPage() {
  const lead = useMay('lead');
  const cache = useQueryClient();
  const [changed, setChanged] = useState<Record<string, string>>({});
  const [why, setWhy] = useState('');
  const view = useQuery({ queryKey: ['policy'], queryFn: () => ask(client.GET('/api/policy')) });
  const send = useMutation({
    mutationFn: () => {
      const numbers = Object.fromEntries(LIMITS.filter(([k]) => k in changed).map(([k]) => [k, needed(share(changed[k] ?? ''))]));
      return ask(client.POST('/api/policy', { body: { ...changed, ...numbers, why } as Request }));
    },
    onSuccess: () => {
      setChanged({});
      setWhy('');
      return cache.invalidateQueries();
    },
  });
  if (view.isPending) return <Bones lines={6} />;
  if (view.isError) return <FailedPage error={view.error} />;
  const now = view.data.oil as unknown as Record<string, string | number>;
  const at = problemAt(send);
  return (
    <Page title="Policy" note="where practitioners differ, the workshop chooses; each verdict says which school spoke">
      <Nav />
      <Box
        component="form"
        sx={{ display: 'grid', gap: 2.5, maxWidth: 1100 }}
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate();
        }}>
        <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' }, gap: 2.5 }}>
          {view.data.switches.map((s) => (
            <Choice
              key={s.name}
              label={s.question}
              value={changed[s.name] ?? String(now[s.name])}
              options={s.options.map((o) => ({ value: o, label: o }))}
              onChange={(value) => lead && setChanged({ ...changed, [s.name]: value })}
            />
          ))}
        </Box>
        <Section title="How far a grade may lie from the sheet's, by viscosity at 80 °C">
          <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: 'repeat(3, 1fr)' }, gap: 1 }}>
            {LIMITS.map(([key, label]) => (
              <Words
                key={key}
                label={label}
                value={changed[key] ?? String(Math.round(Number(now[key]) * 100))}
                onChange={(value) => setChanged({ ...changed, [key]: value })}
                problem={at(key)}
                most={5}
              />
            ))}
          </Box>
        </Section>
        {lead && (
          <>
            <Words label="Why it changes" value={why} onChange={setWhy} problem={at('why')} most={200} hint="goes on record with your name" />
            <Trouble error={send.error} />
            <Button type="submit" variant="contained" disabled={send.isPending || !Object.keys(changed).length} sx={{ justifySelf: 'start' }}>
              From now on so
            </Button>
          </>
        )}
        <Section title="Changes">
          {view.data.history.length ? (
            view.data.history.map((h) => (
              <Box key={h.at}>
                {date(h.at)}, {h.by}: {h.why}
              </Box>
            ))
          ) : (
            <Box sx={{ color: 'text.secondary' }}>None: the first values are common practice.</Box>
          )}
        </Section>
      </Box>
      <Schools />
    </Page>
  );
}
