/** Moving in: a spreadsheet is chosen; those of before, each with what it brought. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { ask, client, type Schemas, upload } from '../../../app/api';
import { date } from '../../../app/session';
import { FileButton } from '../../../ui/FileButton';
import { Page, Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { counted, FILE_STATES } from './words';

export function ImportsPage() {
  const go = useNavigate();
  const cache = useQueryClient();
  const files = useQuery({ queryKey: ['imports'], queryFn: () => ask(client.GET('/api/imports')) });
  const begin = useMutation({
    mutationFn: (file: File) => upload<Schemas['Made']>('/api/imports', file),
    onSuccess: async (made) => {
      await cache.invalidateQueries({ queryKey: ['imports'] });
      go(`/book/import/${made.id}`);
    },
  });
  return (
    <Page title={t`Take in a spreadsheet`} note={t`vehicles, compartments, past changes, readings, oils, containers`}>
      <Box sx={{ display: 'grid', gap: 2, maxWidth: 860 }}>
        <Box>{t`CSV or XLSX, one table or several, headings in any language. Nothing is written until every row has been shown with what it becomes; what was taken in can be undone as a whole.`}</Box>
        <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap' }}>
          <FileButton label={t`Spreadsheet`} accept=".csv,.tsv,.txt,.xlsx" busy={begin.isPending} take={(file) => begin.mutate(file)}>
            {begin.isPending ? t`Reading it …` : t`Choose the file`}
          </FileButton>
          <span>
            <Trans>
              None at hand? An example: <a href="/api/imports/example?kind=xlsx">workbook</a> or <a href="/api/imports/example?kind=csv">CSV</a>
            </Trans>
          </span>
        </Box>
        <Trouble error={begin.error ?? files.error} />
        {Boolean(files.data?.length) && (
          <Section title={t`Files of before`}>
            <Box component="ul" sx={{ listStyle: 'none', p: 0, m: 0 }}>
              {files.data?.map((f) => (
                <Box component="li" key={f.id} sx={{ borderTop: 1, borderColor: 'divider', py: 1 }}>
                  <Link to={`/book/import/${f.id}`}>{f.name}</Link>, {FILE_STATES[f.state]}, {f.by}, {date(f.at)}
                  {f.counts.length > 0 && `: ${counted(f.counts)}`}
                </Box>
              ))}
            </Box>
          </Section>
        )}
      </Box>
    </Page>
  );
}
