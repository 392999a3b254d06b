/** One's own password, and where one is signed in. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useController } from 'react-hook-form';
import { ask, client } from '../../app/api';
import { clockTime, date } from '../../app/session';
import { LittleForm } from '../../ui/LittleForm';
import { Trouble } from '../../ui/Trouble';
import { Password } from './Password';

type Draft = { old: string; password: string };

function Secret({ name, label, old = false }: { name: keyof Draft; label: string; old?: boolean }) {
  const { field, fieldState } = useController<Draft>({ name });
  return <Password label={label} value={field.value} change={field.onChange} problem={fieldState.error?.message} old={old} />;
}

function NewPassword() {
  const [changed, setChanged] = useState(false);
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <LittleForm<Draft, unknown>
        open={t`Change the password`}
        submit={t`Change it`}
        columns="1fr"
        start={{ old: '', password: '' }}
        secret={['old', 'password']}
        send={(body) => ask(client.POST('/api/password', { body }))}
        taken={() => setChanged(true)}>
        <Secret name="old" label={t`The password of today`} old />
        <Secret name="password" label={t`The new one`} />
      </LittleForm>
      {changed && <span role="status">{t`Changed. Every other device is signed out.`}</span>}
    </Box>
  );
}

export function OwnAccess() {
  const cache = useQueryClient();
  const sessions = useQuery({ queryKey: ['own-sessions'], queryFn: () => ask(client.GET('/api/sessions')), retry: false });
  const end = useMutation({ mutationFn: () => ask(client.DELETE('/api/sessions')), onSuccess: () => cache.invalidateQueries({ queryKey: ['own-sessions'] }) });
  return (
    <Box component="section" aria-label={t`Password and sessions`} sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ typography: 'h4' }}>{t`Password, and where you are signed in`}</Box>
      <NewPassword />
      {sessions.data?.map((s) => (
        <Box key={s.id}>
          <b>{s.device || t`a device`}</b>
          {s.here ? t`, this one` : ''}
          {s.since ? t`, since ${date(s.since)}, ${clockTime(s.since)}` : ''}
        </Box>
      ))}
      {(sessions.data?.length ?? 0) > 1 && (
        <Button variant="outlined" disabled={end.isPending} onClick={() => end.mutate()} sx={{ justifySelf: 'start' }}>{t`Sign out everywhere else`}</Button>
      )}
      <Trouble error={sessions.error ?? end.error} />
    </Box>
  );
}
