/** What follows from what was seen, the gravest first: a mark for its kind, what it is, and by when. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { nearDate, useSession, useShow } from '../app/session';

export type Following = { kind: string; code: string; what: string; due_on: string | null; due_meter: number | null; factor?: number | null };

export const FOLLOW_WORDS: Record<string, string> = {
  stop: t`stop`,
  repair: t`to be mended`,
  'due-cap': t`sooner next change`,
  'look-again': t`to be looked at again`,
  ask: t`to be asked`,
  adopt: t`to be taken over`,
};

/** Barred = stop, an open jaw = to be mended, a filled half = a shorter interval, a ring with its pupil = look again, an arrow = take over. */
export function FollowMark({ kind }: { kind: string }) {
  const { tones } = useTheme();
  const tone = kind === 'stop' ? tones.red : kind === 'repair' ? tones.amberText : tones.ink;
  return (
    <svg viewBox="-12 -12 24 24" width={22} height={22} role="img" aria-label={FOLLOW_WORDS[kind] ?? kind} style={{ flex: 'none' }}>
      {kind === 'adopt' ? (
        <path d="M-9 0H6M1-6l6 6-6 6" fill="none" stroke={tone} strokeWidth={3} />
      ) : kind === 'repair' ? (
        <path d="M-3.5-9a9.5 9.5 0 1 0 7 0v7.5h-7z" fill="none" stroke={tone} strokeWidth={3} strokeLinejoin="round" />
      ) : (
        <circle r={9} fill="none" stroke={tone} strokeWidth={3} />
      )}
      {kind === 'stop' && <path d="M-6 6L6-6" stroke={tone} strokeWidth={3.4} />}
      {kind === 'due-cap' && <path d="M0-9a9 9 0 0 1 0 18z" fill={tone} />}
      {kind === 'look-again' && <circle r={3.4} fill={tone} />}
      {kind === 'ask' && (
        <text y={5} textAnchor="middle" fontSize={14} fontWeight={700} fill={tone}>
          ?
        </text>
      )}
    </svg>
  );
}

/** By which day or meter value, whichever comes first; a stop is at once. */
export function useBy(): (f: Following, meter: string) => string {
  const { show } = useShow();
  const today = useSession().data?.today ?? '';
  return (f, meter) => {
    if (f.kind === 'stop') return t`at once`;
    const at = f.due_meter === null ? '' : `at ${show(f.due_meter, meter === 'h' ? 'engine_hours' : 'distance')}`;
    if (f.due_on !== null && f.due_on <= today) return 'now';
    const on = f.due_on === null ? '' : t`by ${nearDate(f.due_on, today)}`;
    return [on, at].filter(Boolean).join(' or ');
  };
}

type Listed = Following & { closed?: string };

/** `act` may put under each what can be done about it. */
export function Follows<F extends Listed>({ list, meter, act }: { list: readonly F[]; meter: string; act?: (f: F) => ReactNode }) {
  const by = useBy();
  if (!list.length) return null;
  return (
    <Box component="ul" aria-label={t`What follows`} sx={{ listStyle: 'none', p: 0, m: 0, display: 'grid', gap: 0.5 }}>
      {list.map((f) => {
        const when = by(f, meter);
        const share = f.factor == null ? '' : t`${Math.round(f.factor * 100)} % of the usual interval`;
        return (
          <Box component="li" key={`${f.kind}${f.code}${f.what}`} sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>
            <FollowMark kind={f.kind} />
            <span>
              <Box component="b" sx={{ color: f.kind === 'stop' ? 'error.main' : undefined, textDecoration: f.closed ? 'line-through' : undefined }}>
                {f.what}
              </Box>
              {[share, when].filter(Boolean).map((w) => `, ${w}`)}.{f.closed ? t` Closed ${f.closed}` : ''}
              {act?.(f)}
            </span>
          </Box>
        );
      })}
    </Box>
  );
}
