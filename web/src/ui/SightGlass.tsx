/**
 * The sight glass: level is life left, colour the oil as last seen, specks the debris level, ring the state.
 * Ring: whole = fine, open at the top = soon, notched = due, broken = overdue, dotted with ? = unknown, barred = stop,
 * barred below = to be mended.
 */
import { t } from '@lingui/core/macro';
import { useTheme } from '@mui/material/styles';
import { useId } from 'react';
import { LEVEL_WORDS, oilColour, STATE_WORDS } from './oil';

export type GlassState = 'stop' | 'overdue' | 'due' | 'unknown' | 'repair' | 'soon' | 'fine';
export type GlassProps = { state: string; used: number; family?: string; colour?: string; level?: number | null; size?: 20 | 40 | 96; title?: string };

const FULL = 0.84;
const LOW = 0.2;
const R = 40;
const TURN = 2 * Math.PI * R;

/** Height of the oil as a share of the glass: full after a change, the low mark when due, almost nothing beyond. */
export function oilHeight(used: number): number {
  if (used <= 1) return LOW + (FULL - LOW) * (1 - Math.max(0, used));
  return Math.max(0.06, LOW - (used - 1) * 0.5);
}

const SPECKS: [number, number, number][] = [
  [-14, 31, 1.8],
  [3, 34, 1.6],
  [15, 29, 1.9],
  [-5, 28, 1.6],
  [-22, 25, 2],
  [9, 24, 2.2],
  [22, 22, 2.2],
  [-12, 21, 2.4],
  [0, 20, 2],
];

function Specks({ level, dark }: { level: number; dark: boolean }) {
  const tone = dark ? '#F6EFD9' : '#15100A';
  if (level <= 0) return null;
  const dots = SPECKS.slice(0, level === 1 ? 3 : level === 2 ? 6 : 9);
  return (
    <g fill={tone}>
      {dots.map(([x, y, r]) => (
        <circle key={`${x}${y}`} cx={x} cy={y} r={level >= 3 ? r * 1.15 : r} />
      ))}
      {level >= 3 && <path d="M-12 33l7-7 7 3-2 7z M10 34l4-8 8 2-3 6z" />}
      {level >= 4 && <path d="M-8 24l6-12 11 2 3 9-9 7z" />}
    </g>
  );
}

function ring(state: string): { dash?: string; turn?: number; width: number } {
  switch (state) {
    case 'soon':
      return { dash: `${TURN * 0.84} ${TURN * 0.16}`, turn: -90 + 0.08 * 360, width: 7 };
    case 'due':
      return { dash: `${TURN / 4 - 9} 9`, turn: 45 - (9 / TURN) * -180, width: 9 };
    case 'overdue':
      return { dash: `${TURN / 14} ${TURN / 28}`, turn: -90, width: 9 };
    case 'unknown':
      return { dash: '3.2 6.46', turn: 0, width: 5.5 };
    case 'stop':
      return { width: 10 };
    case 'repair':
      return { width: 8 };
    default:
      return { width: 6 };
  }
}

export function glassSentence({ state, used, colour, level }: GlassProps): string {
  const life = state === 'unknown' ? '' : used > 1 ? t`, interval used up` : t`, ${Math.round((1 - used) * 100)} % of the interval left`;
  const seen = colour ? t`, oil last seen ${colour}` : '';
  const debris = level === null || level === undefined ? '' : t`, debris ${level} (${LEVEL_WORDS[level] ?? ''})`;
  return `${STATE_WORDS[state] ?? state}${life}${seen}${debris}`;
}

export function SightGlass(props: GlassProps) {
  const { state, used, family = 'gear', colour = '', level = null, size = 40, title } = props;
  const { tones } = useTheme();
  const clip = useId();
  const oil = oilColour(family, colour);
  const alarm = state === 'stop' || state === 'overdue';
  const edge = alarm ? tones.red : state === 'due' || state === 'soon' || state === 'repair' ? tones.amberText : tones.ink;
  const { dash, turn = 0, width } = ring(state);
  const unknown = state === 'unknown';
  const top = R - 2 * R * oilHeight(used);
  const sentence = `${title ? `${title}: ` : ''}${glassSentence(props)}`;
  return (
    <svg viewBox="-50 -50 100 100" width={size} height={size} role="img" aria-label={sentence}>
      <defs>
        <clipPath id={clip}>
          <circle r={R - 1} />
        </clipPath>
      </defs>
      <circle r={R} fill={tones.glass} />
      {!unknown && (
        <g clipPath={`url(#${clip})`}>
          <rect x={-R} y={-R} width={2 * R} height={2 * R} fill={oil} opacity={0.2} />
          <rect x={-R} y={top} width={2 * R} height={2 * R} fill={oil} />
          <rect x={-R} y={top} width={2 * R} height={size === 20 ? 5 : 2.5} fill={tones.ink} opacity={0.4} />
          {size !== 20 && <Specks level={level ?? 0} dark={colour === 'black' || colour === 'dark brown'} />}
          {size !== 20 && <path d={`M${R - 12} ${R - 2 * R * LOW}h12`} stroke={tones.ink} strokeWidth={2.5} />}
        </g>
      )}
      <circle
        r={R}
        fill="none"
        stroke={edge}
        strokeWidth={width}
        strokeDasharray={dash}
        transform={`rotate(${turn})`}
        strokeLinecap={unknown ? 'round' : 'butt'}
      />
      {unknown && (
        <text y={16} textAnchor="middle" fontSize={46} fontWeight={700} fill={tones.ink}>
          ?
        </text>
      )}
      {state === 'repair' && <path d="M-16 44H16" stroke={edge} strokeWidth={12} />}
      {state === 'stop' && <path d="M-27 27L27 -27" stroke={edge} strokeWidth={10} />}
    </svg>
  );
}

/** The large glass with its parts named. */
export function NamedGlass(props: GlassProps & { caption?: string }) {
  const { tones } = useTheme();
  const unknown = props.state === 'unknown';
  const y = 48 + 38.4 - 76.8 * oilHeight(props.used);
  return (
    <svg viewBox="0 0 268 104" width={268} height={104} role="img" aria-label={`${props.title ?? ''} ${glassSentence(props)}`}>
      <g transform="translate(4 4)">
        <SightGlass {...props} size={96} />
      </g>
      <g stroke={tones.soft} strokeWidth={1} fill={tones.ink} fontSize={13}>
        {!unknown && <path d={`M88 ${y + 4}L112 ${Math.min(66, Math.max(30, y))}`} fill="none" />}
        <path d="M92 24L112 14" fill="none" />
        {!unknown && <path d="M62 86L112 94" fill="none" />}
        <g stroke="none">
          <text x={116} y={18}>
            {STATE_WORDS[props.state]?.split(':')[0]}
          </text>
          {!unknown && (
            <text x={116} y={Math.min(70, Math.max(34, y)) + 4}>
              {props.used > 1 ? t`life used up` : t`${Math.round((1 - props.used) * 100)} % left`}
              {props.colour ? `, ${props.colour}` : ''}
            </text>
          )}
          {!unknown && (
            <text x={116} y={99}>
              {props.level === null || props.level === undefined ? t`debris not looked at` : t`debris ${props.level}, ${LEVEL_WORDS[props.level] ?? ''}`}
            </text>
          )}
        </g>
      </g>
    </svg>
  );
}
