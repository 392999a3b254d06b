/** A sheet from a file: read for review. What is blank, converted or implausible is shown, foreign names are mapped once; nothing enters unseen. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { keep } from '../../../ui/form/useTyped';
import { problemAt } from '../../../ui/LittleForm';
import { Page, Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { Nav } from '../Nav';
import { Names, type Report, read } from './FileNames';
import { blankSheet, draftOf } from './sheetDraft';
import { KEPT, useSheetWords } from './useSheetForm';

/** A field's path as words: plugs.0.torque_nm is plug 1, torque. */
export const fieldWords = (path: string) =>
  path
    .replace(/_(ml|nm|mm|km|h|c)\b/g, '')
    .replace(/(\w+?)s\.(\d+)\.?/g, (_, name, k) => `${name} ${Number(k) + 1}, `)
    .replace(/_/g, ' ')
    .replace(/, $/, '');

function Findings({ report }: { report: Report }) {
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      {report.problems.length > 0 && (
        <Section title={t`Cannot be taken as it stands`}>
          {report.problems.map((p) => (
            <Box key={p.field + p.text} sx={{ color: 'error.main' }}>
              <b>{fieldWords(p.field) || t`the file`}</b>: {p.text} ({p.value})
            </Box>
          ))}
        </Section>
      )}
      {report.implausible.length > 0 && (
        <Section title={t`Can that be?`}>
          {report.implausible.map((p) => (
            <Box key={p.field} sx={{ color: (t) => t.tones.amberText }}>
              <Trans>
                {p.text} Usual: {p.usual}.
              </Trans>
            </Box>
          ))}
        </Section>
      )}
      {report.converted.length > 0 && (
        <Section title={t`Converted`}>
          {report.converted.map((c) => (
            <Box key={c.field}>
              <Trans>
                {fieldWords(c.field)}: {c.given} is read as <b>{c.read_as}</b>
              </Trans>
            </Box>
          ))}
        </Section>
      )}
      {report.blank.length > 0 && (
        <Section title={t`Left blank`}>
          <Box>
            <Trans>{report.blank.join(', ')}: unknown until somebody fills it in.</Trans>
          </Box>
        </Section>
      )}
    </Box>
  );
}

export function FilePage() {
  const [text, setText] = useState('');
  const go = useNavigate();
  const look = useMutation({ mutationFn: read });
  const at = problemAt(look);
  const report = look.data;
  const { words } = useSheetWords();
  return (
    <Page title={t`Read a sheet file`} note={t`JSON by the published schema, or somebody else's names`}>
      <Nav />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', lg: '1fr 1fr' }, gap: 4 }}>
        <Box
          component="form"
          sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}
          onSubmit={(e) => {
            e.preventDefault();
            look.mutate(text);
          }}>
          <Button variant="outlined" component="label" sx={{ justifySelf: 'start' }}>
            {t`Choose a file`}
            <input
              type="file"
              accept=".json,application/json"
              hidden
              onChange={async (e) => {
                const file = e.target.files?.[0];
                if (file) setText((await file.text()).slice(0, 250_000));
                e.target.value = '';
              }}
            />
          </Button>
          <TextField
            label={t`or paste it here`}
            multiline
            minRows={12}
            maxRows={26}
            value={text}
            onChange={(e) => setText(e.target.value)}
            error={Boolean(at('text') || at('format') || at('version'))}
            helperText={at('text') || at('format') || at('version') || ' '}
            slotProps={{ htmlInput: { spellCheck: false, style: { fontFamily: 'monospace', fontSize: 14 } } }}
          />
          <Trouble error={look.error} />
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
            <Button type="submit" variant="contained" disabled={look.isPending || !text.trim()}>{t`Read it`}</Button>
            <Button variant="text" component="a" href="/api/sheets/file/schema" target="_blank">{t`The schema`}</Button>
          </Box>
        </Box>
        {report ? (
          <Box sx={{ display: 'grid', gap: 3, alignContent: 'start' }}>
            <Typography variant="h2">{report.draft.name || t`A sheet without a name`}</Typography>
            {report.foreign.length > 0 && <Names key={text} report={report} again={() => look.mutate(text)} />}
            <Findings report={report} />
            <Button
              variant="contained"
              sx={{ justifySelf: 'start' }}
              disabled={!words}
              onClick={() => {
                if (words) keep(KEPT, blankSheet(words), draftOf(report.draft.name, report.draft.kind, report.draft, words));
                go('/shelf/new');
              }}>{t`Look at it line by line, then write it`}</Button>
          </Box>
        ) : (
          <Box
            sx={{
              color: 'text.secondary',
            }}>{t`Nothing is written by reading. You see what is blank, what was converted and what looks odd, then every figure in the form, and only then it becomes a sheet.`}</Box>
        )}
      </Box>
    </Page>
  );
}
