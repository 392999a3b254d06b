/** The workshop as it stands at the head of its papers. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../app/api';
import { useMay } from '../../app/session';
import { Line } from '../../ui/form/fields';
import { LittleForm } from '../../ui/LittleForm';
import { There } from '../../ui/There';

export function OwnWorkshop() {
  const lead = useMay('lead');
  const own = useQuery({ queryKey: ['workshop'], queryFn: () => ask(client.GET('/api/workshop')) });
  if (!own.data) return null;
  const { version, ...start } = own.data;
  return (
    <Box component="section" aria-label={t`The workshop`} sx={{ display: 'grid', gap: 0.5 }}>
      <Box sx={{ typography: 'h4' }}>{t`The workshop, as it stands on its papers`}</Box>
      <Box>{start.name || t`It has no name yet.`}</Box>
      {start.address.split('\n').map((line) => (
        <Box key={line}>{line}</Box>
      ))}
      {start.reached && <Box>{start.reached}</Box>}
      {start.web && (
        <Box>
          <Trans>Labels lead to {start.web}</Trans>
        </Box>
      )}
      {lead && (
        <LittleForm
          key={version}
          small
          open={t`Change it`}
          of={t`the workshop`}
          submit={t`Write it`}
          columns="1fr"
          start={start}
          version={version}
          send={(d: Schemas['WorkshopRequestRequest'], from) =>
            ask(client.POST('/api/workshop', { params: { header: { 'If-Match': String(from) } }, body: d }))
          }>
          <Line name="name" autoFocus label={t`What it is called`} most={80} />
          <Line name="address" label={t`Address`} most={300} lines={3} />
          <Line name="reached" label={t`Telephone or mail`} most={120} />
          <Line name="web" label={t`Barodex in your network`} most={120} hint={t`such as https://oil.lan: codes on labels lead there`} />
        </LittleForm>
      )}
      {lead && (
        <Box sx={{ mt: 1 }}>
          <There to="/settings/people" from={t`the settings`}>{t`People: invite, roles, who has left`}</There>
        </Box>
      )}
    </Box>
  );
}
