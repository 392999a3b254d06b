/** Days to places on the horizon, and marks set apart where they would lie on each other. */
export const DAY_MS = 86_400_000;
export const PAST = 54; // room left of today, where what is overdue piles up
export const LEFT = 150;
export const WIDTH = 1170;

export const daysBetween = (from: string, to: string): number => Math.round((Date.parse(to) - Date.parse(from)) / DAY_MS);
export const dayAfter = (from: string, days: number): string => new Date(Date.parse(from) + days * DAY_MS).toISOString().slice(0, 10);

/** Where a day stands; what lies before today is squeezed into the strip left of it. */
export function placeOf(days: number, span: number): number {
  const today = LEFT + PAST;
  if (days < 0) return today - 8 - Math.min(PAST - 16, Math.log1p(-days) * 7);
  return today + (Math.min(days, span) / span) * (WIDTH - today - 14);
}

/** The day at a place, today at the earliest. */
export function dayAt(x: number, span: number): number {
  const today = LEFT + PAST;
  return Math.max(0, Math.min(span, Math.round(((x - today) / (WIDTH - today - 14)) * span)));
}

/** Lanes for marks in order of their places, so that no two of one lane are nearer than a glass is wide. */
export function lanes(xs: readonly number[], apart: number, most = 3): number[] {
  const ends: number[] = [];
  return xs.map((x) => {
    for (let lane = 0; lane < most; lane++) {
      if ((ends[lane] ?? Number.NEGATIVE_INFINITY) + apart <= x) {
        ends[lane] = x;
        return lane;
      }
    }
    const lane = ends.indexOf(Math.min(...ends));
    ends[lane] = x;
    return lane;
  });
}

/** First days of months within a span, or weeks' Mondays when it is short. */
export function ticks(today: string, span: number): { days: number; label: string }[] {
  const found: { days: number; label: string }[] = [];
  const short = span <= 45;
  const label = new Intl.DateTimeFormat('en-GB', short ? { weekday: 'short', day: 'numeric', month: span > 10 ? 'short' : undefined } : { month: 'short' });
  for (let k = 0; k <= span; k++) {
    const d = new Date(Date.parse(today) + k * DAY_MS);
    const hit = span <= 10 ? true : short ? d.getUTCDay() === 1 : d.getUTCDate() === 1;
    if (hit) found.push({ days: k, label: label.format(d) });
  }
  return found;
}
