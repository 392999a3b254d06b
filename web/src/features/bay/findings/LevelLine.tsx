import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useTheme } from '@mui/material/styles';
import type { Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';

export type Trend = Schemas['TrendView'];

/** Levels of this compartment's past and of its sisters, and where the present look falls. */
export function LevelLine({ trend, level }: { trend: Trend; level: number | null }) {
  const { tones } = useTheme();
  const { show } = useShow();
  const past = trend.points.filter((p) => p.level !== null && p.work !== 'top-up').slice(-6);
  if (!past.length && !trend.against_now) return null;
  const [w, left, right, floor] = [280, 26, 262, 96];
  const count = past.length + (level === null ? 0 : 1);
  const x = (k: number) => (count < 2 ? (left + right) / 2 : left + 10 + (k / (count - 1)) * (right - left - 20));
  const y = (v: number) => floor - 6 - v * 20;
  const unit = trend.meter === 'h' ? 'engine_hours' : 'distance';
  const own = past.map((p, k) => ({ x: x(k), y: y(p.level ?? 0), p }));
  const line = [...own.map((o) => `${o.x} ${o.y}`), ...(level === null ? [] : [`${x(count - 1)} ${y(level)}`])];
  const first = past[0];
  return (
    <svg
      viewBox={`0 0 ${w} 124`}
      width="100%"
      role="img"
      aria-label={t`Levels before: ${past.map((p) => `${date(p.on)} ${p.level}`).join(', ') || t`none`}${trend.against_now ? `; ${trend.against_now.text}` : ''}`}>
      {[0, 1, 2, 3, 4].map((v) => (
        <g key={v}>
          <path d={`M${left} ${y(v)}H${right}`} stroke={tones.line} />
          <text x={left - 8} y={y(v) + 5} textAnchor="end" fontSize={14} fill={tones.soft}>
            {v}
          </text>
        </g>
      ))}
      {trend.against_now && (
        <g>
          <path d={`M${left} ${y(trend.against_now.mean_level)}H${right}`} stroke={tones.ink} strokeDasharray="5 5" />
          <text
            x={right}
            y={y(trend.against_now.mean_level) - 5}
            textAnchor="end"
            fontSize={13}
            fill={tones.ink}
            stroke={tones.pan}
            strokeWidth={4}
            paintOrder="stroke">
            <Trans>
              sisters, {trend.against_now.looks} {plural(trend.against_now.looks, { one: 'look', other: 'looks' })}
            </Trans>
          </text>
        </g>
      )}
      {line.length > 1 && <path d={`M${line.join('L')}`} fill="none" stroke={tones.ink} strokeWidth={2.5} />}
      {own.map((o) => (
        <circle key={o.p.record} cx={o.x} cy={o.y} r={5.5} fill={tones.ink} />
      ))}
      {level !== null && <circle cx={x(count - 1)} cy={y(level)} r={9} fill={level === 4 ? tones.red : tones.amber} stroke={tones.ink} strokeWidth={3} />}
      <g fontSize={14} fill={tones.soft}>
        {first && (
          <text x={left} y={119}>
            {first.meter === null ? date(first.on) : show(first.meter, unit)}
          </text>
        )}
        {level !== null && <text x={right} y={119} textAnchor="end">{t`now`}</text>}
      </g>
    </svg>
  );
}
