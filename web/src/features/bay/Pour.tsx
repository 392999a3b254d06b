/** Pouring by the plan: each container is one press, and the counter runs against the target. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../app/api';
import { clockTime, useShow } from '../../app/session';
import { How } from '../../ui/How';
import { QuantityField } from '../../ui/QuantityField';
import type { BodyProps } from './StepCard';

export function usePourPlan(service: number, compartment: string) {
  return useQuery({
    queryKey: ['pour', service, compartment],
    queryFn: () => ask(client.GET('/api/services/{service}/pour/{compartment}', { params: { path: { service, compartment } } })),
    enabled: compartment !== '',
  });
}

export function Pour({ id, step, ledger, bay, problem }: BodyProps) {
  const { show } = useShow();
  const [free, setFree] = useState('');
  const plan = usePourPlan(id, step.compartment);
  if (!ledger) return null;
  const left = ledger.target_ml === null ? null : ledger.target_ml - ledger.poured_ml;
  const add = (volume_ml: number | string, container?: number) => bay.act('add', step.id, { volume_ml, container }, () => setFree(''));
  const bottles = (plan.data?.bottles ?? []).filter((b) => b.content_ml - b.left_ml > 0.5);
  const short = plan.data?.plan?.shortage_ml ?? 0;
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      <Box>
        <Box sx={{ typography: 'h1', fontSize: '3rem' }} role="status">
          {left === null
            ? `${show(ledger.poured_ml, 'volume')} poured`
            : left > 0.5
              ? `Pour ${show(left, 'volume')}`
              : left < -0.5
                ? `${show(-left, 'volume')} too much`
                : 'The whole amount is in'}
        </Box>
        <Box sx={{ color: 'text.secondary' }}>
          {ledger.target_ml === null
            ? 'The target is unknown.'
            : `${show(ledger.poured_ml, 'volume')} of ${show(ledger.target_ml, 'volume')} poured; target from ${ledger.target_basis}.`}{' '}
          {plan.data?.plan && <How working={plan.data.plan.working} title="How the pour plan came about" />}
        </Box>
      </Box>
      {left !== null && left > 0.5 && (
        <Box sx={{ display: 'grid', gap: 1 }}>
          {bottles.map((b, k) => (
            <Button
              key={b.container}
              variant={k === 0 ? 'contained' : 'outlined'}
              disabled={bay.post.isPending}
              onClick={() => add(b.content_ml - b.left_ml, b.container)}
              sx={{ justifyContent: 'space-between', minHeight: 56 }}>
              <span>
                {b.left_ml < 0.5
                  ? `${b.label}: all of it`
                  : b.graduated
                    ? `${b.label}: down to the ${Math.round(b.left_ml)} mL mark`
                    : `${b.label}: measured in a jug`}
              </span>
              <span>{show(b.content_ml - b.left_ml, 'volume')} is in</span>
            </Button>
          ))}
          {short > 0.5 && (
            <Box sx={{ color: 'error.main' }}>
              The shelf is {show(short, 'volume')} short of {ledger.oil}.
            </Box>
          )}
        </Box>
      )}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>
        <QuantityField label="Or another amount" kind="volume" value={free} onChange={setFree} problem={problem('volume_ml')} />
        <Button variant="outlined" disabled={!free.trim() || bay.post.isPending} onClick={() => add(free)}>
          Add it
        </Button>
      </Box>
      {ledger.pours.length > 0 && (
        <Box component="ul" sx={{ m: 0, pl: 0, listStyle: 'none', display: 'grid', gap: 0.5 }}>
          {ledger.pours.map((p) => (
            <Box component="li" key={p.event} sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
              {clockTime(p.at)} <b>{show(p.volume_ml, 'volume')}</b> {p.by}
              <Button variant="text" size="small" onClick={() => bay.act('undo', step.id, { event: p.event })}>
                Undo
              </Button>
            </Box>
          ))}
        </Box>
      )}
    </Box>
  );
}
