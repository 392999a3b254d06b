/** Our own drawings of magnets and particles; forms are drawn to the scale bar of 2 mm. */
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

const METALS: Record<string, string> = { steel: '#5E6461', yellow: '#D9A514', aluminium: '#B9C0C2', 'friction lining': '#4A3426', seal: '#20201F' };

/** 2 mm are 22 units of the drawing. */
export function FormDrawing({ form, metal }: { form: string; metal: string }) {
  const { tones } = useTheme();
  const fill = METALS[metal] ?? tones.soft;
  const edge = { stroke: tones.ink, strokeWidth: 0.8 };
  const dots = (n: number, r: number) => scatter(n, 72, 36).map(([x, y], k) => <circle key={k} cx={x} cy={y} r={r} fill={fill} />);
  const shapes: Record<string, React.ReactNode> = {
    nothing: null,
    paste: <g opacity={0.85}>{dots(60, 0.7)}</g>,
    glitter: (
      <g stroke={fill} strokeWidth={1}>
        {scatter(16, 72, 36).map(([x, y], k) => (
          <path key={k} d={`M${x - 2} ${y}h4M${x} ${y - 2}v4`} />
        ))}
      </g>
    ),
    needles: <path d="M14 10l11 5M44 8l4 11M30 26l11 -3M56 24l-8 6" stroke={fill} strokeWidth={1.6} strokeLinecap="round" />,
    flakes: <path d="M16 14l7 -4l4 5l-4 6l-7 -1z M44 20l6 -5l6 3l-2 7l-8 1z" fill={fill} {...edge} />,
    chips: <path d="M20 24l4 -16l18 -4l12 10l-6 14l-20 4z M24 10l12 8l16 -3M36 18l-2 13" fill={fill} {...edge} />,
    part: <path d="M12 32v-10l8 -2l3 -12h8l3 12h10l3 -12h8l3 12l4 3v9z" fill={fill} {...edge} />,
    yellow: (
      <g>
        {scatter(6, 72, 34).map(([x, y], k) => (
          <path key={k} d={`M${x - 2} ${y - 1}l3 -2l2 3l-3 2z`} fill={fill} {...edge} />
        ))}
      </g>
    ),
    'yellow-many': (
      <g>
        {scatter(24, 72, 34).map(([x, y], k) => (
          <path key={k} d={`M${x - 2} ${y - 1}l3 -2l2 3l-3 2z`} fill={fill} {...edge} />
        ))}
      </g>
    ),
    aluminium: <path d="M18 12l6 -3l3 4l-4 4l-5 -1z M40 22l5 -4l5 3l-3 5z M54 10l4 -2l3 3l-3 3z" fill={fill} {...edge} />,
    fibres: <path d="M12 22q6 -8 10 0t10 -2M34 12q7 6 12 0t10 6M24 30q8 -6 14 -1" stroke={fill} strokeWidth={1.8} fill="none" />,
    seal: <path d="M16 20q4 -8 11 -5q3 4 -1 8q-6 4 -10 -3z M44 14q7 -4 12 1q-1 7 -7 7q-6 -2 -5 -8z" fill={fill} />,
  };
  return (
    <svg width={72} height={42} viewBox="0 0 72 42" aria-hidden="true">
      {shapes[form]}
      <path d="M46 37v4M46 39h22M68 37v4" stroke={tones.soft} strokeWidth={1} />
      <text x={43} y={41} fontSize={8} textAnchor="end" fill={tones.soft}>
        2 mm
      </text>
    </svg>
  );
}
