/** Which oil? A compartment, its weather, and the shelf in order: verdicts with reasons, and the lines of up to four oils. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { ask, askAll, client } from '../../../app/api';
import { useShow } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { Choice } from '../../../ui/Choice';
import { Empty } from '../../../ui/Empty';
import { FailedPage } from '../../../ui/FailedPage';
import { SLIP, type Slip } from '../../../ui/oil';
import { Page } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { There } from '../../../ui/There';
import { Trouble } from '../../../ui/Trouble';
import { Nav } from '../Nav';
import { Offer } from './Offer';
import { ViscosityChart } from './ViscosityChart';

export function ChoosePage() {
  const [search, setSearch] = useSearchParams();
  const { show } = useShow();
  const compartment = Number(search.get('c') ?? 0);
  const [coldest, setColdest] = useState('');
  const [warmest, setWarmest] = useState('');
  const [slip, setSlip] = useState<Slip | ''>('');
  const [picked, setPicked] = useState<number[] | null>(null);
  const day = useRested({ coldest_c: coldest, warmest_c: warmest });
  const due = useQuery({ queryKey: ['due', 'all'], queryFn: askAll });
  const oils = useQuery({
    queryKey: ['compartment-oils', compartment, day, slip],
    queryFn: () => ask(client.POST('/api/compartments/{compartment}/oils', { params: { path: { compartment } }, body: { ...day, slip, variant: '' } })),
    enabled: compartment > 0,
    retry: false,
    placeholderData: (before) => (before?.compartment === compartment ? before : undefined),
  });
  const shown = picked ?? oils.data?.offers.slice(0, 2).map((o) => o.lubricant) ?? [];
  const chart = useQuery({
    queryKey: ['chart', compartment, day, shown],
    queryFn: () => ask(client.POST('/api/lubricants/chart', { body: { ...day, oils: shown, compartment: compartment || null, grade: '' } })),
    enabled: compartment > 0 && Boolean(oils.data),
    retry: false,
    placeholderData: (before) => before,
  });
  if (due.isPending) return <Bones lines={6} />;
  if (due.isError) return <FailedPage error={due.error} />;
  const boxes = due.data.vehicles.flatMap((v) => v.compartments.map((c) => [String(c.id), `${v.name}, ${c.name.toLowerCase()}`] as const));
  const o = oils.data;
  const drawn = chart.data?.lines.map((l) => l.name) ?? [];
  const undrawn =
    chart.data && !chart.isPlaceholderData ? (o?.offers.filter((x) => shown.includes(x.lubricant) && !drawn.includes(x.name)).map((x) => x.name) ?? []) : [];
  return (
    <Page title={t`Which oil?`} note={t`pick a compartment and see the shelf in order, best first`}>
      <Nav />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1.6fr 1fr 1fr' }, gap: 2 }}>
        <Pick
          label={t`Compartment`}
          value={compartment ? String(compartment) : ''}
          empty={t`choose one`}
          options={boxes}
          onChange={(c) => {
            setSearch(c ? { c } : {});
            setSlip('');
            setPicked(null);
          }}
        />
        <QuantityField
          label={t`Coldest air expected`}
          kind="temperature"
          value={coldest}
          onChange={setColdest}
          hint={t`until the next change; empty: not asked`}
        />
        <QuantityField label={t`Warmest`} kind="temperature" value={warmest} onChange={setWarmest} />
      </Box>
      <Trouble error={oils.error} />
      {!compartment && (
        <Empty title={t`No compartment chosen`}>
          <span>{t`Choose one above. Each oil on the list is then judged for it, with its reasons; what must not go in stands last, in red.`}</span>
        </Empty>
      )}
      {o && (o.ask_limited_slip || slip) && (
        <Box sx={{ borderLeft: 6, borderColor: 'primary.main', bgcolor: (t) => t.tones.amberWash, p: 1.5 }}>
          <Choice label={t`Limited slip in this axle?`} value={slip} options={SLIP} onChange={setSlip} />
          {o.ask_limited_slip && (
            <Typography sx={{ mt: 1 }}>{t`Answer first: an axle oil is chosen by it. Spin one wheel by hand, read the tag, or ask.`}</Typography>
          )}
        </Box>
      )}
      {o && !o.ask_limited_slip && (
        <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', lg: 'minmax(0, 1fr) 620px' }, gap: 4 }}>
          <Box>
            <Typography variant="h3" component="h2">
              <Trans>
                {o.name} asks {o.asks}
              </Trans>
            </Typography>
            <Typography variant="body2" color="text.secondary">
              {o.sheet}. {o.asked_basis}
            </Typography>
            <Box component="ol" sx={{ m: 0, mt: 1, p: 0, listStyle: 'none' }}>
              {o.offers.map((offer) => (
                <Offer
                  key={offer.lubricant}
                  o={offer}
                  drawn={shown.includes(offer.lubricant)}
                  full={shown.length >= 4}
                  draw={() => setPicked(shown.includes(offer.lubricant) ? shown.filter((x) => x !== offer.lubricant) : [...shown, offer.lubricant])}
                />
              ))}
            </Box>
          </Box>
          <Box sx={{ display: 'grid', gap: 1, alignContent: 'start', alignSelf: 'start', position: { lg: 'sticky' }, top: 16 }}>
            {chart.data && <ViscosityChart chart={chart.data} />}
            {undrawn.length > 0 && (
              <Typography variant="body2">
                <Trans>No viscosity is known of {undrawn.join(', ')}.</Trans>
              </Typography>
            )}
            <Trouble error={chart.error} />
            {o.offers[0] && o.offers[0].short_ml > 0 && (
              <Typography variant="body2">
                <Trans>
                  {o.offers[0].name} is short by {show(o.offers[0].short_ml, 'volume')}.{' '}
                  <There to={`/shelf?stock=${o.offers[0].lubricant}`} from={t`which oil`}>
                    Put it on the shelf
                  </There>
                </Trans>
              </Typography>
            )}
            {!o.offers.some((x) => x.verdict !== 'reject') && (
              <Typography variant="body2">
                <b>{t`No oil of the list may go in here.`}</b> <There to="/shelf?add=oil" from={t`which oil`}>{t`Add one`}</There>
              </Typography>
            )}
            <Button variant="outlined" component={Link} to={`/shelf/shopping?c=${compartment}`} sx={{ justifySelf: 'start' }}>{t`What to fetch for it`}</Button>
          </Box>
        </Box>
      )}
    </Page>
  );
}
