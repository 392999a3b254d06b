import { t } from '@lingui/core/macro';
import { useTheme } from '@mui/material/styles';
import type { Schemas } from '../../../app/api';

export type Read = Schemas['OilColour'];

/** Drain 1 … n as they look without the light, ΔE falling beside the computed fresh share. */
export function DrainStrip({ fresh, drained }: { fresh: Read; drained: readonly Read[] }) {
  const { tones } = useTheme();
  const most = Math.max(...drained.map((d) => d.delta_e), 5) * 1.1;
  const w = Math.min(84, 420 / drained.length);
  const y = (v: number) => 92 - (v / most) * 78;
  const shares = drained.filter((d) => d.fresh_share !== null);
  const x = (k: number) => 96 + k * w + w / 2;
  return (
    <svg
      viewBox={`0 0 ${120 + drained.length * w} 164`}
      width="100%"
      style={{ maxWidth: 120 + drained.length * w }}
      role="img"
      aria-label={drained
        .map(
          (d, k) => t`drain ${k + 1}: ΔE ${d.delta_e.toFixed(1)}${d.fresh_share === null ? '' : t`, ${Math.round(d.fresh_share * 100)} % fresh by the sums`}`,
        )
        .join('; ')}>
      <path d={`M90 92H${110 + drained.length * w}`} stroke={tones.ink} />
      <path d={`M${drained.map((d, k) => `${x(k)} ${y(d.delta_e)}`).join('L')}`} fill="none" stroke={tones.ink} strokeWidth={2.5} />
      {shares.length > 1 && (
        <path
          d={`M${drained.flatMap((d, k) => (d.fresh_share === null ? [] : [`${x(k)} ${92 - (1 - d.fresh_share) * 78 * (drained[0] ? drained[0].delta_e / most : 1)}`])).join('L')}`}
          fill="none"
          stroke={tones.amberText}
          strokeWidth={2}
          strokeDasharray="5 4"
        />
      )}
      {drained.map((d, k) => (
        <g key={k}>
          <circle cx={x(k)} cy={y(d.delta_e)} r={5} fill={tones.ink} />
          <text
            x={x(k)}
            y={y(d.delta_e) - 9}
            textAnchor="middle"
            fontSize={15}
            fontWeight={700}
            fill={tones.ink}
            stroke={tones.sheet}
            strokeWidth={4}
            paintOrder="stroke">
            {d.delta_e.toFixed(1)}
          </text>
          <rect x={x(k) - w / 2 + 3} y={98} width={w - 6} height={34} fill={d.hex} stroke={tones.ink} />
          <text x={x(k)} y={156} textAnchor="middle" fontSize={14} fill={tones.ink}>
            {drained.length > 1 ? t`drain ${k + 1}` : t`drained`}
          </text>
        </g>
      ))}
      <rect x={8} y={98} width={66} height={34} fill={fresh.hex} stroke={tones.ink} />
      <g fontSize={14} fill={tones.ink}>
        <text x={41} y={156} textAnchor="middle">{t`fresh`}</text>
        <text x={84} y={26} textAnchor="end">
          ΔE
        </text>
        {shares.length > 1 && <text x={84} y={44} textAnchor="end" fill={tones.amberText}>{t`by the sums`}</text>}
      </g>
    </svg>
  );
}
