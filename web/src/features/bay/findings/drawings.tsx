/** Our own drawings of magnets and particles; forms are drawn to the scale bar of 2 mm. */
import { t } from '@lingui/core/macro';
import { useTheme } from '@mui/material/styles';

/** Points that look scattered and are the same every time. */
function scatter(n: number, w: number, h: number): [number, number][] {
  let seed = 9301;
  const next = () => {
    seed = (seed * 16807) % 2147483647;
    return seed / 2147483647;
  };
  return Array.from({ length: n }, () => [4 + next() * (w - 8), 3 + next() * (h - 6)]);
}

export function MagnetDrawing({ cover }: { cover: string }) {
  const { tones } = useTheme();
  const fuzz = '#3A3F3C';
  const spikes = cover === 'overflowing' ? 22 : 13;
  return (
    <svg width={72} height={54} viewBox="0 0 72 54" aria-hidden="true">
      <rect x={22} y={38} width={28} height={16} fill={tones.steel} stroke={tones.ink} strokeWidth={1.5} />
      <path d="M22 43h28M22 48h28" stroke={tones.ink} strokeWidth={0.7} />
      <rect x={28} y={30} width={16} height={8} fill={tones.soft} stroke={tones.ink} strokeWidth={1.5} />
      {cover === 'film' && <path d="M27 30q9 -4 18 0v2h-18z" fill={fuzz} />}
      {cover === 'cap' && <path d="M26 34c-2 -14 6 -18 10 -19c5 1 13 5 10 19z" fill={fuzz} />}
      {(cover === 'whiskers' || cover === 'overflowing') && (
        <g stroke={fuzz} strokeWidth={2.2} strokeLinecap="round">
          {Array.from({ length: spikes }, (_, k) => {
            const angle = Math.PI * (1.06 + (0.88 * k) / (spikes - 1)) + (cover === 'overflowing' ? (k % 3) * 0.06 : 0);
            const reach = (cover === 'overflowing' ? 24 : 17) + ((k * 7) % 5);
            return (
              <path key={k} d={`M${36 + 6 * Math.cos(angle)} ${30 + 5 * Math.sin(angle)}L${36 + reach * Math.cos(angle)} ${30 + reach * Math.sin(angle)}`} />
            );
          })}
          <circle cx={36} cy={26} r={9} fill={fuzz} />
          {cover === 'overflowing' && <path d="M24 36q-8 6 -10 14M48 36q8 6 10 14M30 38q-3 6 -4 12M44 38q3 5 4 12" fill="none" />}
        </g>
      )}
    </svg>
  );
}

export const METAL_TONES: Record<string, string> = {
  steel: '#5E6461',
  yellow: '#D9A514',
  aluminium: '#B9C0C2',
  'friction lining': '#4A3426',
  seal: '#20201F',
  unknown: '#8A8378',
};

/** The outline of one particle in a box of its own length and height. */
export function particlePath(form: string, w: number, h: number): string {
  const at = (x: number, y: number) => `${(x * w).toFixed(1)} ${(y * h).toFixed(1)}`;
  const through = (points: [number, number][]) => `M${points.map(([x, y]) => at(x, y)).join('L')}`;
  if (form === 'sliver') return `M${at(0, 0.62)}Q${at(0.5, 0.2)} ${at(1, 0.5)}`;
  if (form === 'flake')
    return `${through([
      [0, 0.5],
      [0.2, 0.12],
      [0.62, 0],
      [1, 0.32],
      [0.82, 0.86],
      [0.34, 1],
    ])}z`;
  if (form === 'part')
    return `${through([
      [0, 1],
      [0.02, 0.62],
      [0.16, 0.55],
      [0.22, 0.1],
      [0.36, 0],
      [0.44, 0.55],
      [0.58, 0.55],
      [0.66, 0.05],
      [0.8, 0.05],
      [0.88, 0.58],
      [1, 0.7],
      [0.97, 1],
    ])}z`;
  return `${through([
    [0, 0.75],
    [0.08, 0.2],
    [0.4, 0],
    [0.86, 0.14],
    [1, 0.55],
    [0.9, 0.95],
    [0.4, 1],
  ])}z${through([
    [0.08, 0.2],
    [0.42, 0.42],
    [0.86, 0.14],
  ])}M${at(0.42, 0.42)}L${at(0.4, 1)}`;
}

const UNITS_PER_MM = 9;

/** 2 mm are 18 units of the drawing; what is larger than the tile is drawn as large as the tile. */
export function FormDrawing({ form, metal, size = 1, count = 1 }: { form: string; metal: string; size?: number; count?: number }) {
  const { tones } = useTheme();
  const fill = METAL_TONES[metal] ?? tones.soft;
  const shown = Math.min(count, 10);
  const w = Math.min(46, size * UNITS_PER_MM);
  const h = Math.min(30, w * 0.62);
  const shapes: Record<string, React.ReactNode> = {
    nothing: null,
    paste: (
      <g opacity={0.85} fill={fill}>
        {scatter(60, 72, 32).map(([x, y]) => (
          <circle key={`${x}`} cx={x} cy={y} r={0.7} />
        ))}
      </g>
    ),
    glitter: (
      <g stroke={fill} strokeWidth={metal === 'yellow' ? 1.6 : 1}>
        {scatter(count > 10 ? 22 : 7, 72, 30).map(([x, y]) => (
          <path key={`${x}`} d={`M${x - 2} ${y}h4M${x} ${y - 2}v4`} />
        ))}
      </g>
    ),
  };
  const pieces =
    form in shapes ? (
      shapes[form]
    ) : (
      <g fill={form === 'sliver' ? 'none' : fill} stroke={form === 'sliver' ? fill : tones.ink} strokeWidth={form === 'sliver' ? 1.6 : 0.8}>
        {scatter(shown, 72 - w, 34 - h).map(([x, y]) => (
          <path key={`${x}`} transform={`translate(${shown === 1 ? 36 - w / 2 : x} ${shown === 1 ? 17 - h / 2 : y})`} d={particlePath(form, w, h)} />
        ))}
      </g>
    );
  return (
    <svg width={72} height={44} viewBox="0 0 72 44" aria-hidden="true">
      {pieces}
      <path d="M50 38v4M50 40h18M68 38v4" stroke={tones.soft} strokeWidth={1} />
      <text x={47} y={43} fontSize={9} textAnchor="end" fill={tones.soft}>{t`2 mm`}</text>
    </svg>
  );
}
