/** Every figure of a sheet with its sources side by side, the most to be trusted first; one is chosen, with a reason. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { date, useMay } from '../../../app/session';
import { Day, Line, OneOf, pairs } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { type Figure, TrustForm } from './TrustForm';
import { useSheetWords } from './useSheetForm';

function Choose({ claim, figure }: { claim: Schemas['ClaimView']; figure: string }) {
  return (
    <LittleForm
      small
      open={t`Go by this one`}
      of={`${claim.source}, ${figure}`}
      submit={t`Make it the sheet's figure`}
      columns="1fr"
      start={{ reason: '' }}
      send={(body) => ask(client.POST('/api/claims/{claim}/choose', { params: { path: { claim: claim.id } }, body }))}>
      <Line name="reason" autoFocus label={t`Why this one`} most={200} />
    </LittleForm>
  );
}

type ClaimRequest = Schemas['ClaimRequestRequest'];

function Note({ sheet, figures }: { sheet: number; figures: Figure[] }) {
  const words = useSheetWords().words?.sheet;
  return (
    <LittleForm
      open={t`Note what another source says`}
      submit={t`Keep it beside the others`}
      columns="1fr 1fr 1fr"
      start={{ figure: figures[0]?.figure ?? 'capacity', text: '', source: 'manual', trust: 'remembered', published: '', note: '' }}
      send={(d) =>
        ask(client.POST('/api/sheets/{sheet}/claims', { params: { path: { sheet } }, body: { ...d, published: d.published || null } as ClaimRequest }))
      }>
      <OneOf name="figure" label={t`Figure`} options={pairs(figures.map((f) => f.figure))} />
      <Line name="text" label={t`It says`} hint={t`with its unit: 2.4 L, 27 lbf·ft; given twice is checked: 43 N·m (32 lbf·ft)`} />
      <OneOf name="source" label={t`Source`} options={pairs(words?.sources ?? ['manual'])} />
      <OneOf name="trust" label={t`It is`} options={pairs(words?.trusts ?? ['remembered'])} />
      <Day name="published" label={t`Published`} hint={t`empty: unknown`} />
      <Line name="note" label={t`Note`} most={200} />
    </LittleForm>
  );
}

export function Sources({ sheet }: { sheet: number }) {
  const lead = useMay('lead');
  const may = useMay('technician');
  const view = useQuery({ queryKey: ['figures', sheet], queryFn: () => ask(client.GET('/api/sheets/{sheet}/figures', { params: { path: { sheet } } })) });
  if (!view.data) return <Trouble error={view.error} />;
  const told = view.data.filter((f) => f.claims.length > 0);
  return (
    <Section title={t`What the sources say`}>
      {!told.length && (
        <Box
          sx={{
            color: 'text.secondary',
          }}>{t`Only the sheet's own source is known. Note what a plate, a bulletin or a forum says, and it stands beside it.`}</Box>
      )}
      {told.map((f) => (
        <Box key={f.figure} sx={{ borderTop: 2, borderColor: f.conflict ? 'primary.main' : 'divider', pt: 1, display: 'grid', gap: 0.5, maxWidth: 900 }}>
          <Typography variant="h4" component="h3">
            <Trans>
              {f.figure}: {f.now || t`unknown`} by {f.source || t`no source`} ({f.trust})
              {f.conflict && (
                <Box component="span" sx={{ color: (t) => t.tones.amberText }}>
                  {' '}
                  <Trans>the sources contradict each other</Trans>
                </Box>
              )}
            </Trans>
          </Typography>
          {f.note && (
            <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
              <Trans>chosen: {f.note}</Trans>
            </Box>
          )}
          {f.claims.map((c) => (
            <Box key={c.id} sx={{ display: 'grid', gridTemplateColumns: '92px 110px minmax(0, 1fr)', gap: 1.5, alignItems: 'baseline' }}>
              <span>{c.source}</span>
              <Box component="b" sx={{ color: c.agrees ? 'text.primary' : (t) => t.tones.amberText }}>
                {c.shown}
              </Box>
              <Box>
                <Box component="span" sx={{ color: 'text.secondary', typography: 'body2' }}>
                  {[
                    c.agrees ? 'agrees' : 'differs',
                    c.trust,
                    c.published ? t`published ${date(c.published)}` : '',
                    c.as_typed.replace(/\s/g, '') === c.shown.replace(/\s/g, '') ? '' : t`as given: ${c.as_typed}`,
                    c.note,
                    `${c.by}, ${date(c.at)}`,
                    f.better === c.id ? t`ranks above the sheet’s own source` : '',
                  ]
                    .filter(Boolean)
                    .join(' · ')}
                </Box>
                {lead && !c.agrees && <Choose claim={c} figure={f.figure} />}
              </Box>
            </Box>
          ))}
        </Box>
      ))}
      <Box
        sx={{
          color: 'text.secondary',
          typography: 'body2',
        }}>{t`Order: newest applicable bulletin, plate, manual, oil maker, forum, memory, guess (common practice).`}</Box>
      {may && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
          <Note sheet={sheet} figures={view.data} />
          <TrustForm sheet={sheet} />
        </Box>
      )}
    </Section>
  );
}
