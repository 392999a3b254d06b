/** One's own password, and where one is signed in. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../app/api';
import { clockTime, date } from '../../app/session';
import { problemAt } from '../../ui/LittleForm';
import { Trouble } from '../../ui/Trouble';
import { Password } from './Password';

const NOTHING = { old: '', password: '' };

function NewPassword() {
  const cache = useQueryClient();
  const [open, setOpen] = useState(false);
  const [d, setD] = useState(NOTHING);
  const change = useMutation({
    mutationFn: () => ask(client.POST('/api/password', { body: d })),
    onSuccess: () => {
      setD(NOTHING);
      setOpen(false);
      return cache.invalidateQueries(); // the key for changes is another one now
    },
  });
  const at = problemAt(change);
  if (!open)
    return (
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline' }}>
        <Button variant="text" onClick={() => setOpen(true)}>
          Change the password
        </Button>
        {change.isSuccess && <span role="status">Changed. Every other device is signed out.</span>}
      </Box>
    );
  return (
    <Box
      component="form"
      noValidate
      aria-label="Change the password"
      onSubmit={(e) => {
        e.preventDefault();
        if (!change.isPending) change.mutate();
      }}
      sx={{ display: 'grid', gap: 1, bgcolor: (t) => t.tones.pan, borderRadius: 2, p: 2 }}>
      <Password label="The password of today" value={d.old} change={(old) => setD({ ...d, old })} problem={at('old')} old />
      <Password label="The new one" value={d.password} change={(password) => setD({ ...d, password })} problem={at('password')} />
      <Trouble error={change.error} />
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button type="submit" variant="contained" disabled={change.isPending}>
          Change it
        </Button>
        <Button variant="text" onClick={() => setOpen(false)}>
          Not now
        </Button>
      </Box>
    </Box>
  );
}

export function OwnAccess() {
  const cache = useQueryClient();
  const sessions = useQuery({ queryKey: ['own-sessions'], queryFn: () => ask(client.GET('/api/sessions')), retry: false });
  const end = useMutation({ mutationFn: () => ask(client.DELETE('/api/sessions')), onSuccess: () => cache.invalidateQueries({ queryKey: ['own-sessions'] }) });
  return (
    <Box component="section" aria-label="Password and sessions" sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ typography: 'h4' }}>Password, and where you are signed in</Box>
      <NewPassword />
      {sessions.data?.map((s) => (
        <Box key={s.id}>
          <b>{s.device || 'a device'}</b>
          {s.here ? ', this one' : ''}
          {s.since ? `, since ${date(s.since)}, ${clockTime(s.since)}` : ''}
        </Box>
      ))}
      {(sessions.data?.length ?? 0) > 1 && (
        <Button variant="outlined" disabled={end.isPending} onClick={() => end.mutate()} sx={{ justifySelf: 'start' }}>
          Sign out everywhere else
        </Button>
      )}
      <Trouble error={sessions.error ?? end.error} />
    </Box>
  );
}
