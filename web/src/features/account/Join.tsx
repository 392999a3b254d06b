/** By a one-time link: who is meant, and the password that is chosen. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../app/api';
import { useKeepSession } from '../../app/session';
import { Bones } from '../../ui/Bones';
import { problemAt } from '../../ui/LittleForm';
import { Trouble } from '../../ui/Trouble';
import { Front } from './Front';
import { Password } from './Password';

export function Join({ link }: { link: string }) {
  const keep = useKeepSession();
  const [password, setPassword] = useState('');
  const params = { path: { link } };
  const who = useQuery({ queryKey: ['join', link], queryFn: () => ask(client.GET('/api/join/{link}', { params })), retry: false, staleTime: 60_000 });
  const join = useMutation({
    mutationFn: () => ask(client.POST('/api/join/{link}', { params, body: { password } })),
    onSuccess: (session) => {
      window.history.replaceState(null, '', '/');
      keep(session);
    },
  });
  const submit = () => {
    if (who.data && !join.isPending) join.mutate();
  };
  return (
    <Front submit={submit}>
      {who.isPending && <Bones lines={3} />}
      {who.isError && (
        <>
          <Typography variant="h2">{t`This link is no good any more`}</Typography>
          <Trouble error={who.error} />
          <a href="/">{t`To the sign-in`}</a>
        </>
      )}
      {who.data && (
        <>
          <Typography variant="h2">
            <Trans>Welcome, {who.data.name}</Trans>
          </Typography>
          <Typography>
            <Trans>
              You sign in as <b>{who.data.username}</b>. Choose a password; the link is used up with it.
            </Trans>
          </Typography>
          <Password label={t`Your password`} value={password} change={setPassword} problem={problemAt(join)('password')} />
          <Trouble error={join.error} />
          <Button type="submit" variant="contained" disabled={join.isPending}>{t`Choose it and come in`}</Button>
        </>
      )}
    </Front>
  );
}
