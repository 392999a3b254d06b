/** A container drawn with what is in it: dashed once it is opened. */
import { t } from '@lingui/core/macro';
import { useTheme } from '@mui/material/styles';
import type { Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { oilColour } from '../../../ui/oil';

export function Bottle({ c, family }: { c: Schemas['ContainerView']; family: string }) {
  const { tones } = useTheme();
  const { show } = useShow();
  const tall = c.size_ml >= 5000 ? 46 : c.size_ml >= 500 ? 38 : 24;
  const wide = c.size_ml >= 15_000 ? 40 : c.size_ml >= 5000 ? 30 : c.size_ml >= 500 ? 18 : 12;
  const level = (tall - 8) * (c.content_ml / c.size_ml);
  const words = t`${c.label}: ${show(c.content_ml, 'volume')} of ${show(c.size_ml, 'volume')}${c.carried_in ? t`, carried in ${c.carried_in}` : ''}`;
  return (
    <svg width={wide + 4} height={tall + 4} role="img" aria-label={words}>
      <title>{words}</title>
      <rect x={2} y={tall + 1 - level} width={wide} height={level} fill={oilColour(family, 'fresh')} />
      <path
        d={`M2 10V${tall + 1}H${wide + 2}V10L${wide * 0.68 + 2} 6V2H${wide * 0.32 + 2}V6z`}
        fill="none"
        stroke={c.carried_in ? tones.soft : tones.ink}
        strokeWidth={2}
        strokeDasharray={c.opened_on ? '4 2' : undefined}
      />
    </svg>
  );
}
