/** The shopping list: what the chosen compartments need, what is on hand, the cheapest packs for the rest, the kit. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { ask, askAll, client } from '../../../app/api';
import { date } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { Empty } from '../../../ui/Empty';
import { FailedPage } from '../../../ui/FailedPage';
import { Page } from '../../../ui/Page';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';
import { Nav } from '../Nav';
import { Needs, type Wish } from './Needs';
import { Kit, Oils, save } from './ToBuy';

export function ShoppingPage() {
  const [search] = useSearchParams();
  const asked = (search.get('c') ?? '').split(',').map(Number).filter(Boolean);
  const [wish, setWish] = useState<Wish>({ compartments: asked, weeks: asked.length ? null : 4, pump_ml: '', coldest_c: '', oils: [], estimates: [] });
  const [weeks, setWeeks] = useState(asked.length ? '' : '4');
  const rested = useRested(wish, 300);
  const due = useQuery({ queryKey: ['due', 'all'], queryFn: askAll });
  const list = useQuery({
    queryKey: ['shopping', rested],
    queryFn: () => ask(client.POST('/api/shopping', { body: rested })),
    retry: false,
    placeholderData: (before) => before,
  });
  const file = useMutation({
    mutationFn: () => ask(client.POST('/api/shopping/file', { body: wish, parseAs: 'text' })),
    onSuccess: (text) => save('shopping.csv', text),
  });
  if (due.isPending || list.isPending) return <Bones lines={7} />;
  if (due.isError) return <FailedPage error={due.error} />;
  const change = (part: Partial<Wish>) => setWish({ ...wish, ...part });
  const chosen = new Set(wish.compartments);
  const toggle = (ids: number[], on: boolean) =>
    change({ compartments: on ? [...new Set([...(wish.compartments ?? []), ...ids])] : (wish.compartments ?? []).filter((c) => !ids.includes(c)) });
  return (
    <Page
      title={t`Shopping`}
      note={list.data ? t`${list.data.needs.length} compartments, made ${date(list.data.made_on)}` : ''}
      right={
        <Box sx={{ display: 'flex', gap: 1, '@media print': { display: 'none' } }}>
          <Button variant="outlined" onClick={() => window.print()}>{t`Print it`}</Button>
          <Button variant="outlined" disabled={file.isPending} onClick={() => file.mutate()}>{t`As CSV`}</Button>
        </Box>
      }>
      <Nav />
      <Box sx={{ '@media print': { display: 'none' }, display: 'grid', gridTemplateColumns: { xs: '1fr', sm: 'repeat(3, 1fr)' }, gap: 2 }}>
        <Words
          label={t`Weeks ahead`}
          value={weeks}
          onChange={(typed) => {
            setWeeks(typed);
            const n = Number(typed);
            change({ weeks: typed.trim() && Number.isInteger(n) && n >= 0 && n <= 104 ? n : null });
          }}
          problem={/^\s*\d{0,2}\s*$|^10[0-4]$/.test(weeks) ? '' : t`whole weeks, 0 to 104`}
          hint={t`0: what is due now; empty: only what is ticked`}
          most={5}
        />
        <QuantityField
          label={t`Stays in the pump`}
          kind="volume"
          value={String(wish.pump_ml ?? '')}
          onChange={(pump_ml) => change({ pump_ml })}
          hint={t`about 50 mL (common practice); empty: poured straight`}
        />
        <QuantityField
          label={t`Coldest air expected`}
          kind="temperature"
          value={String(wish.coldest_c ?? '')}
          onChange={(coldest_c) => change({ coldest_c })}
        />
      </Box>
      <Box component="details" open={wish.weeks === null} sx={{ '@media print': { display: 'none' }, '& summary': { cursor: 'pointer', minHeight: 32 } }}>
        <summary>{t`Tick vehicles and compartments`}</summary>
        <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(250px, 1fr))', gap: 1.5, mt: 1 }}>
          {due.data.vehicles.map((v) => (
            <Box key={v.id}>
              <FormControlLabel
                control={
                  <Checkbox
                    checked={v.compartments.every((c) => chosen.has(c.id))}
                    indeterminate={v.compartments.some((c) => chosen.has(c.id)) && !v.compartments.every((c) => chosen.has(c.id))}
                    onChange={(e) =>
                      toggle(
                        v.compartments.map((c) => c.id),
                        e.target.checked,
                      )
                    }
                  />
                }
                label={<b>{v.name}</b>}
              />
              {v.together.length > 1 && (
                <Button
                  variant="text"
                  size="small"
                  sx={{ minHeight: 32 }}
                  onClick={() => toggle(v.together, true)}
                  aria-label={t`the next visit of ${v.name}`}>{t`the next visit`}</Button>
              )}
              <Box sx={{ pl: 4, display: 'grid' }}>
                {v.compartments.map((c) => (
                  <FormControlLabel
                    key={c.id}
                    control={<Checkbox size="small" checked={chosen.has(c.id)} onChange={(e) => toggle([c.id], e.target.checked)} sx={{ py: 0.25 }} />}
                    label={`${c.name}, ${c.state}`}
                  />
                ))}
              </Box>
            </Box>
          ))}
        </Box>
      </Box>
      <Trouble error={list.error ?? file.error} />
      {list.data && !list.data.needs.length && (
        <Empty title={t`Nothing to fetch`}>
          <span>{t`Nothing falls due in that time. Tick a vehicle, or look further ahead.`}</span>
        </Empty>
      )}
      {list.data && list.data.needs.length > 0 && (
        <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', lg: '1fr 1fr' }, gap: 4 }}>
          <Box sx={{ display: 'grid', gap: 3, alignContent: 'start' }}>
            <Oils list={list.data} />
            <Kit list={list.data} />
          </Box>
          <Needs list={list.data} wish={wish} change={change} />
        </Box>
      )}
    </Page>
  );
}
