/** The schools of scheduling. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { date, useMay } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { Choice } from '../../../ui/Choice';
import { problemAt } from '../../../ui/LittleForm';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';

export const SCHOOL_HINTS: Record<string, string> = {
  preventive: 'preventive: shortened for severe use, “for life” capped',
  maker: "the maker's figure as printed",
};

/** The schools of scheduling: whose interval counts. Every due date follows. */
export function Schools() {
  const lead = useMay('lead');
  const cache = useQueryClient();
  const [changed, setChanged] = useState<Record<string, string>>({});
  const [why, setWhy] = useState('');
  const view = useQuery({ queryKey: ['schedule'], queryFn: () => ask(client.GET('/api/plan/schedule')) });
  const send = useMutation({
    mutationFn: () => ask(client.POST('/api/plan/schedule', { body: { ...changed, why } as Schemas['ScheduleRequestRequest'] })),
    onSuccess: () => {
      setChanged({});
      setWhy('');
      return cache.invalidateQueries();
    },
  });
  if (view.isPending) return <Bones lines={4} />;
  if (view.isError) return <Trouble error={view.error} />;
  const now = view.data.schedule as unknown as Record<string, string>;
  return (
    <Section title="When oil falls due">
      <Box
        component="form"
        aria-label="When oil falls due"
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
              options={s.options.map((o) => ({ value: o, label: SCHOOL_HINTS[o] ?? o }))}
              onChange={(value) => lead && setChanged({ ...changed, [s.name]: value })}
            />
          ))}
        </Box>
        {lead && (
          <>
            <Words
              label="Why the school changes"
              value={why}
              onChange={setWhy}
              problem={problemAt(send)('why')}
              most={200}
              hint="goes on record with your name"
            />
            <Trouble error={send.error} />
            <Button type="submit" variant="contained" disabled={send.isPending || !Object.keys(changed).length} sx={{ justifySelf: 'start' }}>
              Reckon by it
            </Button>
          </>
        )}
        {view.data.history.map((h) => (
          <Box key={h.at}>
            {date(h.at)}, {h.by}: {h.why}
          </Box>
        ))}
      </Box>
    </Section>
  );
}
