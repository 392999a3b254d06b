/** What the book does not know or cannot be trusted with, each with the shortest way to mend it. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { ask, client } from '../../app/api';
import { Bones } from '../../ui/Bones';
import { Empty } from '../../ui/Empty';
import { FailedPage } from '../../ui/FailedPage';
import { Page, Section } from '../../ui/Page';

export function AuditPage() {
  const [only, setOnly] = useState('');
  const audit = useQuery({ queryKey: ['audit'], queryFn: () => ask(client.GET('/api/book/audit')) });
  if (audit.isPending) return <Bones lines={8} />;
  if (audit.isError) return <FailedPage error={audit.error} again={() => audit.refetch()} />;
  const a = audit.data;
  const share = a.compartments ? Math.round((a.sound / a.compartments) * 100) : 100;
  const shown = a.counts.filter((c) => !only || c.kind === only);
  return (
    <Page title={t`What the book does not know`} note={t`${a.sound} of ${a.compartments} compartments (${share} %) have nothing against them`}>
      <Box sx={{ height: 14, border: 2, borderColor: 'text.primary', borderRadius: 1, maxWidth: 520 }} aria-hidden="true">
        <Box sx={{ height: '100%', width: `${share}%`, bgcolor: 'primary.main' }} />
      </Box>
      {!a.items.length && (
        <Empty title={t`Nothing is missing`}>
          <span>{t`Every compartment has its change, its amounts and its findings on record, by figures that are verified.`}</span>
        </Empty>
      )}
      {a.counts.length > 1 && (
        <Box role="group" aria-label={t`Show only`} sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }}>
          {a.counts.map((c) => (
            <Button
              key={c.kind}
              variant={only === c.kind ? 'contained' : 'outlined'}
              aria-pressed={only === c.kind}
              onClick={() => setOnly(only === c.kind ? '' : c.kind)}>
              {c.count} · {c.words.toLowerCase()}
            </Button>
          ))}
        </Box>
      )}
      {shown.map((c) => (
        <Section key={c.kind} title={`${c.words} (${c.count})`}>
          <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
            {a.items
              .filter((i) => i.kind === c.kind)
              .map((i) => (
                <Box
                  component="li"
                  key={`${i.compartment_id}${i.vehicle_id}${i.text}`}
                  sx={{
                    borderTop: 1,
                    borderColor: 'divider',
                    py: 0.75,
                    display: 'grid',
                    gap: { xs: 0.25, md: 2 },
                    gridTemplateColumns: { xs: '1fr', md: '230px minmax(0, 1.2fr) minmax(0, 1fr)' },
                  }}>
                  <b>
                    {i.vehicle}
                    {i.compartment && `, ${i.compartment.toLowerCase()}`}
                  </b>
                  <span>{i.text}</span>
                  <Link to={i.path}>{i.mend}</Link>
                </Box>
              ))}
          </Box>
        </Section>
      ))}
    </Page>
  );
}
