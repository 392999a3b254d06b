/** The volume ledger: what went in and what came out, service by service, on one axis; the gap is the loss, drawn. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import type { Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { oilColour } from '../../../ui/oil';

type Record = Schemas['RecordView'];
type TrendPoint = Schemas['TrendPoint'];
const W = 900;
const H = 250;
const LEFT = 78;
const RIGHT = 850;
const TOP = 28;
const FLOOR = 176;

type Point = {
  r: Record;
  x: number;
  in: number | null;
  out: number | null;
  loss: number | null;
  within: number | null;
  last: { x: number; in: number } | null;
};

const APART = 108;

/** Where each record stands: by its date, but never so close that the dates run into each other. */
export function places(days: number[]): number[] {
  const [from, to] = [LEFT + 52, RIGHT - 52];
  const first = Math.min(...days);
  const span = Math.max(1, Math.max(...days) - first);
  const xs = days.map((d) => from + ((d - first) / span) * (to - from));
  if (days.length === 1) return [(from + to) / 2];
  const apart = Math.min(APART, (to - from) / (days.length - 1));
  for (let k = 1; k < xs.length; k++) xs[k] = Math.max(xs[k] ?? 0, (xs[k - 1] ?? 0) + apart);
  for (let k = xs.length - 1, limit = to; k >= 0; k--, limit -= apart) xs[k] = Math.min(xs[k] ?? 0, limit);
  return xs;
}

/** Points in order, each with the fill before it. */
export function ledgerPoints(records: Record[]): Point[] {
  const xs = places(records.map((r) => Date.parse(r.on)));
  let last: { x: number; in: number } | null = null;
  return records.map((r, k) => {
    const x = xs[k] ?? 0;
    const point = { r, x, in: r.net_in_15_ml, out: r.first_out_15_ml, loss: r.loss_15_ml, within: r.loss_within_ml, last };
    if (r.net_in_15_ml !== null) last = { x, in: r.net_in_15_ml };
    return point;
  });
}

/** A round step that gives three to six lines over a span. */
function roundStep(span: number): number {
  const raw = span / 4;
  const power = 10 ** Math.floor(Math.log10(raw));
  return ([1, 2, 5, 10].find((m) => m * power >= raw) ?? 10) * power;
}

/** Under the axis, where a trend is known: colour, what was seen beside paste, and the rate of loss with its σ. */
function Rows({ points, trend, family, meter }: { points: Point[]; trend: readonly TrendPoint[]; family: string; meter: string }) {
  const { tones } = useTheme();
  const most = Math.max(1, ...trend.map((look) => Math.abs(look.rate ?? 0) + (look.rate_within ?? 0)));
  const [colour, seen, axis] = [FLOOR + 72, FLOOR + 112, FLOOR + 176];
  const y = (rate: number) => axis - Math.max(-0.35, Math.min(1, rate / most)) * 38;
  const wide = Math.max(60, points.length > 1 ? Math.min(...points.slice(1).map((p, k) => p.x - (points[k]?.x ?? 0))) : 300);
  const fits = Math.floor(wide / 7.4);
  return (
    <g fontSize={14}>
      <g textAnchor="end" fill={tones.soft}>
        <text x={LEFT - 8} y={colour + 14}>{t`colour`}</text>
        <text x={LEFT - 8} y={seen + 4}>{t`seen`}</text>
        <text x={LEFT - 8} y={axis - 12}>{t`mL per`}</text>
        <text x={LEFT - 8} y={axis + 4}>
          {meter === 'h' ? '100 h' : t`1 000 km`}
        </text>
      </g>
      <path d={`M${LEFT} ${axis}H${RIGHT}`} stroke={tones.line} />
      {points.map((p) => {
        const look = trend.find((o) => o.record === p.r.id);
        if (!look) return null;
        const words = look.seen.join('; ') || (look.level === null ? '' : t`paste only`);
        return (
          <g key={p.r.id} textAnchor="middle">
            {look.colour ? (
              <rect x={p.x - 23} y={colour} width={46} height={20} rx={3} fill={oilColour(family, look.colour)} stroke={tones.ink} strokeWidth={1.2} />
            ) : (
              <rect x={p.x - 23} y={colour} width={46} height={20} rx={3} fill="none" stroke={tones.soft} strokeDasharray="2 2" />
            )}
            <text x={p.x} y={seen + 4} fill={tones.ink}>
              {words.length > fits ? `${words.slice(0, fits - 1)}…` : words}
              {words.length > fits && <title>{words}</title>}
            </text>
            {look.rate !== null && (
              <g>
                <path d={`M${p.x} ${axis}V${y(look.rate)}`} stroke={Math.abs(look.rate) > (look.rate_within ?? 0) ? tones.red : tones.soft} strokeWidth={11} />
                {look.rate_within !== null && (
                  <path
                    d={`M${p.x} ${y(look.rate - look.rate_within)}V${y(look.rate + look.rate_within)}M${p.x - 6} ${y(look.rate + look.rate_within)}h12M${p.x - 6} ${y(look.rate - look.rate_within)}h12`}
                    stroke={tones.ink}
                    strokeWidth={1.6}
                  />
                )}
                <text x={p.x + 12} y={Math.min(axis - 4, y(look.rate) + 5)} textAnchor="start" fill={tones.ink}>
                  {look.rate.toFixed(1)}
                </text>
              </g>
            )}
          </g>
        );
      })}
    </g>
  );
}

type LedgerProps = { records: Record[]; family: string; meter: string; trend?: readonly TrendPoint[] };

export function VolumeLedger({ records, family, meter, trend = [] }: LedgerProps) {
  const { tones } = useTheme();
  const { show } = useShow();
  const points = ledgerPoints(records);
  const amounts = points.flatMap((p) => [p.in, p.out]).filter((v): v is number => v !== null);
  if (!amounts.length) return <span>{t`No amount is on record yet: the ledger begins with the first measured fill.`}</span>;
  const high = Math.max(...amounts);
  const low = Math.min(...amounts);
  const pad = Math.max((high - low) * 0.35, high * 0.03);
  const [lo, hi] = [Math.max(0, low - pad), high + pad];
  const y = (ml: number) => FLOOR - ((ml - lo) / (hi - lo)) * (FLOOR - TOP);
  const step = roundStep(hi - lo);
  const lines = Array.from({ length: 12 }, (_, k) => Math.ceil(lo / step) * step + k * step).filter((v) => v <= hi);
  const fresh = oilColour(family, 'fresh');
  return (
    <Box sx={{ overflowX: 'auto' }}>
      <svg
        viewBox={`0 0 ${W} ${trend.length ? H + 118 : H}`}
        width="100%"
        style={{ minWidth: 620, maxWidth: 1100 }}
        role="img"
        aria-label={points
          .map(
            (p) =>
              `${date(p.r.on)}: ${p.out === null ? t`nothing measured` : t`${show(p.out, 'volume')} out`}, ${p.in === null ? t`fill not recorded` : t`${show(p.in, 'volume')} in`}`,
          )
          .join('; ')}>
        {lines.map((v) => (
          <g key={v}>
            <path d={`M${LEFT} ${y(v)}H${RIGHT}`} stroke={tones.line} />
            <text x={LEFT - 8} y={y(v) + 5} textAnchor="end" fontSize={14} fill={tones.soft}>
              {show(v, 'volume')}
            </text>
          </g>
        ))}
        <path d={`M${LEFT} ${FLOOR}H${RIGHT}`} stroke={tones.ink} strokeWidth={1.5} />
        {points.map((p) => {
          if (!p.last || p.out === null) return null;
          const real = p.loss !== null && p.within !== null && Math.abs(p.loss) > p.within;
          return (
            <g key={`loss${p.r.id}`}>
              <path d={`M${p.last.x} ${y(p.last.in)}H${p.x}V${y(p.out)}z`} fill={real ? tones.redWash : tones.pan} />
              <path d={`M${p.last.x} ${y(p.last.in)}H${p.x}`} stroke={tones.soft} strokeDasharray="3 4" />
              <path d={`M${p.last.x} ${y(p.last.in)}L${p.x} ${y(p.out)}`} stroke={oilColour(family, p.r.colour || 'brown')} strokeWidth={4} />
              {p.loss !== null && (
                <text
                  x={p.x - 14}
                  y={(y(p.last.in) + y(p.out)) / 2 + 5}
                  textAnchor="end"
                  fontSize={16}
                  fontWeight={700}
                  fill={real ? tones.red : tones.soft}
                  stroke={tones.paper}
                  strokeWidth={5}
                  paintOrder="stroke">
                  {Math.round(p.loss) === 0 ? '' : p.loss > 0 ? '−' : '+'}
                  {show(Math.abs(p.loss), 'volume')}
                  {p.within !== null && p.x - p.last.x > 190 ? ` ± ${show(p.within, 'volume').split('\u00a0')[0]}` : ''}
                </text>
              )}
            </g>
          );
        })}
        {points.map((p) => (
          <g key={p.r.id} stroke={tones.ink} strokeWidth={2.5}>
            {p.in !== null && p.out !== null && <path d={`M${p.x} ${y(p.out)}V${y(p.in)}`} stroke={tones.amber} strokeWidth={7} />}
            {p.out !== null && <circle cx={p.x} cy={y(p.out)} r={7.5} fill={oilColour(family, p.r.colour || 'brown')} />}
            {p.in !== null && <circle cx={p.x} cy={y(p.in)} r={8.5} fill={fresh} />}
            <g stroke="none" fontSize={14} textAnchor="middle" fill={tones.ink}>
              <text x={p.x} y={FLOOR + 19}>
                {date(p.r.on)}
              </text>
              <text x={p.x} y={FLOOR + 36} fill={tones.soft}>
                {p.r.meter_value === null ? '' : show(p.r.meter_value, meter === 'h' ? 'engine_hours' : 'distance')}
              </text>
              {[0, 1, 2, 3].map((k) => (
                <rect
                  key={k}
                  x={p.x - 23 + k * 12}
                  y={FLOOR + 48}
                  width={9}
                  height={13}
                  fill={p.r.level !== null && k < p.r.level ? (p.r.level === 4 ? tones.red : tones.ink) : 'none'}
                  stroke={tones.soft}
                  strokeDasharray={p.r.level === null ? '2 2' : undefined}
                />
              ))}
            </g>
          </g>
        ))}
        <text x={LEFT - 8} y={FLOOR + 59} textAnchor="end" fontSize={14} fill={tones.soft}>{t`debris`}</text>
        {trend.length > 0 && <Rows points={points} trend={trend} family={family} meter={meter} />}
        <g fontSize={14} fill={tones.soft}>
          <circle cx={LEFT + 6} cy={10} r={6} fill={fresh} stroke={tones.ink} strokeWidth={2} />
          <text x={LEFT + 18} y={15}>{t`went in`}</text>
          <circle cx={LEFT + 96} cy={10} r={6} fill={oilColour(family, 'brown')} stroke={tones.ink} strokeWidth={2} />
          <text x={LEFT + 108} y={15}>{t`came out; all at 15 °C, ± 2σ`}</text>
        </g>
      </svg>
    </Box>
  );
}
