/** Pouring by the plan: each container is one press, and the counter runs against the target; pump, syringe, stick, settling. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { clockTime, useShow } from '../../../app/session';
import { How } from '../../../ui/How';
import { Pick } from '../../../ui/Pick';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { Tick } from '../../../ui/Tick';
import { Trouble } from '../../../ui/Trouble';
import type { BodyProps } from '../guide/body';
import { text } from '../guide/Plain';
import { Dips, Settling } from './Dips';
import { bottlesOf, ELSEWHERE, sourceOf, typedPour } from './usePourAll';
import { usePourPlan, type With } from './usePourPlan';

export function Pour(props: BodyProps) {
  const { id, step, ledger, bay, problem, service, draft, change } = props;
  const { show } = useShow();
  const free = text(draft, 'free');
  const setFree = (value: string) => change({ free: value });
  const using: With = { pump: text(draft, 'pump'), stroke: text(draft, 'stroke') };
  const setUsing = (next: With) => change(next);
  const [tools, setTools] = useState(Boolean(using.pump || using.stroke));
  const rested = useRested(using);
  const plan = usePourPlan(id, step.compartment, rested);
  if (!ledger) return null;
  const left = ledger.target_ml === null ? null : ledger.target_ml - ledger.poured_ml;
  const add = (volume_ml: number | string, container?: number, dead_ml = 0) =>
    bay.act('add', step.id, { volume_ml, ...(container ? { container } : { elsewhere: true }), ...(dead_ml ? { dead_ml } : {}) }, () => setFree(''));
  // What stays in the pump is loaded with the first container, and is not in the compartment.
  const dead = plan.data?.dead_ml ?? 0;
  const strokes = plan.data?.plan?.actions.filter((a) => a.kind === 'stroke' || a.kind === 'part_stroke') ?? [];
  const topUp = ledger.work === 'top-up';
  const last = ledger.pours.at(-1);
  const { held, planned: bottles } = bottlesOf(plan.data);
  const source = sourceOf(plan.data, draft);
  const short = plan.data?.plan?.shortage_ml ?? 0;
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      <Box>
        <Box sx={{ typography: 'h1', fontSize: '3rem' }} role="status">
          {left === null
            ? topUp && ledger.poured_ml === 0
              ? t`Pour little by little`
              : t`${show(ledger.poured_ml, 'volume')} poured`
            : left > 0.5
              ? t`Pour ${show(left, 'volume')}`
              : left < -0.5
                ? t`${show(-left, 'volume')} too much`
                : t`The whole amount is in`}
        </Box>
        <Box sx={{ color: 'text.secondary' }}>
          {ledger.target_ml === null
            ? topUp
              ? t`What it takes to stand where it should is what was lost.`
              : t`The target is unknown.`
            : t`${show(ledger.poured_ml, 'volume')} of ${show(ledger.target_ml, 'volume')} poured; target from ${ledger.target_basis}.`}{' '}
          {plan.data?.plan && <How working={plan.data.plan.working} title={t`How the pour plan came about`} />}
        </Box>
      </Box>
      {left !== null && left > 0.5 && (
        <Box sx={{ display: 'grid', gap: 1 }}>
          {bottles.map((b, k) => (
            <Button
              key={b.container}
              variant={k === 0 && short > 0.5 ? 'contained' : 'outlined'}
              disabled={bay.post.isPending}
              onClick={() => add(b.content_ml - b.left_ml - (k === 0 ? dead : 0), b.container, k === 0 ? dead : 0)}
              sx={{ justifyContent: 'space-between', minHeight: 56 }}>
              <span>
                {b.left_ml < 0.5
                  ? t`${b.label}: all of it`
                  : b.graduated
                    ? t`${b.label}: down to the ${Math.round(b.left_ml)} mL mark`
                    : t`${b.label}: measured in a jug`}
              </span>
              <span>
                <Trans>
                  {show(b.content_ml - b.left_ml - (k === 0 ? dead : 0), 'volume')} is in
                  {k === 0 && dead > 0 ? t`, ${show(dead, 'volume')} primes the pump` : ''}
                </Trans>
              </span>
            </Button>
          ))}
          {strokes.length > 0 && (
            <Box sx={{ typography: 'h2' }} role="status">
              {strokes.map((a) => a.text).join(', ')}
            </Box>
          )}
          {short > 0.5 && (
            <Box sx={{ color: 'error.main' }}>
              <Trans>
                The shelf is {show(short, 'volume')} short of {ledger.oil}.
              </Trans>
            </Box>
          )}
        </Box>
      )}
      {topUp && ledger.pours.length === 0 && <Tick label={t`It was full: nothing went in`} on={draft.full === true} change={(full) => change({ full })} />}
      {topUp && ledger.loss && (
        <Box role="status" sx={{ typography: 'h2' }}>
          <Trans>
            {show(ledger.loss.loss_ml, 'volume')} lost
            {ledger.loss.per_1000km_ml !== null && t`, ${show(ledger.loss.per_1000km_ml, 'volume')} per 1 000 km`}: {ledger.loss.text}
          </Trans>{' '}
          <How working={ledger.loss.working} title={t`What a top-up says`} />
        </Box>
      )}
      <Dips {...props} />
      {ledger.inside && ledger.poured_ml > 0 && (
        <Box role="status" sx={{ color: ledger.inside.over ? 'error.main' : 'text.primary' }}>
          {ledger.inside.text} <How working={ledger.inside.working} title={t`What ends up inside`} />
        </Box>
      )}
      {last && (plan.data?.settle_s ?? 0) > 0 && <Settling since={last.at} seconds={plan.data?.settle_s ?? 0} now={service.now} />}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'start', flexWrap: 'wrap' }}>
        <QuantityField
          label={topUp ? t`Poured` : t`Or another amount`}
          autoFocus={topUp}
          kind="volume"
          value={free}
          onChange={setFree}
          problem={problem('volume_ml')}
        />
        <Pick
          label={t`From which bottle?`}
          value={source}
          options={[...held.map((b): [string, string] => [String(b.container), `${b.label}, ${show(b.content_ml, 'volume')}`]), [ELSEWHERE, t`from elsewhere`]]}
          onChange={(from) => change({ from })}
          problem={problem('container')}
        />
        <Button
          variant="outlined"
          disabled={!free.trim() || bay.post.isPending}
          onClick={() => bay.act('add', step.id, typedPour(plan.data, draft), () => setFree(''))}>{t`Add it`}</Button>
        {!tools && <Button variant="text" onClick={() => setTools(true)}>{t`By pump or syringe`}</Button>}
      </Box>
      {tools && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5, maxWidth: 520 }}>
          <QuantityField
            label={t`Stays in the pump`}
            kind="volume"
            value={using.pump}
            onChange={(pump) => setUsing({ ...using, pump })}
            hint={t`about 50 mL; loaded once`}
          />
          <QuantityField
            label={t`One stroke`}
            kind="volume"
            value={using.stroke}
            onChange={(stroke) => setUsing({ ...using, stroke })}
            hint={t`of the syringe or pump`}
          />
        </Box>
      )}
      <Trouble error={plan.error} />
      {ledger.pours.length > 0 && (
        <Box component="ul" sx={{ m: 0, pl: 0, listStyle: 'none', display: 'grid', gap: 0.5 }}>
          {ledger.pours.map((p) => (
            <Box component="li" key={p.act} sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
              {clockTime(p.at)} <b>{show(p.volume_ml, 'volume')}</b> {p.by}
              <Button variant="text" size="small" onClick={() => bay.act('undo', step.id, { act: p.act })}>{t`Undo`}</Button>
            </Box>
          ))}
        </Box>
      )}
    </Box>
  );
}
