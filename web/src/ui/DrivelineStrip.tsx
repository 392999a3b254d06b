/** A vehicle front to rear as its oil compartments, joined by shafts, each a sight glass where it really sits. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import { Link } from 'react-router';
import { LAYOUTS, placeOf } from './layouts';
import { SightGlass } from './SightGlass';

export type StripCompartment = {
  id: number;
  name: string;
  slot: string;
  state: string;
  used: number;
  family: string;
  colour: string;
  level: number | null;
  note: string;
};

const WIDTH = 640;

function Outline({ layout }: { layout: string }) {
  const { tones } = useTheme();
  const line = { fill: 'none', stroke: tones.ink, strokeWidth: 2.2 };
  const faint = { fill: 'none', stroke: tones.soft, strokeWidth: 1.6 };
  switch (layout) {
    case 'shaft motorcycle':
      return (
        <g>
          <circle cx={172} cy={46} r={34} {...line} />
          <circle cx={172} cy={46} r={4} fill={tones.ink} />
          <circle cx={468} cy={46} r={34} {...line} />
          <path d="M172 46L212 -2M206 4l-20 -6M212 10C260 -4 300 6 316 12L404 8L420 18L340 22L300 24L226 22z" {...faint} />
        </g>
      );
    case 'bicycle':
      return (
        <g>
          <circle cx={216} cy={46} r={36} {...line} />
          <circle cx={216} cy={46} r={4} fill={tones.ink} />
          <circle cx={430} cy={46} r={36} {...line} />
          <path d="M216 46L250 0M244 -2l-18 4M246 8L350 8M246 12L326 62L350 8L430 46L326 62M344 0h22" {...faint} />
          <circle cx={326} cy={62} r={10} {...faint} />
        </g>
      );
    case 'boat':
      return (
        <g>
          <path d="M84 14C110 60 150 78 220 80L540 80C556 60 562 40 566 16L330 20L318 2L250 2L238 18z" {...faint} />
          <path d="M560 52c14 -6 14 26 0 20c-14 6 -14 -26 0 -20z" {...line} />
          <path d="M580 46v34" {...line} />
          <path d="M60 66q14 -8 28 0M588 66q14 -8 28 0" {...faint} />
        </g>
      );
    case 'track machine':
      return (
        <g>
          <path d="M120 78q-14 0 -18 -10M106 78H226" {...line} />
          <path d="M176 78L214 30M214 30C240 4 290 4 318 12L340 14L520 12" {...faint} />
          <rect x={292} y={34} width={268} height={46} rx={23} {...line} />
          <circle cx={392} cy={64} r={9} {...faint} />
          <circle cx={452} cy={64} r={9} {...faint} />
          <circle cx={534} cy={57} r={14} {...faint} />
        </g>
      );
    default:
      return null;
  }
}

function Chassis({ layout, named }: { layout: string; named: boolean }) {
  const { tones } = useTheme();
  const plan = LAYOUTS[layout];
  if (!plan) return null;
  return (
    <g>
      {plan.axles.map((x) => (
        <g key={x} fill={tones.ink}>
          <rect x={x - 1.8} y={8} width={3.6} height={60} />
          <rect x={x - 16} y={1} width={32} height={10} rx={4} />
          <rect x={x - 16} y={65} width={32} height={10} rx={4} />
        </g>
      ))}
      {plan.shafts.map(([a, b]) => (
        <g key={`${a}${b}`}>
          <path d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`} stroke={tones.ink} strokeWidth={6} />
          <path d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`} stroke={tones.paper} strokeWidth={2} />
        </g>
      ))}
      {plan.engine && (
        <g transform={`translate(${plan.engine[0]} ${plan.engine[1]})`}>
          <path d="M-26 -15h52v30h-52z M-18 -15v-6h9v6 M-4 -15v-6h9v6 M10 -15v-6h9v6" fill={tones.pan} stroke={tones.soft} strokeWidth={1.6} />
          {named && <text y={5} textAnchor="middle" fontSize={13} fill={tones.soft}>{t`engine`}</text>}
        </g>
      )}
    </g>
  );
}

const TOP = 10; // room above the wheels
const LABEL = 84; // where the words begin, below the wheels
const TALL = 120;

/** Lines of words that would run into each other are set one lower. */
function staggered(xs: number[]): number[] {
  const order = xs.map((x, k) => [x, k] as const).sort((a, b) => a[0] - b[0]);
  const rows = xs.map(() => 0);
  for (let k = 1; k < order.length; k++) {
    const [x, at] = order[k] ?? [0, 0];
    const [before, prior] = order[k - 1] ?? [0, 0];
    if (x - before < 84 && rows[prior] === 0) rows[at] = 1;
  }
  return rows;
}

export function DrivelineStrip({ layout, compartments, to }: { layout: string; compartments: StripCompartment[]; to: (id: number) => string }) {
  const { tones } = useTheme();
  const places = compartments.map((c, k) => placeOf(layout, c.slot, k));
  const rows = staggered(places.map(([x]) => x));
  const tall = TALL + (rows.includes(1) ? 32 : 0);
  const engine = LAYOUTS[layout]?.engine;
  const onEngine = Boolean(engine && places.some(([x]) => Math.abs(x - engine[0]) < 30));
  const share = (y: number) => `${((y + TOP) / tall) * 100}%`;
  return (
    <Box sx={{ position: 'relative', width: '100%', maxWidth: WIDTH, aspectRatio: { sm: `${WIDTH} / ${tall}` }, height: { xs: tall + 14, sm: 'auto' } }}>
      <svg
        viewBox={`0 ${-TOP} ${WIDTH} ${tall}`}
        width="100%"
        height="100%"
        aria-hidden="true"
        style={{ position: 'absolute', inset: 0 }}
        preserveAspectRatio="none">
        <Outline layout={layout} />
        <Chassis layout={layout} named={!onEngine} />
      </svg>
      {compartments.map((c, k) => {
        const [x, y] = places[k] ?? [0, 0];
        const alarm = c.state === 'stop' || c.state === 'overdue';
        const across = `${(x / WIDTH) * 100}%`;
        return (
          <Box
            key={c.id}
            component={Link}
            to={to(c.id)}
            sx={{
              color: 'text.primary',
              textDecoration: 'none',
              '&:focus-visible': { outline: 0 },
              '&:focus-visible svg': { outline: `3px solid ${tones.amberText}`, outlineOffset: 3, borderRadius: '50%' },
            }}>
            <Box component="span" sx={{ position: 'absolute', left: across, top: share(y), transform: 'translate(-50%, -50%)', '& svg': { display: 'block' } }}>
              <SightGlass state={c.state} used={c.used} family={c.family} colour={c.colour} level={c.level} title={c.name} size={40} />
            </Box>
            <Box
              component="span"
              aria-hidden="true"
              sx={{
                position: 'absolute',
                left: across,
                top: share(LABEL + (rows[k] ?? 0) * 32),
                transform: 'translateX(-50%)',
                display: 'grid',
                textAlign: 'center',
                fontSize: { xs: 12, md: 13.5 },
                lineHeight: 1.15,
                whiteSpace: { xs: 'normal', sm: 'nowrap' },
                width: { xs: 74, sm: 'auto' },
              }}>
              <b>{c.name}</b>
              <Box component="span" sx={{ color: alarm ? tones.red : c.state === 'fine' ? tones.soft : tones.amberText }}>
                {c.note}
              </Box>
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
