import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../app/api';
import type { Kind } from '../../app/session';
import { Pick } from '../../ui/Pick';
import { QuantityField, useRested } from '../../ui/QuantityField';
import { Sum } from './Sum';

const KINDS: [Kind, string][] = [
  ['volume', t`volume`],
  ['torque', t`torque`],
  ['distance', t`distance`],
  ['temperature', t`temperature`],
  ['mass', t`weight`],
  ['length', t`length`],
  ['pressure', t`pressure`],
];

/** Any amount, read as typed and shown in every system. */
export function UnitSum() {
  const [kind, setKind] = useState<Kind>('volume');
  const [typed, setTyped] = useState('1 1/4 US gal');
  const text = useRested(typed.trim());
  const read = useQuery({
    queryKey: ['read', kind, text],
    queryFn: () => ask(client.POST('/api/bench/read', { body: { text, kind } })),
    enabled: text !== '',
    retry: false,
  });
  return (
    <Sum title={t`Units`} answer={read.data?.systems.join(' = ')} working={read.data?.working} error={text && read.isError ? read.error : null}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '160px 1fr', gap: 1 }}>
        <Pick label={t`Kind`} value={kind} options={KINDS} onChange={(k) => setKind(k as Kind)} />
        <QuantityField label={t`Amount, as you would say it`} kind={kind} value={typed} onChange={setTyped} />
      </Box>
    </Sum>
  );
}
