/** Somebody of the workshop: what they may do, where they are signed in, a new link, leaving and coming back. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../app/api';
import { date } from '../../app/session';
import { Pick } from '../../ui/Pick';
import { Trouble } from '../../ui/Trouble';

type Person = Schemas['PersonView'];
export type Role = Schemas['InviteRequestRequest']['role'];
export const ROLES: [Role, string][] = [
  ['lead', t`lead: everything`],
  ['technician', t`technician: services, readings, stock`],
  ['viewer', t`viewer: reads`],
];

export function PersonRow({ p, mine, show }: { p: Person; mine: boolean; show: (link: Schemas['OneTimeLink']) => void }) {
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
  const seen = p.joined ? (p.last_seen ? t`last here ${date(p.last_seen)}` : t`never here yet`) : t`invited, has chosen no password yet`;
  const where = p.signed_in === 0 ? '' : plural(p.signed_in, { one: 'signed in on one device', other: `signed in on ${p.signed_in} devices` });
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
          {mine ? t` (you)` : ''}
        </Box>
        <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
          <Trans>
            signs in as {p.username} · {p.active ? [seen, where].filter(Boolean).join(', ') : t`has left; what they wrote stays`}
          </Trans>
        </Box>
      </Box>
      {p.active ? (
        <Pick
          label={t`Role of ${p.name}`}
          value={p.role}
          options={ROLES}
          onChange={(role) => change.mutate({ role: role as Role })}
          hint={p.only_lead ? t`the only lead: make another first` : ''}
        />
      ) : (
        <span>{p.role}</span>
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, justifyContent: 'end' }}>
        {p.active ? (
          <>
            {!mine && (
              <Button
                size="small"
                variant="text"
                disabled={link.isPending}
                onClick={() => link.mutate()}
                aria-label={t`New link for ${p.name}`}>{t`New link`}</Button>
            )}
            {!mine && p.signed_in > 0 && (
              <Button
                size="small"
                variant="text"
                disabled={out.isPending}
                onClick={() => out.mutate()}
                aria-label={t`Sign ${p.name} out everywhere`}>{t`Sign out everywhere`}</Button>
            )}
            {!mine && (
              <Button
                size="small"
                variant="text"
                disabled={change.isPending}
                onClick={() => change.mutate({ active: false })}
                aria-label={t`${p.name} leaves`}>{t`Leaves`}</Button>
            )}
          </>
        ) : (
          <Button
            size="small"
            variant="text"
            disabled={change.isPending}
            onClick={() => change.mutate({ active: true })}
            aria-label={t`${p.name} is back`}>{t`Is back`}</Button>
        )}
      </Box>
      <Box sx={{ gridColumn: '1 / -1' }}>
        <Trouble error={change.error ?? link.error ?? out.error} />
      </Box>
    </Box>
  );
}
