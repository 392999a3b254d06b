/** The schools of scheduling: whose interval counts. Every due date follows. */
import { t } from '@lingui/core/macro';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { Bones } from '../../../ui/Bones';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { Switches } from './Switches';

const WORDS = { preventive: t`preventive: shortened for severe use, “for life” capped`, maker: t`the maker's figure as printed` };

export function Schools() {
  const view = useQuery({ queryKey: ['schedule'], queryFn: () => ask(client.GET('/api/plan/schedule')) });
  if (view.isPending) return <Bones lines={4} />;
  if (view.isError) return <Trouble error={view.error} />;
  const { switches, schedule, history, version } = view.data;
  return (
    <Section title={t`When oil falls due`}>
      <Switches
        name={t`When oil falls due`}
        switches={switches}
        now={Object.fromEntries(Object.entries(schedule).map(([name, value]) => [name, String(value)]))}
        words={WORDS}
        why={t`Why the school changes`}
        submit={t`Reckon by it`}
        history={history}
        version={version}
        send={(changed, header) => ask(client.POST('/api/plan/schedule', { params: { header }, body: changed as Schemas['ScheduleRequestRequest'] }))}
      />
    </Section>
  );
}
