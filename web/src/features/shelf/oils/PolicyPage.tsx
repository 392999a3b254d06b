/** The workshop's policy: which school it follows where practitioners differ about oil. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { needed, share } from '../../../app/typed';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { Line } from '../../../ui/form/fields';
import { Page, Section } from '../../../ui/Page';
import { Nav } from '../Nav';
import { Schools } from './Schools';
import { Switches } from './Switches';

const LIMITS: Record<string, string> = { near_low: t`Thinner by up to, %`, near_high: t`Thicker by up to, %`, off: t`Refused beyond, %` };

export function PolicyPage() {
  const view = useQuery({ queryKey: ['policy'], queryFn: () => ask(client.GET('/api/policy')) });
  if (view.isPending) return <Bones lines={6} />;
  if (view.isError) return <FailedPage error={view.error} />;
  const { switches, oil, history, version } = view.data;
  const now = Object.entries(oil).map(([name, value]) => [name, name in LIMITS ? String(Math.round(Number(value) * 100)) : String(value)]);
  const send = (changed: Record<string, string>, header: { 'If-Match': string }) => {
    const body = Object.entries(changed).map(([name, text]) => [name, name in LIMITS ? needed(share(text)) : text]);
    return ask(client.POST('/api/policy', { params: { header }, body: Object.fromEntries(body) as Schemas['PolicyRequestRequest'] }));
  };
  return (
    <Page title={t`Policy`} note={t`where practitioners differ, the workshop chooses; each verdict says which school spoke`}>
      <Nav />
      <Switches
        name={t`Policy of oils`}
        names={LIMITS}
        switches={switches}
        now={Object.fromEntries(now)}
        why={t`Why it changes`}
        submit={t`From now on so`}
        history={history}
        version={version}
        send={send}>
        <Section title={t`How far a grade may lie from the sheet's, by viscosity at 80 °C`}>
          <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: 'repeat(3, 1fr)' }, gap: 1 }}>
            {Object.entries(LIMITS).map(([name, label]) => (
              <Line key={name} name={name} label={label} most={5} />
            ))}
          </Box>
        </Section>
      </Switches>
      <Schools />
    </Page>
  );
}
