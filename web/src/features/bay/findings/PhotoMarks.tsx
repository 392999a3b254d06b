/** A photo with round marks on it: dragged by hand, or moved by the arrow keys; + and − change a mark's size. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import { useRef } from 'react';
import type { Schemas } from '../../../app/api';

export type Mark = { key: string; name: string; letter: string; x: number; y: number; r: number };
type Props = { photo: Schemas['PhotoView']; marks: readonly Mark[]; move: (mark: Mark) => void; resize?: boolean };

const clamp = (v: number) => Math.min(1, Math.max(0, v));
const STEP = 0.01;

export function PhotoMarks({ photo, marks, move, resize = false }: Props) {
  const { tones } = useTheme();
  const frame = useRef<SVGSVGElement>(null);
  const held = useRef('');
  const [w, h] = [photo.width, photo.height];
  const small = Math.min(w, h);
  const at = (e: React.PointerEvent) => {
    const box = frame.current?.getBoundingClientRect();
    return box ? { x: clamp((e.clientX - box.left) / box.width), y: clamp((e.clientY - box.top) / box.height) } : { x: 0, y: 0 };
  };
  const nudge = (e: React.KeyboardEvent, mark: Mark) => {
    const by: { [k: string]: Partial<Mark> } = {
      ArrowLeft: { x: clamp(mark.x - STEP) },
      ArrowRight: { x: clamp(mark.x + STEP) },
      ArrowUp: { y: clamp(mark.y - STEP) },
      ArrowDown: { y: clamp(mark.y + STEP) },
      '+': { r: Math.min(0.5, mark.r * 1.1) },
      '-': { r: Math.max(0.004, mark.r / 1.1) },
    };
    const change = by[e.key];
    if (!change) return;
    e.preventDefault();
    e.stopPropagation();
    move({ ...mark, ...change });
  };
  return (
    <Box sx={{ position: 'relative', lineHeight: 0, justifySelf: 'center', maxWidth: '100%' }}>
      <Box
        component="img"
        src={photo.url}
        alt={photo.words}
        sx={{ maxWidth: '100%', maxHeight: '48vh', aspectRatio: `${w} / ${h}`, display: 'block' }}
        draggable={false}
      />
      <svg
        ref={frame}
        viewBox={`0 0 ${w} ${h}`}
        style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', touchAction: 'none' }}
        role="group"
        aria-label={t`Marks on the photo`}
        onPointerMove={(e) => {
          const mark = marks.find((m) => held.current === m.key || held.current === `${m.key}.rim`);
          if (!mark) return;
          const p = at(e);
          if (held.current.endsWith('.rim')) move({ ...mark, r: Math.min(0.5, Math.max(0.01, Math.hypot((p.x - mark.x) * w, (p.y - mark.y) * h) / small)) });
          else move({ ...mark, ...p });
        }}
        onPointerUp={() => {
          held.current = '';
        }}
        onPointerLeave={() => {
          held.current = '';
        }}>
        {marks.map((m) => {
          const [x, y, r] = [m.x * w, m.y * h, m.r * small];
          const grip = Math.max(r, small * 0.035);
          return (
            <g key={m.key}>
              <g
                role="button"
                tabIndex={0}
                aria-label={t`${m.name}: ${Math.round(m.x * 100)} % across, ${Math.round(m.y * 100)} % down. Arrow keys move it.`}
                style={{ cursor: 'grab' }}
                onKeyDown={(e) => nudge(e, m)}
                onPointerDown={(e) => {
                  held.current = m.key;
                  e.preventDefault();
                }}>
                <circle cx={x} cy={y} r={grip} fill="transparent" />
                <circle cx={x} cy={y} r={r} fill="none" stroke="#FFFFFF" strokeWidth={small / 110} />
                <circle cx={x} cy={y} r={r} fill="none" stroke="#18221F" strokeWidth={small / 260} />
                <rect x={x - small * 0.026} y={y - r - small * 0.068} width={small * 0.052} height={small * 0.054} rx={small * 0.01} fill="#18221F" />
                <text x={x} y={y - r - small * 0.028} textAnchor="middle" fontSize={small * 0.042} fontWeight={700} fill="#FFFFFF">
                  {m.letter}
                </text>
              </g>
              {resize && (
                <circle
                  cx={x + r}
                  cy={y}
                  r={small * 0.02}
                  fill={tones.amber}
                  stroke="#18221F"
                  strokeWidth={small / 300}
                  style={{ cursor: 'ew-resize' }}
                  onPointerDown={(e) => {
                    held.current = `${m.key}.rim`;
                    e.preventDefault();
                  }}
                />
              )}
            </g>
          );
        })}
      </svg>
    </Box>
  );
}

/** Which of the photos is read. */
export function PhotoPick({ photos, at, choose }: { photos: readonly Schemas['PhotoView'][]; at: string; choose: (id: string) => void }) {
  if (photos.length < 2) return null;
  return (
    <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }} role="group" aria-label={t`Which photo`}>
      {photos.map((p, k) => (
        <Box
          key={p.id}
          component="button"
          type="button"
          aria-pressed={p.id === at}
          aria-label={t`Photo ${k + 1}, ${p.words}`}
          onClick={() => choose(p.id)}
          sx={{ border: 3, borderColor: p.id === at ? 'text.primary' : 'divider', p: 0, borderRadius: 1, lineHeight: 0, cursor: 'pointer' }}>
          <Box component="img" src={p.small_url} alt="" sx={{ width: 72, height: 54, objectFit: 'cover' }} />
        </Box>
      ))}
    </Box>
  );
}
