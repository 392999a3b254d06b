/** A rinse: its oil comes from a bottle too, the next of the plan where nothing else is said. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useEffect } from 'react';
import { useShow } from '../../../app/session';
import { Pick } from '../../../ui/Pick';
import type { BodyProps } from '../guide/body';
import { Plain } from '../guide/Plain';
import { usePourPlan } from './usePourPlan';

const ELSEWHERE = 'elsewhere';

export function Rinse(props: BodyProps) {
  const { id, step, draft, change, problem } = props;
  const { show } = useShow();
  const plan = usePourPlan(id, step.compartment, { pump: '', stroke: '' });
  const held = (plan.data?.bottles ?? []).filter((b) => b.content_ml > 0.5);
  const next = plan.data ? (held[0]?.container ?? ELSEWHERE) : '';
  const said = draft.container ? String(draft.container) : draft.elsewhere === true ? ELSEWHERE : '';
  const from = (value: string) => change(value === ELSEWHERE ? { container: null, elsewhere: true } : { container: Number(value), elsewhere: false });
  // biome-ignore lint/correctness/useExhaustiveDependencies: proposed once, when the plan is there
  useEffect(() => {
    if (next && !said) from(String(next));
  }, [next]);
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <Plain {...props} />
      <Pick
        label={t`From which bottle?`}
        value={said}
        options={[...held.map((b): [string, string] => [String(b.container), `${b.label}, ${show(b.content_ml, 'volume')}`]), [ELSEWHERE, t`from elsewhere`]]}
        onChange={from}
        problem={problem('container')}
      />
    </Box>
  );
}
