/** Bay hours a day, closed weekdays and closed days: what visits are put into. The lead changes them, with a reason. */

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, Refused, standing } from '../../../app/api';
import { date } from '../../../app/session';
import { figure, needed } from '../../../app/typed';
import { DateField, isDay } from '../../../ui/DateField';
import { Panel } from '../../../ui/Panel';
import { Tick } from '../../../ui/Tick';
import { Trouble } from '../../../ui/Trouble';

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

export function BayHours({ open, close, today }: { open: boolean; close: () => void; today: string }) {
  const cache = useQueryClient();
  const bay = useQuery({ queryKey: ['bay-hours'], queryFn: () => ask(client.GET('/api/plan/bay')), enabled: open });
  const [draft, setDraft] = useState<{ hours?: string; bays?: string; closed?: number[]; days?: string[]; next?: string; why?: string }>({});
  const closed = draft.closed ?? bay.data?.closed_weekdays ?? [];
  const days = draft.days ?? bay.data?.closed_days ?? [];
  const send = useMutation({
    mutationFn: (from: number) =>
      ask(
        client.POST('/api/plan/bay', {
          params: { header: { 'If-Match': String(from) } },
          body: {
            ...(draft.hours === undefined ? {} : { hours_per_day: needed(figure(draft.hours)) }),
            ...(draft.bays === undefined ? {} : { bays: needed(figure(draft.bays)) }),
            closed_weekdays: closed,
            closed_days: days,
            why: draft.why ?? '',
          },
        }),
      ),
    onSuccess: async () => {
      setDraft({});
      await cache.invalidateQueries();
      close();
    },
  });
  const at = (name: string) => (send.error instanceof Refused ? send.error.at(name) : '');
  return (
    <Panel label="Bay hours" open={open} close={close} wide>
      {bay.data && (
        <Box
          component="form"
          sx={{ p: 3, display: 'grid', gap: 1.5 }}
          onSubmit={(e) => {
            e.preventDefault();
            send.mutate(standing(send.error) || (bay.data?.version ?? 0));
          }}>
          <Box component="h2" sx={{ typography: 'h2', m: 0 }}>
            Bay hours
          </Box>
          <TextField
            label="Hours a day in each bay"
            value={draft.hours ?? String(bay.data.hours_per_day)}
            onChange={(e) => setDraft({ ...draft, hours: e.target.value })}
            error={Boolean(at('hours_per_day'))}
            helperText={at('hours_per_day') || ' '}
            slotProps={{ htmlInput: { inputMode: 'decimal', maxLength: 6 } }}
          />
          <TextField
            label="Bays"
            value={draft.bays ?? String(bay.data.bays)}
            onChange={(e) => setDraft({ ...draft, bays: e.target.value })}
            error={Boolean(at('bays'))}
            helperText={at('bays') || ' '}
            slotProps={{ htmlInput: { inputMode: 'numeric', maxLength: 2 } }}
          />
          <Box role="group" aria-label="Closed on" sx={{ display: 'grid', gap: 0.5, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
            {DAYS.map((name, k) => (
              <Tick
                key={name}
                label={`closed on ${name}s`}
                on={closed.includes(k)}
                change={(on) => setDraft({ ...draft, closed: on ? [...closed, k].sort() : closed.filter((d) => d !== k) })}
              />
            ))}
          </Box>
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
            <DateField label="Also closed on" value={draft.next ?? ''} onChange={(next) => setDraft({ ...draft, next })} earliest={today} />
            <Button
              variant="outlined"
              disabled={!isDay(draft.next) || days.includes(draft.next)}
              onClick={() => draft.next && setDraft({ ...draft, days: [...days, draft.next].sort(), next: '' })}>
              Close that day
            </Button>
            {days.map((d) => (
              <Button
                key={d}
                size="small"
                variant="text"
                aria-label={`open ${date(d)} again`}
                onClick={() => setDraft({ ...draft, days: days.filter((o) => o !== d) })}>
                {date(d)} ×
              </Button>
            ))}
          </Box>
          <TextField
            label="Why"
            value={draft.why ?? ''}
            onChange={(e) => setDraft({ ...draft, why: e.target.value })}
            error={Boolean(at('why'))}
            helperText={at('why') || ' '}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
          <Trouble error={send.error} />
          <Box sx={{ display: 'flex', gap: 1 }}>
            <Button type="submit" variant="contained" disabled={send.isPending}>
              {standing(send.error) ? 'Change it over theirs' : 'Change it'}
            </Button>
            <Button variant="text" onClick={close}>
              Leave it
            </Button>
          </Box>
        </Box>
      )}
    </Panel>
  );
}
