/** The sign-in: a password form, and in the demo one click. */
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
import { SightGlass } from '../../ui/SightGlass';
import { Title } from '../../ui/Title';
import { Trouble } from '../../ui/Trouble';

const SHOWN = [
  { state: 'fine', used: 0.1, colour: 'fresh', level: 0 },
  { state: 'fine', used: 0.5, colour: 'darker', level: 1 },
  { state: 'soon', used: 0.92, colour: 'brown', level: 1 },
  { state: 'overdue', used: 1.2, colour: 'dark brown', level: 2 },
] as const;

export function SignIn({ demo }: { demo: boolean }) {
  const waiting = useQuery({ queryKey: ['waiting'], queryFn: waitingActs, staleTime: 0, retry: false });
  useEffect(() => outbox.open(''), []); // nothing is sent in the name of whoever comes next
  const keep = useKeepSession();
  const [username, setUsername] = useState('');
  const [password, setPassword] = useState('');
  const enter = useMutation({ mutationFn: () => ask(client.POST('/api/session', { body: { username, password } })), onSuccess: keep });
  const tour = useMutation({ mutationFn: (who: string) => ask(client.POST('/api/session/demo', { body: { username: who } })), onSuccess: keep });
  return (
    <Box component="main" sx={{ minHeight: '100vh', display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1.1fr 1fr' } }}>
      <Box sx={{ bgcolor: (t) => t.tones.spine, color: (t) => t.tones.spineInk, p: { xs: 4, md: 8 }, display: 'grid', alignContent: 'center', gap: 4 }}>
        <Title sx={{ color: 'primary.main', fontSize: { xs: '3.5rem', md: '5.5rem' } }}>Ba·ro·dex</Title>
        <Typography sx={{ fontSize: '1.35rem', maxWidth: '26em' }}>
          Three things are read off oil: how much, what colour, what floats in it. This book does the sums.
        </Typography>
        <Box sx={{ display: 'flex', gap: 3, bgcolor: 'background.default', borderRadius: 3, p: 2, justifySelf: 'start' }} aria-hidden="true">
          {SHOWN.map((s) => (
            <SightGlass key={s.state + s.used} {...s} size={96} />
          ))}
        </Box>
      </Box>
      <Box
        component="form"
        onSubmit={(e) => {
          e.preventDefault();
          enter.mutate();
        }}
        sx={{ p: { xs: 4, md: 8 }, display: 'grid', gap: 2, alignContent: 'center', maxWidth: 480 }}>
        <Typography variant="h2">Sign in</Typography>
        {waiting.data?.map(([who, n]) => (
          <Typography key={who} role="status">
            {n === 1 ? 'One act' : `${n} acts`} of <b>{who}</b> wait on this device: sign in as {who} and they are sent.
          </Typography>
        ))}
        <TextField label="Name" value={username} onChange={(e) => setUsername(e.target.value)} autoComplete="username" autoFocus size="medium" required />
        <TextField
          label="Password"
          type="password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
          autoComplete="current-password"
          size="medium"
          required
        />
        <Trouble error={enter.error ?? tour.error} />
        <Button type="submit" variant="contained" disabled={enter.isPending}>
          Sign in
        </Button>
        {demo && (
          <Box sx={{ borderTop: 1, borderColor: 'divider', pt: 2, mt: 1, display: 'grid', gap: 1.5 }}>
            <span>This is the demo: Skerrow Island depot, invented.</span>
            <Button variant="outlined" onClick={() => tour.mutate('isla')} disabled={tour.isPending}>
              Look round as the lead
            </Button>
            <Button variant="text" onClick={() => tour.mutate('fergus')} disabled={tour.isPending}>
              or as the technician
            </Button>
          </Box>
        )}
      </Box>
    </Box>
  );
}
