/** An empty book begins: who its lead is, and the workshop that stands at the head of its papers. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../app/api';
import { DATE_WAYS, useKeepSession } from '../../app/session';
import { Choice } from '../../ui/Choice';
import { problemAt } from '../../ui/LittleForm';
import { Trouble } from '../../ui/Trouble';
import { Words } from '../../ui/Words';
import { BookBack } from './BookBack';
import { Front } from './Front';
import { Password } from './Password';

type Request = Required<Schemas['SetUpRequestRequest']>;
export const SYSTEMS = [
  { value: 'metric', label: 'Metric' },
  { value: 'imperial', label: 'Imperial (UK)' },
  { value: 'us', label: 'US' },
] as const;
const BLANK: Request = {
  first: '',
  last: '',
  username: '',
  password: '',
  name: '',
  address: '',
  reached: '',
  web: '',
  unit_system: 'metric',
  dates: 'day first',
};
const TWO = { display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } };

export function SetUp() {
  const keep = useKeepSession();
  const [d, setD] = useState(BLANK);
  const set = (part: Partial<Request>) => setD((old) => ({ ...old, ...part }));
  const begin = useMutation({ mutationFn: () => ask(client.POST('/api/setup', { body: d })), onSuccess: keep });
  const at = problemAt(begin);
  const word = (name: 'first' | 'last' | 'username' | 'name' | 'reached', label: string, most: number, hint = '') => (
    <Words label={label} value={d[name]} onChange={(v) => set({ [name]: v })} problem={at(name)} most={most} hint={hint} />
  );
  return (
    <Front wide submit={() => !begin.isPending && begin.mutate()}>
      <Typography variant="h2">An empty book. Who are you?</Typography>
      <Box sx={TWO}>
        {word('first', 'First name', 60)}
        {word('last', 'Last name', 60)}
        {word('username', 'Name to sign in by', 60, 'such as isla; you are the lead')}
        <Password label="Password" value={d.password} change={(password) => set({ password })} problem={at('password')} />
      </Box>
      <Typography variant="h3">The workshop, as it stands on its papers</Typography>
      <Box sx={TWO}>
        {word('name', 'What it is called', 80)}
        {word('reached', 'Telephone or mail', 120, 'if it is to stand there')}
        <Box sx={{ gridColumn: '1 / -1', display: 'grid' }}>
          <Words label="Address" value={d.address} onChange={(address) => set({ address })} problem={at('address')} most={300} lines={2} />
        </Box>
        <Choice label="Units" value={d.unit_system} options={SYSTEMS} onChange={(unit_system) => set({ unit_system })} />
        <Choice label="A day is written" value={d.dates} options={DATE_WAYS} onChange={(dates) => set({ dates })} />
      </Box>
      <Trouble error={begin.error} />
      <Button type="submit" variant="contained" disabled={begin.isPending} sx={{ justifySelf: 'start' }}>
        Begin the book
      </Button>
      <Typography variant="h3">Or there is a book already</Typography>
      <BookBack />
    </Front>
  );
}
