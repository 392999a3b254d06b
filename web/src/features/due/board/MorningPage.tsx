/** The morning: what stops, what is overdue and due, today's visits, what waits for parts, what must be looked at again; to print, to send. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { longDay, useMay } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { Empty } from '../../../ui/Empty';
import { Line } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { Page, Section } from '../../../ui/Page';
import { SightGlass } from '../../../ui/SightGlass';
import { Trouble } from '../../../ui/Trouble';

type Part = Schemas['Morning']['sections'][number];
const GLASSES: Record<string, number> = { stop: 0.7, overdue: 1.1, due: 0.98, unknown: 1, repair: 0.4 };

function Lines({ part }: { part: Part }) {
  const glass = GLASSES[part.key];
  return (
    <Section title={part.title}>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {part.lines.map((x, k) => (
          <Box
            component="li"
            key={k}
            sx={{
              display: 'grid',
              gridTemplateColumns: '24px minmax(90px, 170px) minmax(0, 1fr)',
              gap: 1.25,
              alignItems: 'center',
              borderTop: 1,
              borderColor: 'divider',
              py: 0.75,
            }}>
            {glass === undefined ? <span /> : <SightGlass state={part.key} used={glass} colour="brown" size={20} />}
            <b>{x.vehicle}</b>
            <Link to={x.path}>{x.what}</Link>
          </Box>
        ))}
      </Box>
      {part.more > 0 && (
        <Box sx={{ color: 'text.secondary' }}>
          <Trans>and {part.more} more</Trans>
        </Box>
      )}
    </Section>
  );
}

function Send() {
  const [sent, setSent] = useState<Schemas['Sent'] | null>(null);
  return (
    <Box className="no-print" sx={{ display: 'grid', gap: 1, maxWidth: 620 }}>
      <LittleForm
        open={t`Send it by mail`}
        submit={t`Send it`}
        columns="1fr"
        start={{ to: '' }}
        send={(body) => ask(client.POST('/api/plan/morning', { body }))}
        taken={setSent}>
        <Line name="to" label={t`To`} most={400} hint={t`several with commas; empty: your own address`} />
      </LittleForm>
      {sent && (
        <Box role="status">
          {sent.outbox
            ? t`For ${sent.to.join(', ')}: it waits in the outbox folder, ${sent.outbox}, as no mail server is set.`
            : t`Sent to ${sent.to.join(', ')}.`}
        </Box>
      )}
    </Box>
  );
}

export function MorningPage() {
  const lead = useMay('lead');
  const morning = useQuery({ queryKey: ['morning'], queryFn: () => ask(client.GET('/api/plan/morning')) });
  if (morning.isPending) return <Bones lines={8} />;
  if (!morning.data) return <Trouble error={morning.error} again={() => morning.refetch()} />;
  const m = morning.data;
  return (
    <Page title={longDay(m.today)} note={m.text} right={<Button variant="outlined" href="/api/plan/morning/paper" target="_blank">{t`Print it`}</Button>}>
      {!m.sections.length && (
        <Empty title={t`Nothing presses`}>
          <span>{t`Nothing is due, nothing waits, nothing must be looked at again. The horizon shows what comes.`}</span>
        </Empty>
      )}
      <Box sx={{ display: 'grid', gap: 3, gridTemplateColumns: { xs: '1fr', lg: '1fr 1fr' }, alignItems: 'start' }}>
        {m.sections.map((s) => (
          <Lines key={s.key} part={s} />
        ))}
      </Box>
      {lead && <Send />}
    </Page>
  );
}
