/** Debris over the run of the oil: this compartment's looks, numbered in time, among those of its sisters on the same sheet. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import type { Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { LEVEL_WORDS } from '../../../ui/oil';

type Trend = Schemas['TrendView'];
const [W, H, LEFT, RIGHT, TOP, FLOOR] = [440, 214, 104, 428, 14, 172];

/** A round step that gives three to five marks over a run. */
export function runStep(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most / 4));
  return ([1, 2, 5, 10].find((m) => m * power >= most / 4) ?? 10) * power;
}

export function RunPicture({ trend }: { trend: Trend }) {
  const { tones } = useTheme();
  const { show } = useShow();
  const unit = trend.meter === 'h' ? 'engine_hours' : 'distance';
  const own = trend.points.filter((p) => p.level !== null && p.run !== null);
  if (!own.length && !trend.sisters.length) return <span>{t`No look is on record yet for which it is known how far the oil had run.`}</span>;
  const runs = [...own.map((p) => p.run ?? 0), ...trend.sisters.map((s) => s.run), trend.run_now ?? 0];
  const most = Math.max(...runs, 1) * 1.06;
  const x = (run: number) => LEFT + (run / most) * (RIGHT - LEFT);
  const y = (level: number) => FLOOR - 8 - (level / 4) * (FLOOR - TOP - 20);
  const step = runStep(most);
  const marks = Array.from({ length: 8 }, (_, k) => k * step).filter((v) => v <= most);
  const said = own.map((p) => t`${date(p.on)}, level ${p.level ?? ''} after ${show(p.run, unit)}`).join('; ');
  return (
    <Box sx={{ overflowX: 'auto' }}>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        width="100%"
        style={{ minWidth: 320, maxWidth: 560 }}
        role="img"
        aria-label={t`Debris level over the run of the oil: ${said || t`no own look`}; ${trend.sisters.length} ${plural(trend.sisters.length, { one: 'look', other: 'looks' })} into sister compartments`}>
        {[0, 1, 2, 3, 4].map((v) => (
          <g key={v}>
            <path d={`M${LEFT} ${y(v)}H${RIGHT}`} stroke={tones.line} />
            <text x={LEFT - 8} y={y(v) + 5} textAnchor="end" fontSize={13} fill={tones.soft}>
              {v} {LEVEL_WORDS[v]}
            </text>
          </g>
        ))}
        <path d={`M${LEFT} ${FLOOR}H${RIGHT}`} stroke={tones.ink} strokeWidth={1.5} />
        {marks.map((v) => (
          <text key={v} x={x(v)} y={FLOOR + 18} textAnchor={v === 0 ? 'start' : 'middle'} fontSize={13} fill={tones.soft}>
            {show(v, unit)}
          </text>
        ))}
        {trend.run_now !== null && (
          <g>
            <path d={`M${x(trend.run_now)} ${TOP - 4}V${FLOOR}`} stroke={tones.amberText} strokeWidth={2} strokeDasharray="2 4" />
            <text
              x={x(trend.run_now)}
              y={FLOOR + 36}
              textAnchor={trend.run_now > most * 0.85 ? 'end' : trend.run_now < most * 0.15 ? 'start' : 'middle'}
              fontSize={13}
              fill={tones.amberText}>{t`the oil now inside`}</text>
          </g>
        )}
        {trend.sisters.map((s) => (
          <path key={`${s.compartment_id}${s.on}`} d={`M${x(s.run)} ${y(s.level) - 6}l6 6l-6 6l-6 -6z`} fill={tones.sheet} stroke={tones.soft} strokeWidth={2}>
            <title>{`${s.vehicle}, ${date(s.on)}`}</title>
          </path>
        ))}
        {own.map((p, k) => (
          <g key={p.record}>
            <circle cx={x(p.run ?? 0)} cy={y(p.level ?? 0)} r={10} fill={k === own.length - 1 ? tones.amber : tones.ink} stroke={tones.ink} strokeWidth={2} />
            <text
              x={x(p.run ?? 0)}
              y={y(p.level ?? 0) + 5}
              textAnchor="middle"
              fontSize={13}
              fontWeight={700}
              fill={k === own.length - 1 ? tones.amberInk : tones.paper}>
              {k + 1}
            </text>
          </g>
        ))}
      </svg>
      <Box sx={{ color: 'text.secondary', fontSize: '0.9375rem' }}>
        <Trans>
          Numbered: its own looks in time
          {trend.sisters.length > 0 ? t`; diamonds: sister compartments on the same sheet.` : t`; no sister compartment has a look yet.`}
        </Trans>
      </Box>
    </Box>
  );
}
