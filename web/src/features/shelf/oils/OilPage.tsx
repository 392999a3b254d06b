/** One oil: what its data sheet says, where it may go and where it must not, and its containers with their movements. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { ask, askAll, client } from '../../../app/api';
import { date, useMay, useShow } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { Empty } from '../../../ui/Empty';
import { FailedPage } from '../../../ui/FailedPage';
import { Page, Section } from '../../../ui/Page';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { Reasons, VERDICTS, VerdictDrop } from '../../../ui/Reasons';
import { Trouble } from '../../../ui/Trouble';
import { Nav } from '../Nav';
import { Bottle } from '../store/Bottle';
import { Stock } from './AddOil';
import { Edit, Facts, type Oil } from './EditOil';
import { Handle, Movements } from './Handle';

function Containers({ oil }: { oil: Oil }) {
  const { show } = useShow();
  const may = useMay('technician');
  const [shown, setShown] = useState(0);
  const due = useQuery({ queryKey: ['due', 'all'], queryFn: askAll });
  if (!oil.containers.length)
    return (
      <Empty title={t`None on hand`}>
        <Stock oil={oil} />
      </Empty>
    );
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      {oil.containers.map((c) => (
        <Box key={c.id} sx={{ display: 'grid', gridTemplateColumns: '48px 1fr', gap: 1.5, borderTop: 1, borderColor: 'divider', pt: 1 }}>
          <Bottle c={c} family={oil.family} />
          <Box>
            <Trans>
              <b>{c.label}</b>, {c.kind}: <b>{show(c.content_ml, 'volume')}</b> of {show(c.size_ml, 'volume')}
            </Trans>
            <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
              {[
                c.opened_on ? t`opened ${date(c.opened_on)}` : t`sealed`,
                c.carried_in ? t`carried in ${c.carried_in}` : '',
                c.graduated ? '' : t`no marks: measure in a jug`,
              ]
                .filter(Boolean)
                .join(' · ')}{' '}
              <Box
                component="button"
                type="button"
                onClick={() => setShown(shown === c.id ? 0 : c.id)}
                aria-expanded={shown === c.id}
                sx={{ border: 0, bgcolor: 'transparent', color: 'inherit', font: 'inherit', textDecoration: 'underline', cursor: 'pointer', minHeight: 28 }}>
                <Trans>movements of {c.label}</Trans>
              </Box>
            </Box>
            {shown === c.id && <Movements container={c.id} />}
            {may && <Handle c={c} vehicles={due.data?.vehicles ?? []} />}
          </Box>
        </Box>
      ))}
      <Stock oil={oil} />
    </Box>
  );
}

function Places({ oil }: { oil: Oil }) {
  const [coldest, setColdest] = useState('');
  const rested = useRested(coldest);
  const places = useQuery({
    queryKey: ['places', oil.id, rested],
    queryFn: () => ask(client.POST('/api/lubricants/{lubricant}/places', { params: { path: { lubricant: oil.id } }, body: { coldest_c: rested } })),
    placeholderData: (before) => before,
  });
  const counts = (verdict: string) => places.data?.filter((p) => p.verdict === verdict).length ?? 0;
  return (
    <Section
      title={t`Where it may go`}
      right={
        <Box sx={{ width: 210 }}>
          <QuantityField label={t`Coldest air expected`} kind="temperature" value={coldest} onChange={setColdest} hint={t`empty: not asked`} />
        </Box>
      }>
      <Trouble error={places.error} />
      {places.data && (
        <Box sx={{ color: 'text.secondary' }}>
          <Trans>
            {counts('meets')} meet, {counts('equivalent')} equivalent, {counts('caution')} with caution, <b>{counts('reject')} must not</b>
          </Trans>
        </Box>
      )}
      {places.data?.map((p) => (
        <Box key={p.compartment} sx={{ display: 'grid', gridTemplateColumns: '30px minmax(0, 1fr)', gap: 1.5, borderTop: 1, borderColor: 'divider', pt: 0.75 }}>
          <VerdictDrop verdict={p.verdict} />
          <Box>
            <Link to={`/shelf/choose?c=${p.compartment}`}>{p.name}</Link>: {VERDICTS[p.verdict]}{' '}
            <Box component="span" sx={{ color: 'text.secondary', typography: 'body2' }}>
              <Trans>asks {p.asks}</Trans>
            </Box>
            <Reasons reasons={p.reasons} all={false} />
          </Box>
        </Box>
      ))}
    </Section>
  );
}

export function OilPage() {
  const id = Number(useParams().oil);
  const oils = useQuery({ queryKey: ['lubricants'], queryFn: () => ask(client.GET('/api/lubricants')) });
  if (oils.isPending) return <Bones lines={7} />;
  if (oils.isError) return <FailedPage error={oils.error} />;
  const oil = oils.data.find((o) => o.id === id);
  if (!oil) return <FailedPage error={new Error(t`There is no such oil on the list.`)} />;
  return (
    <Page title={oil.name} note={t`${oil.family} oil${oil.settles ? t` · shake it` : ''}`}>
      <Nav />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', lg: '440px minmax(0, 1fr)' }, gap: 4 }}>
        <Box sx={{ display: 'grid', gap: 3, alignContent: 'start' }}>
          <Facts oil={oil} />
          <Typography variant="body2" color="text.secondary">
            {oil.packs.length
              ? t`Sold as ${oil.packs.map((p) => `${(p.size_ml / 1000).toLocaleString('en-GB')} L ${p.price === null ? t`(price unknown)` : t`for ${p.price.toFixed(2)}`}`).join(', ')}`
              : t`No pack on offer: the shopping list cannot price it.`}
          </Typography>
          <Edit oil={oil} key={oil.id} />
          <Section title={t`On hand`}>
            <Containers oil={oil} />
          </Section>
        </Box>
        <Places oil={oil} />
      </Box>
    </Page>
  );
}
