/** How an exchange is planned: its target, its drains, its school. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { How } from '../../../ui/How';
import { Pick } from '../../../ui/Pick';
import { Trouble } from '../../../ui/Trouble';
import type { WorkDraft } from './startChoice';

export type Props = { job: Job; work: WorkDraft; change: (work: WorkDraft) => void; at: (field: string) => string };

export type Job = Schemas['StartJob'];

export const TARGETS = ['0.5', '0.6', '0.7', '0.8', '0.9'];

/** Both schools for the same share, side by side: what each takes, and what one drain less would give. */
export function ExchangePlan({ job, work, change, at }: Props) {
  const { show } = useShow();
  const total = job.total_ml ?? 0;
  const drained = job.capacity_ml ?? 0;
  const plan = useQuery({
    queryKey: ['exchange', total, drained, work.target, work.cycles],
    queryFn: () =>
      ask(
        client.POST('/api/bench/exchange', {
          body: { total_ml: total as never, drained_ml: drained as never, target: work.target, litre_price: null, drains: work.cycles || null },
        }),
      ),
    enabled: total > 0 && drained > 0,
    retry: false,
    placeholderData: (before) => before,
  });
  const p = plan.data;
  const cycles = Math.max(2, work.cycles || p?.cycles || job.cycles);
  const card = (school: WorkDraft['school'], head: string, lines: string[]) => {
    const on = work.school === school;
    return (
      <Box
        component="label"
        sx={{
          position: 'relative',
          border: 2,
          borderRadius: 2,
          p: 1.25,
          cursor: 'pointer',
          bgcolor: 'background.paper',
          borderColor: on ? 'text.primary' : 'divider',
          '&:has(:focus-visible)': { outline: (t) => `3px solid ${t.tones.amberText}` },
        }}>
        <Box
          component="input"
          type="radio"
          name={`school-${job.compartment}`}
          checked={on}
          onChange={() => change({ ...work, school, cycles: school === 'drain and refill' ? cycles : 0 })}
          sx={{ position: 'absolute', opacity: 0 }}
        />
        <b>{head}</b>
        {lines.map((l) => (
          <Box key={l} sx={{ typography: 'body2' }}>
            {l}
          </Box>
        ))}
      </Box>
    );
  };
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '230px 150px 1fr', gap: 1.5, alignItems: 'start' }}>
        <Pick
          label={t`Fresh share wanted`}
          value={String(work.target)}
          options={TARGETS.map((t) => [t, `${Math.round(Number(t) * 100)} %`] as const)}
          onChange={(t) => change({ ...work, target: Number(t), cycles: 0 })}
          problem={at('target_fresh')}
          hint={t`70 % is fine, 90 % plenty`}
        />
        {work.school === 'drain and refill' && (
          <Pick
            label={t`Drains`}
            value={String(cycles)}
            options={[2, 3, 4, 5, 6, 7, 8].map((n) => [String(n), String(n)] as const)}
            onChange={(n) => change({ ...work, cycles: Number(n) })}
            problem={at('cycles')}
            hint={p ? t`${p.cycles} for the target` : ''}
          />
        )}
        <span>{p && <How working={p.working} title={t`How many drains`} />}</span>
      </Box>
      <Trouble error={plan.error} />
      {p && (
        <Box role="radiogroup" aria-label={t`School of exchange`} sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
          {card(
            'drain and refill',
            t`Drain and refill: ${show(p.planned?.oil_ml ?? p.cycles_oil_ml, 'volume')}`,
            p.planned
              ? [
                  t`${p.planned.drains} drains give ${Math.round(p.planned.fresh * 100)} % fresh`,
                  p.planned.drains === p.cycles ? t`as many as the target needs` : t`${p.cycles} would be needed for the target`,
                ]
              : [t`${p.cycles} drains give ${Math.round(p.cycles_fresh * 100)} % fresh`, t`one less: ${Math.round(p.fresh_one_less * 100)} %`],
          )}
          {card('flow through', t`Flow through: ${show(p.flow_oil_ml, 'volume')}`, [
            t`${Math.round(p.flow_fresh * 100)} % fresh, at the cooler's return`,
            t`no magnet is seen, nothing is drained`,
          ])}
        </Box>
      )}
    </Box>
  );
}
