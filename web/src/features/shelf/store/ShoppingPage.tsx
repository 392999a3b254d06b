/** The shopping list: what the chosen compartments need, what is on hand, the cheapest packs for the rest, the kit. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Typography from '@mui/material/Typography';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { ask, askAll, client, type Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { Empty } from '../../../ui/Empty';
import { How } from '../../../ui/How';
import { Page, Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { VERDICTS, VerdictDrop } from '../../../ui/Reasons';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';
import { Nav } from '../Nav';

type Wish = Schemas['WishRequestRequest'];

function Needs({ list, wish, change }: { list: Schemas['ShoppingList']; wish: Wish; change: (w: Partial<Wish>) => void }) {
  const { show } = useShow();
  const [typed, setTyped] = useState<Record<number, string>>({});
  return (
    <Section title="What is needed">
      {list.needs.map((n) => (
        <Box key={n.compartment} sx={{ display: 'grid', gap: 1, borderTop: 1, borderColor: 'divider', pt: 1 }}>
          <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
            <Box>
              <b>{n.name}</b>{' '}
              <Box component="span" sx={{ color: 'text.secondary', typography: 'body2' }}>
                {n.state}
                {n.on ? `, ${date(n.on)}` : ''}
              </Box>
            </Box>
            {n.need && (
              <Box sx={{ ml: 'auto' }}>
                <b>{show(n.need.total_ml, 'volume')}</b> <How working={n.need.working} title={`The need of ${n.name}`} />
              </Box>
            )}
          </Box>
          {n.need && (n.need.parts.length > 1 || n.need.uncertain) && (
            <Box sx={{ color: n.need.uncertain ? (t) => t.tones.amberText : 'text.secondary', typography: 'body2' }}>
              {n.need.parts.map((p) => `${p.name} ${show(p.volume_ml, 'volume')}`).join(', ')}
            </Box>
          )}
          <Box sx={{ display: 'grid', gridTemplateColumns: '26px 1fr', gap: 1 }}>
            <VerdictDrop verdict={n.verdict} size={22} />
            <Pick
              label={`Oil for ${n.name}`}
              value={String(n.lubricant ?? '')}
              empty={n.lubricant === null ? 'no oil on the list fits' : undefined}
              options={n.choices.map((c) => [String(c.lubricant), `${c.name}: ${VERDICTS[c.verdict]}`])}
              onChange={(oil) =>
                change({
                  oils: [...(wish.oils ?? []).filter((o) => o.compartment !== n.compartment), { compartment: n.compartment, lubricant_id: Number(oil) }],
                })
              }
              hint={n.verdict === 'meets' ? '' : n.why}
            />
          </Box>
          {!n.need && (
            <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 1, alignItems: 'start' }}>
              <QuantityField
                label="Buy for"
                kind="volume"
                value={typed[n.compartment] ?? ''}
                onChange={(text) => setTyped({ ...typed, [n.compartment]: text })}
                hint="the capacity is unknown: estimate it"
              />
              <Button
                variant="outlined"
                disabled={!(typed[n.compartment] ?? '').trim()}
                onClick={() =>
                  change({
                    estimates: [
                      ...(wish.estimates ?? []).filter((e) => e.compartment !== n.compartment),
                      { compartment: n.compartment, volume_ml: typed[n.compartment] ?? '' },
                    ],
                  })
                }>
                Count it in
              </Button>
            </Box>
          )}
        </Box>
      ))}
    </Section>
  );
}

function Oils({ list }: { list: Schemas['ShoppingList'] }) {
  const { show } = useShow();
  return (
    <Section title={`Oil to buy: ${list.cost.toFixed(2)}`}>
      {list.oils.map((o) => (
        <Box key={o.lubricant} sx={{ borderTop: 2, borderColor: 'text.primary', pt: 1, display: 'grid', gap: 0.5 }}>
          <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
            <Typography variant="h3">{o.name}</Typography>
            <Typography variant="h3" component="p" sx={{ ml: 'auto' }}>
              {o.buy.length
                ? `${o.buy.map((b) => `${b.count} × ${show(b.size_ml, 'volume')}`).join(' + ')}`
                : o.no_pack
                  ? 'no pack on offer'
                  : 'nothing: it is on hand'}
              {o.buy.length > 0 && `, ${o.cost.toFixed(2)}`}
            </Typography>
          </Box>
          <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
            {show(o.need_ml, 'volume')} needed, {show(o.on_hand_ml, 'volume')} on hand first
            {o.short_ml > 0 ? `, ${show(o.short_ml, 'volume')} short` : ''}
            {o.leftover_ml > 0 ? `, ${show(o.leftover_ml, 'volume')} left over` : ''}; for {o.needs.join('; ')}
          </Box>
          {o.drum && (
            <Box sx={{ typography: 'body2', color: o.drum.pays ? (t) => t.tones.amberText : 'text.secondary' }}>
              {o.drum.pays
                ? `A drum of ${show(o.drum.pack.size_ml, 'volume')} for ${o.drum.drum_cost.toFixed(2)} pays from ${o.drum.break_even_services} services on; a year brings more.`
                : `A drum of ${show(o.drum.pack.size_ml, 'volume')} would pay from ${o.drum.break_even_services} services a year on: not here.`}{' '}
              <How working={o.drum.working} title="Drum or bottles" />
            </Box>
          )}
        </Box>
      ))}
    </Section>
  );
}

const STATES: Record<string, string> = { there: 'there', missing: 'missing', 'not counted': 'look: nobody counts it' };

function Kit({ list }: { list: Schemas['ShoppingList'] }) {
  return (
    <Section title="Seals, parts and tools">
      {list.missing.length > 0 && (
        <Box role="alert" sx={{ borderLeft: 6, borderColor: 'error.main', bgcolor: (t) => t.tones.redWash, p: 1.25 }}>
          Missing: <b>{list.missing.join(', ')}</b>. A missing seal or tool stops the start, not the middle.
        </Box>
      )}
      <Box
        component="table"
        sx={{ borderCollapse: 'collapse', typography: 'body2', '& td': { borderTop: 1, borderColor: 'divider', py: 0.5, pr: 2, verticalAlign: 'top' } }}>
        <tbody>
          {list.kit.map((k) => (
            <tr key={k.item.kind + k.item.name}>
              <Box component="td" sx={{ whiteSpace: 'nowrap' }}>
                {k.item.count} ×
              </Box>
              <td>
                <b>{k.item.name}</b> {k.item.mandatory ? '' : '(if wanted)'}
                <Box sx={{ color: 'text.secondary' }}>{k.item.use}</Box>
              </td>
              <Box
                component="td"
                sx={{ color: k.state === 'missing' ? 'error.main' : k.state === 'there' ? 'text.primary' : 'text.secondary', whiteSpace: 'nowrap' }}>
                {STATES[k.state]}
                {k.in_store === null ? '' : `: ${k.in_store} in the store`}
              </Box>
            </tr>
          ))}
        </tbody>
      </Box>
    </Section>
  );
}

function save(name: string, text: string) {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([text], { type: 'text/csv' }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

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
  if (due.isError) return <Trouble error={due.error} />;
  const change = (part: Partial<Wish>) => setWish({ ...wish, ...part });
  const chosen = new Set(wish.compartments);
  const toggle = (ids: number[], on: boolean) =>
    change({ compartments: on ? [...new Set([...(wish.compartments ?? []), ...ids])] : (wish.compartments ?? []).filter((c) => !ids.includes(c)) });
  return (
    <Page
      title="Shopping"
      note={list.data ? `${list.data.needs.length} compartments, made ${date(list.data.made_on)}` : ''}
      right={
        <Box sx={{ display: 'flex', gap: 1, '@media print': { display: 'none' } }}>
          <Button variant="outlined" onClick={() => window.print()}>
            Print it
          </Button>
          <Button variant="outlined" disabled={file.isPending} onClick={() => file.mutate()}>
            As CSV
          </Button>
        </Box>
      }>
      <Nav />
      <Box sx={{ '@media print': { display: 'none' }, display: 'grid', gridTemplateColumns: { xs: '1fr', sm: 'repeat(3, 1fr)' }, gap: 2 }}>
        <Words
          label="Weeks ahead"
          value={weeks}
          onChange={(typed) => {
            setWeeks(typed);
            const n = Number(typed);
            change({ weeks: typed.trim() && Number.isInteger(n) && n >= 0 && n <= 104 ? n : null });
          }}
          problem={/^\s*\d{0,2}\s*$|^10[0-4]$/.test(weeks) ? '' : 'whole weeks, 0 to 104'}
          hint="0: what is due now; empty: only what is ticked"
          most={5}
        />
        <QuantityField
          label="Stays in the pump"
          kind="volume"
          value={String(wish.pump_ml ?? '')}
          onChange={(pump_ml) => change({ pump_ml })}
          hint="about 50 mL (common practice); empty: poured straight"
        />
        <QuantityField label="Coldest air expected" kind="temperature" value={String(wish.coldest_c ?? '')} onChange={(coldest_c) => change({ coldest_c })} />
      </Box>
      <Box component="details" open={wish.weeks === null} sx={{ '@media print': { display: 'none' }, '& summary': { cursor: 'pointer', minHeight: 32 } }}>
        <summary>Tick vehicles and compartments</summary>
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
                <Button variant="text" size="small" sx={{ minHeight: 32 }} onClick={() => toggle(v.together, true)} aria-label={`the next visit of ${v.name}`}>
                  the next visit
                </Button>
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
        <Empty title="Nothing to fetch">
          <span>Nothing falls due in that time. Tick a vehicle, or look further ahead.</span>
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
