/** The sign-in: a password form, and in the demo one click. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { ask, client } from '../../app/api';
import { waitingActs } from '../../app/outbox/kept';
import { outbox } from '../../app/outbox/outbox';
import { useKeepSession } from '../../app/session';
import { Trouble } from '../../ui/Trouble';
import { Front } from './Front';

export function SignIn({ demo }: { demo: boolean }) {
  const waiting = useQuery({ queryKey: ['waiting'], queryFn: waitingActs, staleTime: 0, retry: false });
  useEffect(() => outbox.open(''), []); // nothing is sent in the name of whoever comes next
  const keep = useKeepSession();
  const [username, setUsername] = useState('');
  const [password, setPassword] = useState('');
  const enter = useMutation({ mutationFn: () => ask(client.POST('/api/session', { body: { username, password } })), onSuccess: keep });
  const tour = useMutation({ mutationFn: (who: string) => ask(client.POST('/api/session/demo', { body: { username: who } })), onSuccess: keep });
  return (
    <Front submit={() => enter.mutate()}>
      <Typography variant="h2">{t`Sign in`}</Typography>
      {waiting.data?.map(([who, n]) => (
        <Typography key={who} role="status">
          <Trans>
            {plural(n, { one: 'One act', other: `${n} acts` })} of <b>{who}</b> wait on this device: sign in as {who} and they are sent.
          </Trans>
        </Typography>
      ))}
      <TextField label={t`Name`} value={username} onChange={(e) => setUsername(e.target.value)} autoComplete="username" autoFocus size="medium" required />
      <TextField
        label={t`Password`}
        type="password"
        value={password}
        onChange={(e) => setPassword(e.target.value)}
        autoComplete="current-password"
        size="medium"
        required
      />
      <Trouble error={enter.error ?? tour.error} />
      <Button type="submit" variant="contained" disabled={enter.isPending}>{t`Sign in`}</Button>
      {demo && (
        <Box sx={{ borderTop: 1, borderColor: 'divider', pt: 2, mt: 1, display: 'grid', gap: 1.5 }}>
          <span>{t`This is the demo: Skerrow Island depot, invented.`}</span>
          <Button variant="outlined" onClick={() => tour.mutate('isla')} disabled={tour.isPending}>{t`Look round as the lead`}</Button>
          <Button variant="text" onClick={() => tour.mutate('fergus')} disabled={tour.isPending}>{t`or as the technician`}</Button>
        </Box>
      )}
    </Front>
  );
}
