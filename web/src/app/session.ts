/** Who is signed in, and how amounts are shown to them. */
import { t } from '@lingui/core/macro';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { ask, client, keepKey, type Schemas } from './api';

export type Session = Schemas['Session'];
export type Kind = 'volume' | 'mass' | 'distance' | 'duration' | 'engine_hours' | 'torque' | 'temperature' | 'length' | 'pressure';
const ROLES = ['viewer', 'technician', 'lead'];

export async function loadSession(): Promise<Session> {
  const session = await ask(client.GET('/api/session'));
  keepKey(session.csrf);
  writeDays(session);
  return session;
}

export function useSession() {
  return useQuery({ queryKey: ['session'], queryFn: loadSession, staleTime: Number.POSITIVE_INFINITY });
}

export function useKeepSession() {
  const cache = useQueryClient();
  return (session: Session) => {
    keepKey(session.csrf);
    writeDays(session);
    cache.setQueryData(['session'], session);
  };
}

export function useMay(role: 'viewer' | 'technician' | 'lead'): boolean {
  const { data } = useSession();
  return ROLES.indexOf(data?.role ?? '') >= ROLES.indexOf(role);
}

/** Digits in groups of three, as ISO 80000-1 has it; the space does not break. */
export function grouped(value: number, decimals: number, trim = false): string {
  const [whole = '', digits] = Math.abs(value).toFixed(decimals).split('.');
  const part = trim ? digits?.replace(/0+$/, '') : digits;
  const sign = value < 0 && Number(value.toFixed(decimals)) !== 0 ? '−' : '';
  return sign + whole.replace(/\B(?=(\d{3})+$)/g, '\u00a0') + (part ? `.${part}` : '');
}

export type Shown = { figure: string; unit: string };

export function showIn(units: Session['units'], value: number, kind: Kind): Shown {
  const unit = units.find((u) => u.kind === kind);
  if (!unit) return { figure: grouped(value, 0), unit: '' };
  const shown = value * unit.factor + unit.offset;
  const fine = Math.abs(shown) < unit.fine_below && Math.abs(shown * 10 - Math.round(shown * 10)) < 1e-6;
  return { figure: grouped(shown, unit.decimals + (fine ? 1 : 0), unit.trim || fine), unit: unit.label };
}

/** Shows canonical values in the person's units, by the table that the server gave. */
export function useShow() {
  const { data } = useSession();
  const units = data?.units ?? [];
  const parts = (value: number, kind: Kind) => showIn(units, value, kind);
  const show = (value: number | null | undefined, kind: Kind): string => {
    if (value === null || value === undefined) return 'unknown';
    const p = parts(value, kind);
    return `${p.figure}\u00a0${p.unit}`;
  };
  const label = (kind: Kind) => units.find((u) => u.kind === kind)?.label ?? '';
  return { show, parts, label };
}

export const DATE_WAYS = [
  { value: 'day first', label: t`4 May 2026` },
  { value: 'month first', label: t`May 4, 2026` },
  { value: 'year first', label: '2026-05-04' },
] as const;

/** How days are written, by the way of whoever is signed in. */
function formats(way: string) {
  const words = way === 'month first' ? 'en-US' : 'en-GB';
  const full =
    way === 'year first'
      ? new Intl.DateTimeFormat('sv-SE', { day: '2-digit', month: '2-digit', year: 'numeric' })
      : new Intl.DateTimeFormat(words, { day: 'numeric', month: 'short', year: 'numeric' });
  return {
    full,
    long: new Intl.DateTimeFormat(words, { weekday: 'long', day: 'numeric', month: 'long' }),
    short: new Intl.DateTimeFormat(words, { day: 'numeric', month: 'short' }),
    month: new Intl.DateTimeFormat(words, { month: 'short', year: 'numeric' }),
  };
}
let written = formats('day first');
const writeDays = (session: Session) => {
  written = formats(session.dates);
};
const CLOCK = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

export const date = (iso: string | null | undefined): string => (iso ? written.full.format(new Date(iso)) : 'unknown');
export const longDay = (iso: string): string => written.long.format(new Date(iso));
export const clockTime = (iso: string): string => CLOCK.format(new Date(iso));
/** Day and month in this year, with its year in another; far away the month alone. */
export function nearDate(iso: string, today: string): string {
  const far = Math.abs(Date.parse(iso) - Date.parse(today)) > 300 * 86_400_000;
  if (far) return written.month.format(new Date(iso));
  return iso.slice(0, 4) === today.slice(0, 4) ? written.short.format(new Date(iso)) : date(iso);
}
