/** People of the workshop, for the lead: who may do what, who is signed in, who was invited, who has left. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { ask, client, type Schemas } from '../../app/api';
import { date, useSession } from '../../app/session';
import { Bones } from '../../ui/Bones';
import { FailedPage } from '../../ui/FailedPage';
import { Line, OneOf } from '../../ui/form/fields';
import { LittleForm } from '../../ui/LittleForm';
import { Page, Section } from '../../ui/Page';
import { Pick } from '../../ui/Pick';
import { Trouble } from '../../ui/Trouble';
import { OneLink } from './OneLink';

type Person = Schemas['PersonView'];
type Role = Schemas['InviteRequestRequest']['role'];
const ROLES: [Role, string][] = [
  ['lead', 'lead: everything'],
  ['technician', 'technician: services, readings, stock'],
  ['viewer', 'viewer: reads'],
];

function Row({ p, mine, show }: { p: Person; mine: boolean; show: (link: Schemas['OneTimeLink']) => void }) {
  const cache = useQueryClient();
  const path = { params: { path: { person: p.id } } };
  const change = useMutation({
    mutationFn: (body: Schemas['PatchedPersonRequestRequest']) => ask(client.PATCH('/api/people/{person}', { ...path, body })),
    onSuccess: (rows) => cache.setQueryData(['people'], rows),
  });
  const link = useMutation({ mutationFn: () => ask(client.POST('/api/people/{person}/link', path)), onSuccess: show });
  const out = useMutation({
    mutationFn: () => ask(client.DELETE('/api/people/{person}/sessions', path)),
    onSuccess: () => cache.invalidateQueries({ queryKey: ['people'] }),
  });
  const seen = p.joined ? (p.last_seen ? `last here ${date(p.last_seen)}` : 'never here yet') : 'invited, has chosen no password yet';
  const where = p.signed_in === 0 ? '' : p.signed_in === 1 ? 'signed in on one device' : `signed in on ${p.signed_in} devices`;
  return (
    <Box
      component="li"
      aria-label={p.name}
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', sm: '1.4fr 1.2fr 230px' },
        gap: 2,
        alignItems: 'start',
        borderTop: 1,
        borderColor: 'divider',
        py: 1.25,
      }}>
      <Box>
        <Box sx={{ typography: 'h4' }}>
          {p.name}
          {mine ? ' (you)' : ''}
        </Box>
        <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
          signs in as {p.username} · {p.active ? [seen, where].filter(Boolean).join(', ') : 'has left; what they wrote stays'}
        </Box>
      </Box>
      {p.active ? (
        <Pick
          label={`Role of ${p.name}`}
          value={p.role}
          options={ROLES}
          onChange={(role) => change.mutate({ role: role as Role })}
          hint={p.only_lead ? 'the only lead: make another first' : ''}
        />
      ) : (
        <span>{p.role}</span>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, justifyContent: 'end' }}>
        {p.active ? (
          <>
            {!mine && (
              <Button size="small" variant="text" disabled={link.isPending} onClick={() => link.mutate()} aria-label={`New link for ${p.name}`}>
                New link
              </Button>
            )}
            {!mine && p.signed_in > 0 && (
              <Button size="small" variant="text" disabled={out.isPending} onClick={() => out.mutate()} aria-label={`Sign ${p.name} out everywhere`}>
                Sign out everywhere
              </Button>
            )}
            {!mine && (
              <Button size="small" variant="text" disabled={change.isPending} onClick={() => change.mutate({ active: false })} aria-label={`${p.name} leaves`}>
                Leaves
              </Button>
            )}
          </>
        ) : (
          <Button size="small" variant="text" disabled={change.isPending} onClick={() => change.mutate({ active: true })} aria-label={`${p.name} is back`}>
            Is back
          </Button>
        )}
      </Box>
      <Box sx={{ gridColumn: '1 / -1' }}>
        <Trouble error={change.error ?? link.error ?? out.error} />
      </Box>
    </Box>
  );
}

export function People() {
  const { data: me } = useSession();
  const [link, setLink] = useState<Schemas['OneTimeLink'] | null>(null);
  const people = useQuery({ queryKey: ['people'], queryFn: () => ask(client.GET('/api/people')) });
  if (people.isPending) return <Bones lines={6} />;
  if (people.isError) return <FailedPage error={people.error} again={() => people.refetch()} />;
  const rows = (active: boolean) =>
    people.data.filter((p) => p.active === active).map((p) => <Row key={p.id} p={p} mine={p.username === me?.username} show={setLink} />);
  const left = rows(false);
  return (
    <Page title="People" note={<Link to="/settings">settings</Link>}>
      <Box sx={{ display: 'grid', gap: 3, maxWidth: 980 }}>
        {link && <OneLink link={link} close={() => setLink(null)} />}
        <LittleForm
          open="Invite somebody"
          submit="Make the link"
          strong
          start={{ first: '', last: '', username: '', role: 'technician' }}
          send={(d) => ask(client.POST('/api/people', { body: { ...d, role: d.role as Role } }))}
          taken={(made: Schemas['OneTimeLink']) => setLink(made)}>
          <Line name="first" autoFocus label="First name" />
          <Line name="last" label="Last name" />
          <Line name="username" label="Name to sign in by" hint="such as fergus" />
          <OneOf name="role" label="May do" options={ROLES} />
        </LittleForm>
        <Box component="ul" aria-label="People" sx={{ listStyle: 'none', p: 0, m: 0 }}>
          {rows(true)}
        </Box>
        {left.length > 0 && (
          <Section title="Have left">
            <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0 }}>
              {left}
            </Box>
          </Section>
        )}
      </Box>
    </Page>
  );
}
