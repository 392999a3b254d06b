/** The due horizon: weeks to the right, a row a vehicle, each due day with its whisker, visits as brackets that are dragged to a day. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useTheme } from '@mui/material/styles';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { ask, client, type Schemas } from '../../app/api';
import { date, useMay, useShow } from '../../app/session';
import { Bones } from '../../ui/Bones';
import { Empty } from '../../ui/Empty';
import { oilColour } from '../../ui/oil';
import { Page } from '../../ui/Page';
import { SightGlass } from '../../ui/SightGlass';
import { Trouble } from '../../ui/Trouble';
import { BayHours } from './BayHours';
import { CalendarPanel } from './CalendarPanel';
import { dayAfter, dayAt, daysBetween, LEFT, lanes, PAST, placeOf, ticks, WIDTH } from './horizonScale';
import { YearTable } from './YearTable';

type Horizon = Schemas['Horizon'];
type Row = Horizon['rows'][number];
type Visit = Schemas['VisitView'];
const ZOOMS: [number, string][] = [
  [7, 'Week'],
  [31, 'Month'],
  [92, 'Quarter'],
  [183, 'Half year'],
  [366, 'Year'],
];
const WORDS: Record<number, string> = { 7: 'The next week', 31: 'The next month', 92: 'The next quarter', 183: 'The next half year', 366: 'The next year' };
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
      aria-label={`${planned ? 'Agreed' : 'Proposed'} visit, ${visit.vehicle}, ${visit.names.join(', ').toLowerCase()}, ${date(dayAfter(today, day))}`}
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
      {visit.done && (
        <text x={x} y={at - 3} textAnchor="middle" fontSize={13} fill={tones.soft}>
          done
        </text>
      )}
    </g>
  );
}

function Loads({ horizon, span }: { horizon: Horizon; span: number }) {
  const { tones } = useTheme();
  const most = Math.max(...horizon.loads.map((l) => Math.max(l.hours, l.taken)), 1);
  const w = Math.max(1.2, placeOf(1, span) - placeOf(0, span) - (span > 100 ? 0.4 : 2));
  return (
    <g>
      <text x={LEFT - 10} y={TOP - 8} textAnchor="end" fontSize={13} fill={tones.soft}>
        bay hours
      </text>
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
      <title>{`Look again: ${look.compartment.toLowerCase()}, ${look.what}, ${date(look.on)}`}</title>
      <path d={`M${x - 9} ${y}q9 -9 18 0q-9 9 -18 0z`} fill={tones.paper} stroke={tone} strokeWidth={1.8} />
      <circle cx={x} cy={y} r={2.6} fill={tone} />
    </g>
  );
}

type Held = { visit: Visit; day: number };

function Picture({
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
        style={{ minWidth: 760, display: 'block', touchAction: 'pan-y' }}
        role="group"
        aria-label="Due horizon"
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
        <text x={line - 6} y={16} fontSize={14} fontWeight={700} textAnchor="end" fill={tones.amberText}>
          today
        </text>
        {horizon.rows.map((row, k) => {
          const y = TOP + k * ROW;
          return (
            <g key={row.vehicle_id}>
              <path d={`M0 ${y}H${WIDTH}`} stroke={tones.line} />
              <text x={0} y={y + 36} fontSize={16} fontWeight={700} fill={tones.ink}>
                {row.vehicle.length > 17 ? `${row.vehicle.slice(0, 16)}…` : row.vehicle}
              </text>
              {row.wants_reading && (
                <text x={0} y={y + 53} fontSize={13} fill={tones.amberText}>
                  reading wanted
                </text>
              )}
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

/** What the chosen day means, and the acts on the visit. */
function Chosen({ held, today, agree, drop, busy, error }: { held: Held; today: string; agree: () => void; drop: () => void; busy: boolean; error: unknown }) {
  const { show } = useShow();
  const lead = useMay('lead');
  const mayWork = useMay('technician');
  const { visit, day } = held;
  const on = dayAfter(today, day);
  const body = { vehicle_id: visit.vehicle_id, on, compartments: visit.compartments, visit_id: visit.id, note: '' };
  const trial = useQuery({
    queryKey: ['visit-trial', body],
    queryFn: () => ask(client.POST('/api/plan/visits/trial', { body })),
    placeholderData: (old) => old,
    retry: false,
  });
  const t = trial.data;
  const moved = on !== visit.on;
  const planned = visit.id !== null;
  return (
    <Box
      role="status"
      aria-label="The chosen visit"
      sx={{
        bgcolor: (theme) => theme.tones.pan,
        borderRadius: 2,
        p: 2,
        position: 'sticky',
        bottom: 8,
        border: 2,
        borderColor: 'text.primary',
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: '1fr auto' },
        alignItems: 'start',
      }}>
      <Box sx={{ display: 'grid', gap: 0.5 }}>
        <Box>
          <Box component="b" sx={{ typography: 'h3' }}>
            {visit.vehicle}, {date(on)}
          </Box>{' '}
          {planned ? (visit.done ? 'done' : 'agreed') : 'proposed'} · {t ? `${t.hours.toFixed(1)} h` : ''}
          {t?.bay ? ` in bay ${t.bay}` : ''} · {visit.oils.join(', ')}
        </Box>
        {t?.effects.map((e) => (
          <span key={e.compartment_id}>
            {e.name}:{' '}
            {e.over ? (
              <b>
                {-e.early_days} {e.early_days === -1 ? 'day' : 'days'} over
              </b>
            ) : e.early_days === 0 ? (
              'as it falls due'
            ) : (
              `${e.early_days} ${e.early_days === 1 ? 'day' : 'days'} early, throws away ${Math.round(e.thrown_share * 100)} % of its life, ${show(e.thrown_ml, 'volume')}`
            )}
          </span>
        ))}
        {t?.looks.map((x) => (
          <span key={x.id}>
            Rides along: {x.compartment.toLowerCase()}, {x.what}
          </span>
        ))}
        {t?.problem && <Box sx={{ color: 'error.main', fontWeight: 700 }}>{t.problem}</Box>}
        <Trouble error={error ?? trial.error} />
      </Box>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', justifyContent: 'end' }}>
        {lead && !visit.done && (!planned || moved) && (
          <Button variant="contained" disabled={busy || Boolean(t?.problem)} onClick={agree}>
            {planned ? 'Move it here' : 'Agree this visit'}
          </Button>
        )}
        {lead && planned && !visit.done && (
          <Button variant="text" disabled={busy} onClick={drop}>
            Drop it
          </Button>
        )}
        {mayWork && !visit.done && (
          <Button variant="outlined" component={Link} to={`/bay/start/${visit.vehicle_id}?c=${visit.compartments.join(',')}`}>
            Start it now
          </Button>
        )}
        {!visit.done && (
          <Button variant="text" component={Link} to={`/shelf/shopping?c=${visit.compartments.join(',')}`}>
            What to buy
          </Button>
        )}
      </Box>
    </Box>
  );
}

export function HorizonPage() {
  const [span, setSpan] = useState(183);
  const [held, setHeld] = useState<Held | null>(null);
  const [sheet, setSheet] = useState<'' | 'calendar' | 'bay'>('');
  const lead = useMay('lead');
  const { show } = useShow();
  const cache = useQueryClient();
  const horizon = useQuery({
    queryKey: ['horizon', span],
    queryFn: () => ask(client.GET('/api/plan/horizon', { params: { query: { days: span } } })),
    placeholderData: (old) => old,
  });
  const settled = async () => {
    setHeld(null);
    await cache.invalidateQueries({ queryKey: ['horizon'] });
    await cache.invalidateQueries({ queryKey: ['visit-trial'] });
  };
  const agree = useMutation({
    mutationFn: ({ visit, day }: Held) => {
      const on = dayAfter(horizon.data?.today ?? '', day);
      return visit.id === null
        ? ask(client.POST('/api/plan/visits', { body: { vehicle_id: visit.vehicle_id, on, compartments: visit.compartments, note: '' } }))
        : ask(client.PATCH('/api/plan/visits/{visit}', { params: { path: { visit: visit.id } }, body: { on } }));
    },
    onSuccess: settled,
  });
  const drop = useMutation({
    mutationFn: (visit: number) => ask(client.DELETE('/api/plan/visits/{visit}', { params: { path: { visit } } })),
    onSuccess: settled,
  });
  if (horizon.isPending) return <Bones lines={8} />;
  if (!horizon.data) return <Trouble error={horizon.error} again={() => horizon.refetch()} />;
  const h = horizon.data;
  const choose = (next: Held | null) => {
    if (next && held && visitKey(next.visit) !== visitKey(held.visit)) {
      agree.reset();
      drop.reset();
    }
    setHeld(next);
  };
  return (
    <Page
      title={WORDS[span] ?? 'The horizon'}
      note={`${h.text}; ${show(h.savings.thrown_ml, 'volume')} thrown away early`}
      right={
        <Box role="group" aria-label="How far ahead" sx={{ display: 'flex', gap: 0.5 }}>
          {ZOOMS.map(([days, words]) => (
            <Button
              key={days}
              variant={span === days ? 'contained' : 'text'}
              aria-pressed={span === days}
              onClick={() => setSpan(days)}
              sx={{ px: 1.25, minWidth: 0 }}>
              {words}
            </Button>
          ))}
        </Box>
      }>
      <CalendarPanel open={sheet === 'calendar'} close={() => setSheet('')} />
      <BayHours open={sheet === 'bay'} close={() => setSheet('')} today={h.today} />
      {!h.rows.length ? (
        <Empty title="Nothing falls due">
          <span>Within this time nothing falls due. Look further ahead, or add vehicles and readings.</span>
        </Empty>
      ) : (
        <>
          <Picture horizon={h} span={span} held={held} setHeld={choose} agree={(next) => agree.mutate(next)} />
          {held ? (
            <Chosen
              held={held}
              today={h.today}
              agree={() => agree.mutate(held)}
              drop={() => held.visit.id !== null && drop.mutate(held.visit.id)}
              busy={agree.isPending || drop.isPending}
              error={agree.error ?? drop.error}
            />
          ) : (
            <Box sx={{ color: 'text.secondary' }}>
              A dashed bracket is a proposed visit, a solid one is agreed. Drag it to a day, or choose it and use the arrow keys (with Shift a week); Enter
              agrees.
              <Box
                component="span"
                sx={{ display: 'inline-block', width: 14, height: 14, borderRadius: 7, bgcolor: oilColour('gear', 'brown'), ml: 2, mr: 0.5 }}
              />{' '}
              due, with its P10 and P90.
            </Box>
          )}
          <Box sx={{ display: 'flex', gap: 1 }}>
            <Button variant="outlined" onClick={() => setSheet('calendar')}>
              Calendar
            </Button>
            {lead && (
              <Button variant="outlined" onClick={() => setSheet('bay')}>
                Bay hours
              </Button>
            )}
          </Box>
          {h.matching > h.rows.length && (
            <Box sx={{ color: 'text.secondary' }}>
              The {h.rows.length} soonest of {h.matching} vehicles are shown; visits and hours count all.
            </Box>
          )}
          {span > 100 && <YearTable months={h.months} oils={h.oils} />}
          {h.unfit.map((u) => (
            <Box key={u} sx={{ color: 'error.main' }}>
              {u}
            </Box>
          ))}
        </>
      )}
    </Page>
  );
}
