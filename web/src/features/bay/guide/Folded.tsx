/** The short guide: what is no gate of its own stands on one page before the work and on one after it, and goes on in one press. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useKeys } from '../../../app/keys';
import { Trouble } from '../../../ui/Trouble';
import { answered, notSo } from './answered';
import { Caution } from './Caution';
import { SoList } from './SoList';
import { Summary } from './Summary';
import type { Service, Step, Values } from './service';
import type { useService } from './useService';

/** What stands on the page before the work, and on the one after it, by what a step is for. */
const BEFORE = ['ready', 'kit', 'warm', 'feel', 'safe', 'access', 'levelled'];
const AFTER = ['wipe', 'drive', 'recheck', 'waste', 'sign'];
const SETTLED = ['done', 'skipped', 'off'];

/** The steps that stand on one page with the one at hand; null where it stands alone. */
export function foldOf(service: Service, step: Step): Step[] | null {
  if (step.status !== 'open') return null;
  const left = service.steps.filter((s) => !SETTLED.includes(s.status));
  if (BEFORE.includes(step.purpose) && !service.steps.some((s) => s.purpose === 'drain' && s.status === 'done')) {
    const found = left.filter((s) => BEFORE.includes(s.purpose));
    return found.length > 1 ? found : null;
  }
  if (AFTER.includes(step.purpose) && left.every((s) => AFTER.includes(s.purpose))) return left;
  return null;
}

/** One line of the page for a step that has no list of its own. */
const lineOf = (s: Step) => s.task;
const listed = (s: Step): string[] => (s.checklist.length ? s.checklist : ['ready', 'sign', 'warm', 'feel', 'access'].includes(s.purpose) ? [] : [lineOf(s)]);

export function Folded({ service, steps, bay, choose }: { service: Service; steps: Step[]; bay: ReturnType<typeof useService>; choose: (id: string) => void }) {
  const [drafts, setDrafts] = useState<Record<string, Values>>({});
  const draft = (s: Step) => drafts[s.id] ?? {};
  const signs = steps.some((s) => s.purpose === 'sign');
  const left = steps.filter((s) => s.skip === 'free');
  const denied = steps.filter((s) => notSo(draft(s)).length > 0);
  const go = (k = 0) => {
    const step = steps[k];
    if (!step || bay.post.isPending) return;
    const next = () => go(k + 1);
    // What is optional is left out here: whoever wants it opens that step in the list.
    if (step.skip === 'free') bay.act('skip', step.id, {}, next);
    else bay.act('done', step.id, answered(step, draft(step)), next);
  };
  const submit = () => {
    const [first] = denied;
    if (first && !first.checklist.length)
      choose(first.id); // not done: that step asks why
    else go();
  };
  useKeys({ Enter: { does: t`note this page and go on`, act: submit } });
  return (
    <Box
      component="form"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
      sx={{ display: 'grid', height: { sm: '100%' }, minHeight: 0, gridTemplateRows: 'minmax(0, 1fr) auto' }}>
      <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start', overflowY: 'auto', minHeight: 0, p: { xs: 2, sm: 3 } }}>
        <Typography variant="h1" component="h2" sx={{ fontSize: { xs: '1.9rem', lg: '2.5rem' } }}>
          {signs ? t`Tidy up, and sign` : (steps[0]?.task ?? '')}
        </Typography>
        <Box sx={{ color: 'text.secondary' }}>{t`What is not so is tapped; the rest goes on in one press.`}</Box>
        {[...new Set(steps.map((s) => s.caution).filter(Boolean))].map((c) => (
          <Caution key={c}>{c}</Caution>
        ))}
        <Box sx={{ columnCount: { xs: 1, lg: 2 }, columnGap: 4 }}>
          {steps
            .filter((s) => s.skip !== 'free' && (listed(s).length > 0 || s.advice.length > 0))
            .map((s) => (
              <Box key={s.id} sx={{ breakInside: 'avoid', mb: 2 }}>
                {(s.checklist.length > 0 || s.advice.length > 0) && (
                  <Typography variant="h4" component="h3">
                    {s.task}
                  </Typography>
                )}
                {s.purpose === 'ready' && s.advice.map((a) => <Box key={a}>{a}</Box>)}
                <SoList items={listed(s)} draft={draft(s)} change={(part) => setDrafts((old) => ({ ...old, [s.id]: { ...old[s.id], ...part } }))} />
              </Box>
            ))}
        </Box>
        {left.length > 0 && (
          <Box>
            <Trans>Not part of this page; in the list, where it is wanted: {left.map((s) => s.task).join('; ')}.</Trans>
          </Box>
        )}
        {signs && <Summary service={service} last />}
        <Trouble error={bay.post.error} />
      </Box>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', borderTop: 1, borderColor: 'divider', px: { xs: 2, sm: 3 }, py: 1.25 }}>
        <Button type="submit" variant="contained" disabled={bay.post.isPending} sx={{ minHeight: 64, fontSize: '1.5rem', px: 3 }}>
          {denied.some((s) => s.checklist.length === 0) ? t`Say why` : denied.length ? t`Is it so now? Go on` : signs ? t`All so: sign` : t`All so, go on`}
        </Button>
      </Box>
    </Box>
  );
}
