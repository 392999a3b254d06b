/** The guide that a sheet leads to, from the first tick to the signature: read it, print it, before anything is started. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { Page } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';

function StepOnPaper({ s, n }: { s: Schemas['GuideStep']; n: number }) {
  return (
    <Box
      component="li"
      sx={{ display: 'grid', gridTemplateColumns: '44px minmax(0, 1fr)', gap: 1.5, borderTop: 1, borderColor: 'divider', py: 1, breakInside: 'avoid' }}>
      <Box sx={{ typography: 'h3', textAlign: 'right', color: 'text.secondary' }}>{n}</Box>
      <Box sx={{ display: 'grid', gap: 0.25 }}>
        <Box>
          <b>{s.title}</b>
          {s.gate && (
            <Box component="span" sx={{ color: (t) => t.tones.amberText }}>
              {' '}
              <Trans>· gate: what follows is locked until it holds</Trans>
            </Box>
          )}
          {s.minutes > 0 && ` · ${s.minutes < 1 ? `${Math.round(s.minutes * 60)} s` : t`${Math.round(s.minutes)} min`}`}
        </Box>
        <Box sx={{ color: 'text.secondary' }}>{s.why}</Box>
        {s.gate && s.opens_after.length > 0 && s.opens_after.length < 4 && (
          <Box sx={{ typography: 'body2', color: 'text.secondary' }}>
            <Trans>opens after: {s.opens_after.join('; ')}</Trans>
          </Box>
        )}
        {s.caution && <Box sx={{ borderLeft: 5, borderColor: 'primary.main', pl: 1 }}>{s.caution}</Box>}
        {[...s.advice, ...s.checklist.map((c) => `☐ ${c}`), ...s.notes.map((note) => `${note}: ________`)].map((line) => (
          <Box key={line} sx={{ typography: 'body2' }}>
            {line}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

export function GuidePage() {
  const sheet = Number(useParams().sheet);
  const [vehicle, setVehicle] = useState('car');
  const [work, setWork] = useState('');
  const view = useQuery({
    queryKey: ['guide', sheet, vehicle, work],
    queryFn: () => ask(client.GET('/api/sheets/{sheet}/guide', { params: { path: { sheet }, query: { vehicle_kind: vehicle, work } } })),
    placeholderData: (before) => before,
  });
  if (view.isPending) return <Bones lines={8} />;
  if (view.isError) return <FailedPage error={view.error} />;
  const g = view.data;
  const normal = g.steps.filter((s) => !s.branch);
  const branches = g.steps.filter((s) => s.branch);
  const phases = [...new Set(normal.map((s) => s.phase))];
  const number = new Map(normal.map((s, k) => [s.id, k + 1]));
  return (
    <Page
      title={t`Guide: ${g.sheet}`}
      note={
        <Trans>
          <Link to={`/shelf/sheets/${sheet}`}>the sheet</Link>, revision {g.revision} · {normal.length} steps, about {Math.round(g.minutes / 5) * 5} minutes
        </Trans>
      }
      right={<Button variant="outlined" onClick={() => window.print()} sx={{ '@media print': { display: 'none' } }}>{t`Print it`}</Button>}>
      <Box sx={{ maxWidth: 560, display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5, '@media print': { display: 'none' } }}>
        <Pick label={t`On a`} value={vehicle} options={g.vehicle_kinds.map((k) => [k, k] as const)} onChange={setVehicle} />
        <Pick label={t`Kind of service`} value={g.work} options={g.works.map((w) => [w.value, w.label] as const)} onChange={setWork} />
      </Box>
      <Box sx={{ maxWidth: 900 }}>
        {phases.map((phase) => (
          <Box key={phase} component="section">
            <Typography variant="h3" component="h2" sx={{ mt: 2, textTransform: 'capitalize' }}>
              {phase}
            </Typography>
            <Box component="ol" sx={{ m: 0, p: 0, listStyle: 'none' }}>
              {normal
                .filter((s) => s.phase === phase)
                .map((s) => (
                  <StepOnPaper key={s.id} s={s} n={number.get(s.id) ?? 0} />
                ))}
            </Box>
          </Box>
        ))}
        {branches.map((s) => (
          <Box key={s.id} component="section" sx={{ border: 2, borderColor: 'error.main', borderRadius: 2, px: 2, py: 1, mt: 2, breakInside: 'avoid' }}>
            <Typography variant="h3" component="h2" sx={{ color: 'error.main' }}>
              {s.branch}
            </Typography>
            <b>{s.title}</b>
            <Box sx={{ color: 'text.secondary' }}>{s.why}</Box>
            {s.caution && <Box>{s.caution}</Box>}
            {s.notes.map((note) => (
              <Box key={note}>{note}: ________</Box>
            ))}
          </Box>
        ))}
      </Box>
      <Typography
        variant="body2"
        color="text.secondary">{t`Barodex is an aid: the maker's current data, local rules and qualified practice come first.`}</Typography>
    </Page>
  );
}
