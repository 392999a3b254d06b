/** Due dates and visits for a calendar program: as a file, or under a secret link that is shown once and can be revoked. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';
import { date } from '../../../app/session';
import { Panel } from '../../../ui/Panel';
import { Trouble } from '../../../ui/Trouble';

export function CalendarPanel({ open, close }: { open: boolean; close: () => void }) {
  const cache = useQueryClient();
  const link = useQuery({ queryKey: ['calendar-link'], queryFn: () => ask(client.GET('/api/plan/calendar')), enabled: open });
  const again = () => cache.invalidateQueries({ queryKey: ['calendar-link'] });
  const make = useMutation({ mutationFn: () => ask(client.POST('/api/plan/calendar')), onSuccess: again });
  const revoke = useMutation({
    mutationFn: () => ask(client.DELETE('/api/plan/calendar')),
    onSuccess: () => {
      make.reset();
      return again();
    },
  });
  const address = make.data ? `${window.location.origin}${make.data.path}` : '';
  return (
    <Panel label={t`Calendar`} open={open} close={close} wide>
      <Box sx={{ p: 3, display: 'grid', gap: 1.5, justifyItems: 'start' }}>
        <Box component="h2" sx={{ typography: 'h2', m: 0 }}>{t`In your calendar`}</Box>
        <span>{t`Due dates and agreed visits of the coming year, for any program that reads iCalendar.`}</span>
        <Button variant="outlined" href="/api/plan/calendar/file" download>{t`Take a file`}</Button>
        <Box component="h3" sx={{ typography: 'h4', m: 0, mt: 1 }}>{t`A link that keeps itself up to date`}</Box>
        {address ? (
          <>
            <TextField
              label={t`Your secret link`}
              value={address}
              fullWidth
              slotProps={{ htmlInput: { readOnly: true, onFocus: (e: React.FocusEvent<HTMLInputElement>) => e.target.select() } }}
            />
            <span>{t`Copy it now: it is shown once. Whoever has it can read the dates, nothing else.`}</span>
          </>
        ) : (
          <span>{link.data?.since ? t`You have a link since ${date(link.data.since)}. A new one ends it.` : t`You have no link yet.`}</span>
        )}
        <Trouble error={link.error ?? make.error ?? revoke.error} />
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
          <Button variant="contained" disabled={make.isPending} onClick={() => make.mutate()}>
            {link.data?.since ? t`Make a new link` : t`Make a link`}
          </Button>
          {link.data?.since && <Button variant="text" disabled={revoke.isPending} onClick={() => revoke.mutate()}>{t`Revoke it`}</Button>}
          <Button variant="text" onClick={close}>{t`Close`}</Button>
        </Box>
      </Box>
    </Panel>
  );
}
