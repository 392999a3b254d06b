import type { Schemas } from '../../../app/api';

export type Band = Schemas['ScaleBand'];

/** The grades of the other scales that lie beside a band. */
export function beside(scales: Schemas['Scale'][], of: string, band: Band): string[] {
  return scales
    .filter((s) => s.name !== of)
    .flatMap((s) => s.bands.filter((b) => b.bottom < band.top && b.top > band.bottom).map((b) => `${s.name} ${b.name}`));
}

/** Where a band is drawn in its column, as [from, width] in shares: bands that share viscosities stand half beside each other. */
export function lanes(bands: readonly Band[]): Record<string, readonly [number, number]> {
  const shared = (a: Band, b: Band) => Math.min(a.top, b.top) - Math.max(a.bottom, b.bottom) > 0.02 * (a.top - a.bottom);
  const placed: Record<string, readonly [number, number]> = {};
  let lane = 0;
  for (const b of bands) {
    const crowded = bands.some((o) => o !== b && shared(o, b));
    placed[b.name] = crowded ? [lane / 2, 0.5] : [0, 1];
    lane = crowded ? 1 - lane : 0;
  }
  return placed;
}
