/** What each compartment needs, with the oil chosen for it. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { How } from '../../../ui/How';
import { Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { VERDICTS, VerdictDrop } from '../../../ui/Reasons';

export type Wish = Schemas['WishRequestRequest'];

export function Needs({ list, wish, change }: { list: Schemas['ShoppingList']; wish: Wish; change: (w: Partial<Wish>) => void }) {
  const { show } = useShow();
  const [typed, setTyped] = useState<Record<number, string>>({});
  return (
    <Section title={t`What is needed`}>
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
                <b>{show(n.need.total_ml, 'volume')}</b> <How working={n.need.working} title={t`The need of ${n.name}`} />
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
              label={t`Oil for ${n.name}`}
              value={String(n.lubricant ?? '')}
              empty={n.lubricant === null ? t`no oil on the list fits` : undefined}
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
                label={t`Buy for`}
                kind="volume"
                value={typed[n.compartment] ?? ''}
                onChange={(text) => setTyped({ ...typed, [n.compartment]: text })}
                hint={t`the capacity is unknown: estimate it`}
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
                }>{t`Count it in`}</Button>
            </Box>
          )}
        </Box>
      ))}
    </Section>
  );
}
