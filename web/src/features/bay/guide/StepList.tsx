/** The steps by phase, with locks that say what opens them; the one at hand stays in sight. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useEffect, useRef } from 'react';
import type { Step } from './service';

const PHASES: Record<string, string> = {
  prepare: 'Before',
  access: 'Access',
  open: 'Open',
  exchange: 'Exchange',
  drain: 'Drain',
  inspect: 'Read',
  close: 'Close',
  fill: 'Fill',
  level: 'Level',
  finish: 'Finish',
  after: 'After',
};

function Mark({ status, running }: { status: string; running: boolean }) {
  const shape: Record<string, React.ReactNode> = {
    done: <path d="M2 10a8 8 0 1 1 16 0a8 8 0 1 1 -16 0M6 10l3 3l5 -6" fill="none" />,
    skipped: <path d="M2 10a8 8 0 1 1 16 0a8 8 0 1 1 -16 0M6 10h8" fill="none" />,
    locked: <path d="M4 9h12v9h-12zM6.5 9v-3a3.5 3.5 0 0 1 7 0v3" fill="none" />,
    off: <path d="M4 16L16 4" />,
  };
  return (
    <svg width={20} height={20} viewBox="0 0 20 20" aria-hidden="true" stroke="currentColor" strokeWidth={2} style={{ flex: 'none' }}>
      {shape[status] ?? <circle cx={10} cy={10} r={8} fill={running ? 'currentColor' : 'none'} />}
    </svg>
  );
}

const SAY: Record<string, string> = { done: t`done`, skipped: t`passed`, locked: t`locked`, off: t`does not apply`, open: t`open` };

/** With one compartment its name goes without saying. */
export function titleOf(step: Step, many: boolean): string {
  const title = many || !step.compartment ? step.title : step.task;
  return title.charAt(0).toUpperCase() + title.slice(1);
}

export function StepList({ steps, at, many, choose }: { steps: Step[]; at: string; many: boolean; choose: (id: string) => void }) {
  const here = useRef<HTMLButtonElement>(null);
  const list = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: scrolls when the step changes
  useEffect(() => {
    const [row, box] = [here.current, list.current];
    if (row && box) box.scrollTop = row.offsetTop - box.clientHeight / 2 + row.offsetHeight / 2;
  }, [at]);
  const shown = steps.filter((s) => s.status !== 'off');
  return (
    <Box
      component="nav"
      ref={list}
      aria-label={t`Steps`}
      sx={{ position: 'relative', overflowY: 'auto', borderRight: { md: 1 }, borderColor: { md: 'divider' }, py: 1, minHeight: 0 }}>
      {shown.map((s, k) => (
        <Box key={s.id}>
          {s.phase !== shown[k - 1]?.phase && <Box sx={{ typography: 'h4', color: 'text.secondary', px: 2, pt: 1.25, pb: 0.25 }}>{PHASES[s.phase]}</Box>}
          <Box
            component="button"
            ref={s.id === at ? here : undefined}
            aria-current={s.id === at ? 'step' : undefined}
            onClick={() => choose(s.id)}
            sx={{
              position: 'relative',
              display: 'flex',
              gap: 1.25,
              alignItems: 'flex-start',
              width: '100%',
              border: 0,
              textAlign: 'left',
              font: 'inherit',
              fontSize: '1rem',
              lineHeight: 1.25,
              px: 2,
              py: 1,
              cursor: 'pointer',
              minHeight: 44,
              bgcolor: s.id === at ? 'text.primary' : 'transparent',
              color: s.id === at ? 'background.default' : s.status === 'locked' ? 'text.secondary' : 'text.primary',
              fontWeight: s.id === at ? 700 : 400,
            }}>
            <Mark status={s.status} running={Boolean(s.timer_started && !s.timer_stopped)} />
            <span>
              {titleOf(s, many)}
              <Box component="span" sx={{ position: 'absolute', width: '1px', height: '1px', overflow: 'hidden', clipPath: 'inset(50%)' }}>
                {`, ${SAY[s.status]}`}
              </Box>
              {s.status === 'locked' && s.id === at && (
                <Box component="span" sx={{ display: 'block', fontSize: '0.875rem', fontWeight: 400 }}>
                  {s.why_locked}
                </Box>
              )}
            </span>
          </Box>
        </Box>
      ))}
    </Box>
  );
}
