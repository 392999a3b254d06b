/** Seals, parts and tools that the workshop counts, and the additives on the list. */

import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { useMay } from '../../../app/session';
import { figure, needed, share } from '../../../app/typed';
import { Bones } from '../../../ui/Bones';
import { Empty } from '../../../ui/Empty';
import { FailedPage } from '../../../ui/FailedPage';
import { Line, OneOf, pairs } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { Page, Section } from '../../../ui/Page';
import { Nav } from '../Nav';

const KINDS = ['seal', 'part', 'tool'] as const;
const ADDITIVES = ['friction modifier', 'extreme pressure', 'tackifier', 'solid lubricant', 'seal conditioner', 'other'] as const;
const PLURAL = { seal: 'Seals', part: 'Parts', tool: 'Tools' };
type CountRequest = Schemas['ItemRequestRequest'];
type AdditiveRequest = Schemas['AdditiveRequestRequest'];

function Count({ item }: { item?: Schemas['StoreView'] }) {
  return (
    <LittleForm
      small={Boolean(item)}
      open={item ? t`Count` : t`Count something new`}
      of={item?.name}
      submit={t`So many`}
      start={{ name: item?.name ?? '', kind: item?.kind ?? 'seal', count: item ? String(item.count) : '', place: item?.place ?? '' }}
      send={(d) => ask(client.POST('/api/store', { body: { ...d, count: needed(figure(d.count)) } as CountRequest }))}>
      {!item && <Line name="name" label={t`What it is called`} most={80} hint={t`as the kit calls it`} />}
      {!item && <OneOf name="kind" label={t`It is a`} options={pairs(KINDS)} />}
      <Line name="count" label={t`How many`} most={5} />
      <Line name="place" label={t`Where`} />
    </LittleForm>
  );
}

function AddAdditive() {
  return (
    <LittleForm
      open={t`Add an additive`}
      submit={t`Add it`}
      start={{ name: '', kind: 'friction modifier', max_share: '', note: '' }}
      send={(d) => ask(client.POST('/api/additives', { body: { ...d, max_share: share(d.max_share) } as AdditiveRequest }))}>
      <Line name="name" label={t`Name on the label`} />
      <OneOf name="kind" label={t`It is a`} options={pairs(ADDITIVES)} />
      <Line name="max_share" label={t`Most of the fill, %`} most={6} hint={t`as its maker allows`} />
      <Line name="note" label={t`Note`} most={200} />
    </LittleForm>
  );
}

export function StorePage() {
  const may = useMay('technician');
  const lead = useMay('lead');
  const store = useQuery({ queryKey: ['store'], queryFn: () => ask(client.GET('/api/store')) });
  const additives = useQuery({ queryKey: ['additives'], queryFn: () => ask(client.GET('/api/additives')) });
  if (store.isPending || additives.isPending) return <Bones lines={6} />;
  if (store.isError || additives.isError) return <FailedPage error={store.error ?? additives.error} />;
  return (
    <Page title={t`Seals and tools`} note={t`what is counted here is checked before a service starts`}>
      <Nav />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', lg: '1fr 1fr' }, gap: 4 }}>
        <Box sx={{ display: 'grid', gap: 3, alignContent: 'start' }}>
          {!store.data.length && (
            <Empty title={t`Nothing is counted yet`}>
              <span>{t`Count a seal or a tool: from then on a service that needs it starts only when it is there.`}</span>
            </Empty>
          )}
          {KINDS.filter((k) => store.data.some((i) => i.kind === k)).map((kind) => (
            <Section key={kind} title={PLURAL[kind]}>
              {store.data
                .filter((i) => i.kind === kind)
                .sort((a, b) => Number(a.count > 0) - Number(b.count > 0))
                .map((i) => (
                  <Box key={i.id} sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, borderTop: 1, borderColor: 'divider', pt: 0.5 }}>
                    <Box sx={{ width: 48, typography: 'h2', textAlign: 'right', color: i.count ? 'text.primary' : 'error.main' }}>{i.count}</Box>
                    <Box sx={{ flex: 1, minWidth: 260 }}>
                      <b>{i.name}</b>
                      <Box sx={{ color: 'text.secondary', typography: 'body2' }}>{[i.place, i.last].filter(Boolean).join(' · ')}</Box>
                    </Box>
                    {may && <Count item={i} />}
                  </Box>
                ))}
            </Section>
          ))}
          {may && <Count />}
        </Box>
        <Section title={t`Additives`}>
          <Box
            sx={{ color: 'text.secondary' }}>{t`Never by the book, unless the sheet asks for it. The dose takes the place of oil and goes on the record.`}</Box>
          {additives.data.map((a) => (
            <Box key={a.id} sx={{ borderTop: 1, borderColor: 'divider', pt: 0.75 }}>
              <b>{a.name}</b>, {a.kind}
              <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
                {[a.max_share === null ? 'its maker states no dose' : `at most ${(a.max_share * 100).toFixed(1)} % of the fill`, a.note]
                  .filter(Boolean)
                  .join(' · ')}
              </Box>
            </Box>
          ))}
          {lead && <AddAdditive />}
        </Section>
      </Box>
    </Page>
  );
}
