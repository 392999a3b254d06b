/** People of the workshop, for the lead: who may do what, who is signed in, who was invited, who has left. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { ask, client, type Schemas } from '../../app/api';
import { useSession } from '../../app/session';
import { Bones } from '../../ui/Bones';
import { FailedPage } from '../../ui/FailedPage';
import { Line, OneOf } from '../../ui/form/fields';
import { LittleForm } from '../../ui/LittleForm';
import { Page, Section } from '../../ui/Page';
import { OneLink } from './OneLink';
import { PersonRow, ROLES, type Role } from './PersonRow';

export function People() {
  const { data: me } = useSession();
  const [link, setLink] = useState<Schemas['OneTimeLink'] | null>(null);
  const people = useQuery({ queryKey: ['people'], queryFn: () => ask(client.GET('/api/people')) });
  if (people.isPending) return <Bones lines={6} />;
  if (people.isError) return <FailedPage error={people.error} again={() => people.refetch()} />;
  const rows = (active: boolean) =>
    people.data.filter((p) => p.active === active).map((p) => <PersonRow key={p.id} p={p} mine={p.username === me?.username} show={setLink} />);
  const left = rows(false);
  return (
    <Page title={t`People`} note={<Link to="/settings">{t`settings`}</Link>}>
      <Box sx={{ display: 'grid', gap: 3, maxWidth: 980 }}>
        {link && <OneLink link={link} close={() => setLink(null)} />}
        <LittleForm
          open={t`Invite somebody`}
          submit={t`Make the link`}
          strong
          start={{ first: '', last: '', username: '', role: 'technician' }}
          send={(d) => ask(client.POST('/api/people', { body: { ...d, role: d.role as Role } }))}
          taken={(made: Schemas['OneTimeLink']) => setLink(made)}>
          <Line name="first" autoFocus label={t`First name`} />
          <Line name="last" label={t`Last name`} />
          <Line name="username" label={t`Name to sign in by`} hint={t`such as fergus`} />
          <OneOf name="role" label={t`May do`} options={ROLES} />
        </LittleForm>
        <Box component="ul" aria-label={t`People`} sx={{ listStyle: 'none', p: 0, m: 0 }}>
          {rows(true)}
        </Box>
        {left.length > 0 && (
          <Section title={t`Have left`}>
            <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0 }}>
              {left}
            </Box>
          </Section>
        )}
      </Box>
    </Page>
  );
}
