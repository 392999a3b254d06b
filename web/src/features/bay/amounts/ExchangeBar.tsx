/** Where an exchange ends if the rest goes as the drains so far, and one press for one more, or for fewer. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { BodyProps } from '../guide/body';

export function ExchangeBar({ step, ledger, bay, mayWork }: Pick<BodyProps, 'step' | 'ledger' | 'bay'> & { mayWork: boolean }) {
  const outlook = ledger?.outlook;
  if (!ledger || !outlook || !['exchange', 'drain'].includes(step.phase)) return null;
  const set = (count: number) => bay.act('cycles', `drain.${ledger.compartment}`, { count });
  return (
    <Box
      role="group"
      aria-label={t`Exchange`}
      sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap', bgcolor: (t) => t.tones.pan, borderRadius: 2, px: 2, py: 1 }}>
      <Box sx={{ flex: 1, minWidth: 220 }}>{outlook.text}</Box>
      {mayWork && ledger.drained_ml === null && (
        <>
          {outlook.needed > outlook.wanted && ledger.cycles_planned < ledger.cycles_most && (
            <Button variant="outlined" disabled={bay.held} onClick={() => set(outlook.wanted + 1)}>{t`Add a drain`}</Button>
          )}
          {outlook.needed < outlook.wanted && outlook.needed > ledger.cycles.length && (
            <Button variant="outlined" disabled={bay.held} onClick={() => set(Math.max(outlook.needed, ledger.cycles.length + 1))}>
              <Trans>{outlook.needed} are enough</Trans>
            </Button>
          )}
        </>
      )}
    </Box>
  );
}
