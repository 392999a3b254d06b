/** One's own units and theme, and the way out. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../app/api';
import { DATE_WAYS, useKeepSession, useSession, useShow } from '../../app/session';
import { Choice } from '../../ui/Choice';
import { Page } from '../../ui/Page';
import { Tick } from '../../ui/Tick';
import { Trouble } from '../../ui/Trouble';
import { Devices } from './Devices';
import { OwnAccess } from './OwnAccess';
import { OwnWorkshop } from './OwnWorkshop';
import { SYSTEMS } from './SetUp';

const THEMES = [
  { value: 'day', label: t`Day` },
  { value: 'night', label: t`Night` },
] as const;

const BAY = [
  ['large_type', t`Large type, read from further away`],
  ['left_hand', t`Left hand: the step at the left, the list at the right`],
  ['spoken', t`Each step is read out`],
  ['short_guide', t`Short guide: gates, amounts, torques, findings and level; the rest on one page`],
  ['goes_on', t`When a time is over the guide goes on by itself`],
] as const;

export default function Settings() {
  const { data } = useSession();
  const keep = useKeepSession();
  const cache = useQueryClient();
  const { show } = useShow();
  const change = useMutation({
    mutationFn: (body: Schemas['PatchedSettingsRequestRequest']) => ask(client.PATCH('/api/session', { body, keepalive: true })), // whoever leaves at once has chosen all the same
    onMutate: (body) => data && keep({ ...data, ...body }),
    onSuccess: keep,
  });
  const leave = useMutation({
    mutationFn: () => ask(client.DELETE('/api/session')),
    onSuccess: () => {
      cache.clear();
      // What was typed and not sent is nobody else's to see.
      for (const key of Object.keys(sessionStorage)) if (key.startsWith('barodex.')) sessionStorage.removeItem(key);
      window.location.assign('/');
    },
  });
  if (!data) return null;
  return (
    <Page title={data.name} note={t`signed in as ${data.role}`}>
      <Box sx={{ display: 'grid', gap: 3, maxWidth: 640 }}>
        <Choice
          label={t`Units`}
          value={data.unit_system as 'metric' | 'imperial' | 'us'}
          options={SYSTEMS}
          onChange={(unit_system) => change.mutate({ unit_system })}
        />
        <Typography>
          <Trans>
            A bottle of 1 000 mL reads {show(1000, 'volume')}; a drain plug of 43 N·m reads {show(43, 'torque')}; 80 000 km read {show(80_000, 'distance')}.
            Whatever you type with its unit is understood in every system.
          </Trans>
        </Typography>
        <Choice
          label={t`A day is written`}
          value={data.dates as (typeof DATE_WAYS)[number]['value']}
          options={DATE_WAYS}
          onChange={(dates) => change.mutate({ dates })}
        />
        <Choice label={t`Light`} value={data.theme as 'day' | 'night'} options={THEMES} onChange={(theme) => change.mutate({ theme })} />
        <Box component="fieldset" sx={{ border: 0, m: 0, p: 0, display: 'grid', gap: 0.75 }}>
          <Box component="legend" sx={{ typography: 'h4', p: 0 }}>{t`In the Bay`}</Box>
          {BAY.map(([name, label]) => (
            <Tick key={name} label={label} on={data[name]} change={(on) => change.mutate({ [name]: on })} />
          ))}
        </Box>
        <OwnAccess />
        <OwnWorkshop />
        <Devices />
        <Trouble error={change.error ?? leave.error} />
        <Button variant="outlined" onClick={() => leave.mutate()} sx={{ justifySelf: 'start' }}>{t`Sign out`}</Button>
      </Box>
    </Page>
  );
}
