/** The dipstick sum. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../app/api';
import { figure, needed } from '../../app/typed';
import { QuantityField, useRested } from '../../ui/QuantityField';
import { Sum } from './Sum';

export const two = { display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 };

export const number = (typed: string) => needed(figure(typed));

/** From pours and dips: what a millimetre of the stick is, and the next pour. */
export function DipSum() {
  const [dips, setDips] = useState([
    { key: 1, added_ml: '0 mL', reading_mm: '0 mm' },
    { key: 2, added_ml: '500 mL', reading_mm: '20 mm' },
  ]);
  const [target_mm, setTarget] = useState('60 mm');
  const rested = useRested({ dips: dips.map(({ added_ml, reading_mm }) => ({ added_ml, reading_mm })), target_mm });
  const sum = useQuery({
    queryKey: ['bench-dip', rested],
    queryFn: () => ask(client.POST('/api/bench/dip', { body: rested })),
    enabled: Boolean(rested.target_mm.trim()) && rested.dips.every((d) => d.added_ml.trim() && d.reading_mm.trim()),
    retry: false,
  });
  return (
    <Sum title={t`Dip and pour`} error={sum.error} working={sum.data?.working} answer={sum.data?.text}>
      {dips.map((d, k) => (
        <Box key={d.key} sx={two}>
          <QuantityField
            label={t`In so far at dip ${k + 1}`}
            kind="volume"
            value={d.added_ml}
            onChange={(added_ml) => setDips(dips.map((o) => (o.key === d.key ? { ...o, added_ml } : o)))}
          />
          <QuantityField
            label={t`The stick reads at dip ${k + 1}`}
            kind="length"
            value={d.reading_mm}
            onChange={(reading_mm) => setDips(dips.map((o) => (o.key === d.key ? { ...o, reading_mm } : o)))}
          />
        </Box>
      ))}
      <Box sx={two}>
        <QuantityField label={t`The mark`} kind="length" value={target_mm} onChange={setTarget} />
        <Button
          variant="outlined"
          sx={{ alignSelf: 'start' }}
          onClick={() => setDips([...dips, { key: (dips.at(-1)?.key ?? 0) + 1, added_ml: '', reading_mm: '' }])}>{t`One more dip`}</Button>
      </Box>
    </Sum>
  );
}
