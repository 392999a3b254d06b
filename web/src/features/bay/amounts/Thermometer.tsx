/** The oil's temperature in its window, the readings behind it, and where it is heading. */
import { t } from '@lingui/core/macro';
import { useTheme } from '@mui/material/styles';
import { useShow } from '../../../app/session';
import type { Ledger } from '../guide/service';

const [LEFT, RIGHT, TOP, FLOOR] = [44, 270, 14, 190];

type Reading = { at: string; temperature_c: number };

export function Thermometer({ ledger, live = [] }: { ledger: Ledger; live?: readonly Reading[] }) {
  const { tones } = useTheme();
  const { show } = useShow();
  const [low, high] = [ledger.window_low_c ?? 0, ledger.window_high_c ?? 0];
  const rows: readonly Reading[] = live.length ? live : ledger.readings;
  const all = [low - 15, high + 15, ...rows.map((r) => r.temperature_c)];
  const [bottom, top] = [Math.min(...all), Math.max(...all)];
  const y = (c: number) => FLOOR - ((c - bottom) / (top - bottom)) * (FLOOR - TOP);
  const first = Date.parse(rows[0]?.at ?? '');
  const span = Math.max(60_000, Date.parse(rows.at(-1)?.at ?? '') - first || 0);
  const x = (at: string) => LEFT + ((Date.parse(at) - first) / span) * (RIGHT - LEFT - 12);
  const now = rows.at(-1);
  const inside = now !== undefined && now.temperature_c >= low && now.temperature_c <= high;
  const words = now ? t`${show(now.temperature_c, 'temperature')}, ${inside ? t`inside` : t`outside`} the window` : t`no reading yet`;
  return (
    <svg viewBox="0 0 290 214" width="100%" role="img" aria-label={t`Oil temperature: ${words}`}>
      <rect x={LEFT} y={y(high)} width={RIGHT - LEFT} height={y(low) - y(high)} fill={tones.amber} fillOpacity={inside ? 0.55 : 0.28} />
      <path d={`M${LEFT} ${y(high)}H${RIGHT}M${LEFT} ${y(low)}H${RIGHT}`} stroke={tones.ink} strokeWidth={2} strokeDasharray={inside ? undefined : '6 4'} />
      {[low, high].map((c) => (
        <text key={c} x={LEFT - 6} y={y(c) + 5} textAnchor="end" fontSize={15} fontWeight={700} fill={tones.ink}>
          {Math.round(c)}
        </text>
      ))}
      <path d={`M${LEFT} ${TOP}V${FLOOR}H${RIGHT}`} fill="none" stroke={tones.ink} strokeWidth={2} />
      {rows.length > 1 && (
        <path
          d={rows.map((r, k) => `${k ? 'L' : 'M'}${x(r.at).toFixed(1)} ${y(r.temperature_c).toFixed(1)}`).join('')}
          fill="none"
          stroke={tones.ink}
          strokeWidth={3}
        />
      )}
      {now && <circle cx={x(now.at)} cy={y(now.temperature_c)} r={7} fill={inside ? tones.amber : tones.sheet} stroke={tones.ink} strokeWidth={3} />}
      <text x={RIGHT} y={208} textAnchor="end" fontSize={13} fill={tones.soft}>
        {words}
      </text>
    </svg>
  );
}

/** What each cycle took out and put in, and the share that is fresh. */
export function Cycles({ ledger }: { ledger: Ledger }) {
  const { tones } = useTheme();
  const { show } = useShow();
  const most = Math.max(1, ...ledger.cycles.map((c) => Math.max(c.drained_ml, c.poured_ml)));
  const wide = 240 / Math.max(1, ledger.cycles_planned);
  const fresh = ledger.fresh === null ? '' : t`${Math.round(ledger.fresh * 100)} % fresh`;
  return (
    <svg
      viewBox="0 0 280 150"
      width="100%"
      role="img"
      aria-label={t`${ledger.cycles.length} of ${ledger.cycles_planned} cycles done${fresh ? `, ${fresh}` : ''}${ledger.cycles.map((c) => t`; ${show(c.drained_ml, 'volume')} out, ${show(c.poured_ml, 'volume')} in`).join('')}`}>
      {Array.from({ length: ledger.cycles_planned }, (_, k) => {
        const c = ledger.cycles[k];
        const at = 20 + k * wide;
        const tall = (ml: number) => (ml / most) * 90;
        return (
          <g key={k}>
            <rect x={at} y={30} width={wide - 14} height={92} fill="none" stroke={tones.soft} strokeDasharray="4 4" />
            {c && <rect x={at} y={122 - tall(c.drained_ml)} width={(wide - 14) / 2} height={tall(c.drained_ml)} fill={tones.ink} />}
            {c && <rect x={at + (wide - 14) / 2} y={122 - tall(c.poured_ml)} width={(wide - 14) / 2} height={tall(c.poured_ml)} fill={tones.amber} />}
            <text x={at + (wide - 14) / 2} y={142} textAnchor="middle" fontSize={14} fill={tones.ink}>
              {k + 1}
            </text>
          </g>
        );
      })}
      <text x={20} y={20} fontSize={17} fontWeight={700} fill={tones.ink}>
        {fresh || t`out and in, cycle by cycle`}
      </text>
    </svg>
  );
}
