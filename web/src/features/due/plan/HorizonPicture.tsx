/** The picture of the horizon: months or days to the right, a row a vehicle, marks with their whiskers, visits as brackets to drag. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import { useRef } from 'react';
import type { Schemas } from '../../../app/api';
import { date, useMay } from '../../../app/session';
import { SightGlass } from '../../../ui/SightGlass';
import { dayAfter, dayAt, daysBetween, LEFT, lanes, PAST, placeOf, ticks, WIDTH } from './horizonScale';

type Horizon = Schemas['Horizon'];
type Row = Horizon['rows'][number];
type Visit = Schemas['VisitView'];
const TOP = 58;
const ROW = 62;

export const visitKey = (v: Visit): string => (v.id === null ? `p${v.vehicle_id}.${v.compartments.join('.')}` : `v${v.id}`);

function RowMarks({ row, today, span, y }: { row: Row; today: string; span: number; y: number }) {
  const { tones } = useTheme();
  const xs = row.marks.map((m) => placeOf(daysBetween(today, m.on), span));
  const lane = lanes(xs, 24);
  return (
    <g>
      {row.marks.map((m, k) => {
        const x = xs[k] ?? 0;
        const at = y + 30 + (lane[k] ?? 0) * 9;
        const [a, b] = [placeOf(daysBetween(today, m.earliest), span), placeOf(daysBetween(today, m.latest), span)];
        return (
          <g key={m.compartment_id}>
            {m.state !== 'overdue' && m.state !== 'stop' && b > a + 2 && (
              <path d={`M${a} ${at}H${b}M${a} ${at - 5}v10M${b} ${at - 5}v10`} stroke={tones.ink} strokeWidth={1.3} opacity={0.55} />
            )}
            <g transform={`translate(${x - 10} ${at - 10})`}>
              <SightGlass
                state={m.state}
                used={m.used}
                family={m.family}
                colour={m.colour}
                level={m.level}
                size={20}
                title={`${row.vehicle}, ${m.name.toLowerCase()}, ${date(m.on)}`}
              />
            </g>
          </g>
        );
      })}
    </g>
  );
}

type BracketProps = {
  visit: Visit;
  row: Row;
  today: string;
  span: number;
  y: number;
  day: number;
  chosen: boolean;
  may: boolean;
  hold: () => void;
  nudge: (by: number) => void;
  agree: () => void;
};

function Bracket({ visit, row, today, span, y, day, chosen, may, hold, nudge, agree }: BracketProps) {
  const { tones } = useTheme();
  const marks = row.marks.filter((m) => visit.compartments.includes(m.compartment_id)).map((m) => placeOf(daysBetween(today, m.on), span));
  const x = placeOf(day, span);
  const [a, b] = [Math.min(x, ...marks) - 11, Math.max(x, ...marks) + 11];
  const planned = visit.id !== null;
  const at = y + 13;
  const tone = chosen ? tones.amberText : tones.ink;
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={t`${planned ? t`Agreed` : t`Proposed`} visit, ${visit.vehicle}, ${visit.names.join(', ').toLowerCase()}, ${date(dayAfter(today, day))}`}
      aria-pressed={chosen}
      style={{ cursor: may ? 'ew-resize' : 'pointer', outlineOffset: 3 }}
      onPointerDown={(e) => {
        e.preventDefault();
        (e.currentTarget as SVGGElement).focus();
        hold();
      }}
      onFocus={() => nudge(0)}
      onKeyDown={(e) => {
        const by: { [k: string]: number } = { ArrowLeft: e.shiftKey ? -7 : -1, ArrowRight: e.shiftKey ? 7 : 1 };
        if (e.key === 'Enter') agree();
        else if (by[e.key] !== undefined) nudge(by[e.key] ?? 0);
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}>
      <rect x={a - 4} y={at - 12} width={b - a + 8} height={24} fill="transparent" />
      <path d={`M${a} ${at + 9}v-9H${b}v9`} fill="none" stroke={tone} strokeWidth={planned ? 3 : 1.8} strokeDasharray={planned ? undefined : '5 4'} />
      <path d={`M${x - 8} ${at}h16l-8 11z`} fill={planned ? (visit.done ? tones.soft : tone) : tones.paper} stroke={tone} strokeWidth={2} />
      {visit.done && <text x={x} y={at - 3} textAnchor="middle" fontSize={13} fill={tones.soft}>{t`done`}</text>}
    </g>
  );
}

function Loads({ horizon, span }: { horizon: Horizon; span: number }) {
  const { tones } = useTheme();
  const most = Math.max(...horizon.loads.map((l) => Math.max(l.hours, l.taken)), 1);
  const w = Math.max(1.2, placeOf(1, span) - placeOf(0, span) - (span > 100 ? 0.4 : 2));
  return (
    <g>
      <text x={LEFT - 10} y={TOP - 8} textAnchor="end" fontSize={13} fill={tones.soft}>{t`bay hours`}</text>
      {horizon.loads.slice(0, span).map((l, k) => {
        const h = (v: number) => (v / most) * 22;
        const x = placeOf(k, span);
        return (
          <g key={l.on}>
            {l.hours === 0 && <rect x={x} y={TOP - 26} width={w} height={22} fill={tones.pan} />}
            {l.taken > 0 && <rect x={x} y={TOP - 4 - h(l.taken)} width={w} height={h(l.taken)} fill={l.taken > l.hours ? tones.red : tones.ink} />}
          </g>
        );
      })}
    </g>
  );
}

/** Something to be looked at again that no visit takes along: an eye at its day. */
function Eye({ look, x, y }: { look: Row['looks'][number]; x: number; y: number }) {
  const { tones } = useTheme();
  const tone = look.stop ? tones.red : tones.ink;
  return (
    <g>
      <title>{t`Look again: ${look.compartment.toLowerCase()}, ${look.what}, ${date(look.on)}`}</title>
      <path d={`M${x - 9} ${y}q9 -9 18 0q-9 9 -18 0z`} fill={tones.paper} stroke={tone} strokeWidth={1.8} />
      <circle cx={x} cy={y} r={2.6} fill={tone} />
    </g>
  );
}

/** A visit that is held, and the day from today at which it stands. */
export type Held = { visit: Visit; day: number; bay?: number | null; note?: string; technician?: number | null };

export function Picture({
  horizon,
  span,
  held,
  setHeld,
  agree,
}: {
  horizon: Horizon;
  span: number;
  held: Held | null;
  setHeld: (h: Held | null) => void;
  agree: (h: Held) => void;
}) {
  const { tones } = useTheme();
  const frame = useRef<SVGSVGElement>(null);
  const dragging = useRef(false);
  const lead = useMay('lead');
  const { today } = horizon;
  const height = TOP + horizon.rows.length * ROW + 8;
  const line = LEFT + PAST;
  const dayOf = (v: Visit) => (held && visitKey(held.visit) === visitKey(v) ? held.day : daysBetween(today, v.on));
  return (
    <Box sx={{ overflowX: 'auto' }}>
      <svg
        ref={frame}
        viewBox={`0 0 ${WIDTH} ${height}`}
        width="100%"
        style={{ minWidth: 960, display: 'block', touchAction: 'pan-y' }}
        role="group"
        aria-label={t`Due horizon`}
        onPointerMove={(e) => {
          const box = frame.current?.getBoundingClientRect();
          if (!dragging.current || !held || !box || !lead) return;
          setHeld({ ...held, day: dayAt(((e.clientX - box.left) / box.width) * WIDTH, span) });
        }}
        onPointerUp={() => {
          dragging.current = false;
        }}
        onPointerLeave={() => {
          dragging.current = false;
        }}>
        {ticks(today, span).map((t) => (
          <g key={t.days}>
            <path d={`M${placeOf(t.days, span)} 20V${height}`} stroke={tones.line} />
            <text x={placeOf(t.days, span) + 4} y={16} fontSize={14} fill={tones.soft}>
              {t.label}
            </text>
          </g>
        ))}
        <Loads horizon={horizon} span={span} />
        <path d={`M${line} 20V${height}`} stroke={tones.amberText} strokeWidth={2.5} />
        <text x={line - 6} y={16} fontSize={14} fontWeight={700} textAnchor="end" fill={tones.amberText}>{t`today`}</text>
        {horizon.rows.map((row, k) => {
          const y = TOP + k * ROW;
          return (
            <g key={row.vehicle_id}>
              <path d={`M0 ${y}H${WIDTH}`} stroke={tones.line} />
              <text x={0} y={y + 36} fontSize={16} fontWeight={700} fill={tones.ink}>
                {row.vehicle.length > 17 ? `${row.vehicle.slice(0, 16)}…` : row.vehicle}
              </text>
              {row.wants_reading && <text x={0} y={y + 53} fontSize={13} fill={tones.amberText}>{t`reading wanted`}</text>}
              {row.looks.map((x) => (
                <Eye key={x.id} look={x} x={placeOf(daysBetween(today, x.on), span)} y={y + 50} />
              ))}
              <RowMarks row={row} today={today} span={span} y={y} />
              {[...row.planned, ...row.proposed]
                .filter((v) => daysBetween(today, v.on) <= span)
                .map((v) => (
                  <Bracket
                    key={visitKey(v)}
                    visit={v}
                    row={row}
                    today={today}
                    span={span}
                    y={y}
                    day={dayOf(v)}
                    chosen={held !== null && visitKey(held.visit) === visitKey(v)}
                    may={lead}
                    hold={() => {
                      dragging.current = lead;
                      setHeld({ visit: v, day: dayOf(v) });
                    }}
                    nudge={(by) => setHeld({ visit: v, day: Math.max(0, dayOf(v) + (lead ? by : 0)) })}
                    agree={() => agree({ visit: v, day: dayOf(v) })}
                  />
                ))}
            </g>
          );
        })}
      </svg>
    </Box>
  );
}
