/** What a service leaves open, the gravest first: shortfalls, reasons, steps passed, values that nobody measured. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';

const KINDS: Record<string, string> = {
  shortfall: t`off its target`,
  conflict: t`no longer fitted`,
  reason: t`with a reason`,
  skipped: t`passed`,
  missing: t`not measured`,
};

export function GapLines({ report }: { report: Schemas['GapReport'] }) {
  return (
    <Section title={t`What is open`}>
      <span>{report.text}</span>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {report.lines.map((g) => (
          <Box
            component="li"
            key={`${g.kind}${g.compartment}${g.text}`}
            sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '130px minmax(0, 1fr)' }, gap: 1, borderTop: 1, borderColor: 'divider', py: 0.75 }}>
            <Box component="span" sx={{ color: g.kind === 'shortfall' || g.kind === 'reason' ? (t) => t.tones.amberText : 'text.secondary', fontWeight: 700 }}>
              {KINDS[g.kind] ?? g.kind}
            </Box>
            <span>
              {g.text}{' '}
              <Box component="span" sx={{ color: 'text.secondary' }}>
                {g.mend}
              </Box>
            </span>
          </Box>
        ))}
      </Box>
    </Section>
  );
}

export function GapReport({ service }: { service: number }) {
  const report = useQuery({ queryKey: ['gaps', service], queryFn: () => ask(client.GET('/api/services/{service}/gaps', { params: { path: { service } } })) });
  if (report.isPending) return null;
  return report.data ? <GapLines report={report.data} /> : <Trouble error={report.error} again={() => report.refetch()} />;
}
