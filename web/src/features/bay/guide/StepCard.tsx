/** The one step at hand: what to do, why, the caution, the input, and one obvious next action. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState } from 'react';
import { Refused } from '../../../app/api';
import { type KeyMap, useKeys } from '../../../app/keys';
import { clockTime, useSession } from '../../../app/session';
import { Barred } from '../../../ui/Barred';
import { Trouble } from '../../../ui/Trouble';
import { ExchangeBar } from '../amounts/ExchangeBar';
import { usePourAll } from '../amounts/usePourAll';
import { answered, listOf, notSo } from './answered';
import { bodyOf } from './bodies';
import type { BodyProps } from './body';
import { Caution } from './Caution';
import { StepPhotos } from './Photos';
import { titleOf } from './StepList';
import type { Values } from './service';
import { TimerBar, useTimeLeft } from './TimerBar';
import { Why } from './Why';

type Props = Omit<BodyProps, 'problem'> & { next: () => void; undo: () => void; forget: () => void };

const AMENDABLE = ['measure', 'inspect', 'note'];
const ACTIONS: Record<string, string> = {
  confirm: t`Done, go on`,
  timer: t`Done, go on`,
  measure: t`Note it, go on`,
  inspect: t`Note it, go on`,
  pour: t`All in, go on`,
  level: t`Level is set, go on`,
  torque: t`Closed, go on`,
  sign: t`Sign`,
  note: t`Note it, go on`,
};

/** What the one obvious next action says. */
function wordsOf(step: Props['step'], draft: Props['draft'], drips: boolean): string {
  const list = listOf(step);
  if (notSo(draft).length) return step.gate || step.kind === 'torque' ? t`Is it so now? Go on` : t`Go on, with the reason`;
  if (drips) return t`It only drips: note it, go on`;
  if (step.kind === 'torque') return list.length > 0 ? t`All so: closed, go on` : t`Closed, go on`;
  if (step.kind === 'confirm' && list.length > 1) return t`All so, go on`;
  if (step.purpose === 'access' && !String(draft.came_off ?? '').trim()) return t`Nothing is in the way, go on`;
  return ACTIONS[step.kind] ?? t`Done, go on`;
}

/** Digits answer the first question that is still open. */
function answers(step: Props['step'], draft: Props['draft'], change: Props['change']): KeyMap {
  const asked =
    step.kind === 'level' || step.kind === 'note' || step.kind === 'measure' ? step.fields.filter((f) => f.kind === 'choice' && f.choices.length > 1) : [];
  const open = asked.find((f) => !draft[f.name]) ?? asked[0];
  if (!open) return {};
  return Object.fromEntries(
    open.choices.slice(0, 9).map((choice, k) => [String(k + 1), { does: `${open.label}: ${choice}`, act: () => change({ [open.name]: choice }) }]),
  );
}

function Settled({ step, mayWork, bay, next }: Pick<Props, 'step' | 'mayWork' | 'bay' | 'next'>) {
  return (
    <Box sx={{ display: 'grid', gap: 2, justifyItems: 'start' }}>
      <span>
        <Trans>
          {step.status === 'skipped' ? t`Passed` : t`Done`} by {step.done_by} at {step.done_at ? clockTime(step.done_at) : ''}
          {step.status === 'skipped' && step.values.reason ? `: ${String(step.values.reason)}` : ''}
        </Trans>
      </span>
      <Box sx={{ display: 'flex', gap: 1.5 }}>
        <Button variant="contained" onClick={next} sx={{ minHeight: 56 }}>{t`Back to the step at hand`}</Button>
        {mayWork && (
          <Button variant="outlined" sx={{ minHeight: 56 }} onClick={() => bay.act('undo', step.id, { act: step.act }, next)}>{t`Undo this step`}</Button>
        )}
      </Box>
      <Trouble error={bay.post.error} />
    </Box>
  );
}

function Passing({ step, bay, next }: Pick<Props, 'step' | 'bay' | 'next'>) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const pass = () => bay.act('skip', step.id, { reason }, next);
  useKeys(step.skip === 'free' ? { s: { does: t`not this time`, act: pass } } : {});
  if (step.skip === 'never') return null;
  if (!open)
    return (
      <Button variant="text" sx={{ minHeight: 56 }} onClick={() => (step.skip === 'free' ? pass() : setOpen(true))}>
        {step.skip === 'free' ? t`Not this time` : t`Pass with a reason`}
      </Button>
    );
  return (
    <Why
      kind="passed"
      autoFocus
      label={t`Why is it passed?`}
      value={reason}
      change={setReason}
      enter={pass}
      beside={<Button variant="outlined" onClick={pass}>{t`Pass`}</Button>}
    />
  );
}

export function StepCard({ id, step, service, ledger, mayWork, bay, next, undo, draft, change, forget, trial }: Props) {
  const card = useRef<HTMLFormElement>(null);
  const { post, act } = bay;
  const error = post.error;
  const amendable = AMENDABLE.includes(step.kind);
  const settled = step.status === 'done' || step.status === 'skipped';
  const editable = mayWork && (step.status === 'open' || (step.status === 'done' && amendable));
  const done = (more: Values = {}) => {
    if (!editable || post.isPending) return;
    act('done', step.id, { ...answered(step, draft), ...more }, () => {
      forget();
      next();
    });
  };
  const [left, running] = useTimeLeft(step, service.now);
  // An amount that is noted before its time is over: does it only drip, or does it run on?
  const early = step.kind === 'measure' && step.status === 'open' && step.timer_s > 0 && left > 0;
  const { pour, waiting } = usePourAll(id, step, ledger, draft, change, bay);
  const submit = () => {
    if (waiting) return;
    if (pour && editable && !post.isPending) pour.run(() => done());
    else done(early ? { drips: true } : {});
  };
  useKeys({ Enter: { does: t`note this step and go on`, act: submit } });
  const { goes_on: goesOn = false, short_guide: short = false } = useSession().data ?? {};
  // In the short guide what is seen of a level is the whole answer.
  const seen = short && step.kind === 'level' && step.window_low_c === null && step.status === 'open' ? String(draft.outcome ?? '') : '';
  const before = useRef(seen);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when it is chosen
  useEffect(() => {
    if (seen && seen !== before.current) done();
    before.current = seen;
  }, [seen]);
  useKeys(answers(step, draft, change));
  const over = goesOn && step.kind === 'timer' && running && left <= 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the time is over
  useEffect(() => {
    if (over) done();
  }, [over]);
  useEffect(() => {
    card.current?.querySelector<HTMLElement>('input:not([type=hidden])')?.focus({ preventScroll: true });
  }, []);
  const needsReason = error instanceof Refused && error.kind === 'needs-reason';
  const hasReason = step.fields.some((f) => f.name === 'reason');
  const problem = (field: string) => (error instanceof Refused ? error.at(field) : '');
  // While oil is still to be poured, the bottle is the next action, not the end of the pour.
  const unpoured = step.kind === 'pour' && ledger?.target_ml != null && ledger.target_ml - ledger.poured_ml > 0.5;
  const Body = bodyOf(step.kind);
  return (
    <Box
      component="form"
      ref={card}
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
      sx={{ display: 'grid', height: { sm: '100%' }, minHeight: 0, gridTemplateRows: 'minmax(0, 1fr) auto' }}>
      <Box sx={{ display: 'grid', gap: 2, alignContent: 'start', overflowY: 'auto', minHeight: 0, p: { xs: 2, sm: 3 } }}>
        <Box>
          <Typography variant="h1" component="h2" sx={{ fontSize: { xs: '1.9rem', lg: '2.5rem' } }}>
            {titleOf(step, service.ledgers.length > 1)}
          </Typography>
          <Box sx={{ color: 'text.secondary', mt: 0.5 }}>{step.why}</Box>
        </Box>
        {(step.caution || step.advice.length > 0) && (
          <Box sx={{ display: 'grid', gap: 1.5 }}>
            {step.caution && <Caution>{step.caution}</Caution>}
            {step.advice.length > 0 && (
              <Box component="ul" sx={{ m: 0, pl: 3 }}>
                {step.advice.map((a) => (
                  <li key={a}>{a}</li>
                ))}
              </Box>
            )}
          </Box>
        )}
        {step.forbidden && (
          <Barred large>
            <b>{t`Not now.`}</b> {step.forbidden}
          </Barred>
        )}
        {step.status === 'locked' ? (
          <Box sx={{ display: 'grid', gap: 2, justifyItems: 'start', alignContent: 'start' }}>
            <Box sx={{ border: 2, borderRadius: 2, p: 2, display: 'flex', gap: 2, alignItems: 'center' }}>
              <svg width={34} height={34} viewBox="0 0 20 20" aria-hidden="true" stroke="currentColor" strokeWidth={1.8} fill="none">
                <path d="M4 9h12v9h-12zM6.5 9v-3a3.5 3.5 0 0 1 7 0v3" />
              </svg>
              <Box>
                <b>{t`Locked.`}</b> {step.why_locked}
              </Box>
            </Box>
            <Button variant="contained" onClick={next} sx={{ minHeight: 56 }}>{t`Back to the step at hand`}</Button>
          </Box>
        ) : settled && !amendable ? (
          <Settled step={step} mayWork={mayWork} bay={bay} next={next} />
        ) : (
          <Box sx={{ display: 'grid', gap: 2, alignContent: 'start' }}>
            <ExchangeBar step={step} ledger={ledger} bay={bay} mayWork={mayWork} />
            {Body && (
              <Body
                id={id}
                step={step}
                service={service}
                ledger={ledger}
                draft={draft}
                change={change}
                problem={problem}
                bay={bay}
                trial={trial}
                mayWork={mayWork}
              />
            )}
            {(needsReason || (hasReason && Boolean(draft.reason))) && (
              <Why
                kind={step.kind === 'torque' ? 'torque' : 'other'}
                label={t`Reason`}
                autoFocus={needsReason}
                value={String(draft.reason ?? '')}
                change={(reason) => change({ reason })}
              />
            )}
            <Trouble error={error} />
          </Box>
        )}
        <StepPhotos service={service} step={step.id} mayWork={mayWork} />
      </Box>
      {editable && (
        <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'center', borderTop: 1, borderColor: 'divider', px: { xs: 2, sm: 3 }, py: 1.25 }}>
          <Button
            type="submit"
            variant={unpoured && !pour ? 'outlined' : 'contained'}
            disabled={post.isPending || waiting}
            sx={{ minHeight: 64, fontSize: '1.5rem', px: 3 }}>
            {pour ? pour.words : wordsOf(step, draft, early)}
          </Button>
          {pour && unpoured && (
            <Button variant="text" sx={{ minHeight: 56 }} disabled={post.isPending} onClick={() => done()}>{t`Leave it at what is in`}</Button>
          )}
          {early && (
            <Button variant="text" sx={{ minHeight: 56 }} disabled={post.isPending} onClick={() => done({ drips: false })}>{t`It still runs: note it`}</Button>
          )}
          {step.timer_s > 0 && <TimerBar step={step} now={service.now} bay={bay} />}
          {step.status === 'open' && <Passing step={step} bay={bay} next={next} />}
          <Button variant="text" onClick={undo} disabled={!service.last_act} sx={{ minHeight: 56, ml: 'auto', color: 'text.secondary' }}>{t`Undo last`}</Button>
        </Box>
      )}
    </Box>
  );
}
