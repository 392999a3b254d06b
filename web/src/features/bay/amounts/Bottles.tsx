/** The containers of a pour plan, each with the mark at which to stop. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import type { Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { oilColour } from '../../../ui/oil';
import type { Ledger } from '../guide/service';

function Bottle({ b, fresh }: { b: Schemas['BottleView']; fresh: string }) {
  const { tones } = useTheme();
  const { show } = useShow();
  const y = (ml: number) => 148 - (ml / b.size_ml) * 104;
  const used = b.content_ml - b.left_ml > 0.5;
  const words = !used ? t`leave it` : b.left_ml < 0.5 ? t`empty it` : b.graduated ? t`stop at ${Math.round(b.left_ml)}` : t`by jug`;
  return (
    <Box sx={{ display: 'grid', justifyItems: 'center', width: 128, opacity: used ? 1 : 0.55 }}>
      <svg viewBox="0 0 128 156" width={128} height={156} role="img" aria-label={`${b.label}: ${words}`}>
        <path
          d={b.size_ml >= 5000 ? 'M34 40V150H84V40H76V30H58V40z' : 'M34 44V150H84V44L70 34V18H48V34z'}
          fill={tones.glass}
          stroke={tones.ink}
          strokeWidth={3}
        />
        <rect x={36} y={y(b.content_ml)} width={46} height={148 - y(b.content_ml)} fill={fresh} />
        {used && b.left_ml >= 0.5 && b.graduated && <path d={`M28 ${y(b.left_ml)}H96`} stroke={tones.red} strokeWidth={3.5} />}
        {b.graduated && [0.25, 0.5, 0.75].map((s) => <path key={s} d={`M84 ${148 - s * 104}h-9`} stroke={tones.ink} strokeWidth={1.5} />)}
        {used && b.left_ml >= 0.5 && b.graduated && (
          <text x={100} y={y(b.left_ml) + 5} fontSize={15} fontWeight={700} fill={tones.ink}>
            {Math.round(b.left_ml)}
          </text>
        )}
      </svg>
      <b>{words}</b>
      <Box sx={{ fontSize: '0.875rem', textAlign: 'center' }}>
        {b.label}, {show(b.content_ml, 'volume')}
      </Box>
    </Box>
  );
}

export function Bottles({ plan, ledger }: { plan: Schemas['ServicePourPlan']; ledger: Ledger }) {
  const { show } = useShow();
  const fresh = oilColour(ledger.family, 'fresh');
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
        {plan.bottles.map((b) => (
          <Bottle key={b.container} b={b} fresh={fresh} />
        ))}
      </Box>
      {!plan.bottles.length && plan.plan && <span>{t`No container of it is on the shelf.`}</span>}
      {plan.plan && plan.plan.shortage_ml > 0.5 && (
        <b>
          <Trans>{show(plan.plan.shortage_ml, 'volume')} short</Trans>
        </b>
      )}
    </Box>
  );
}
