/** What stands beside a sight glass: what is left, or why nothing is. */
import { t } from '@lingui/core/macro';
import type { Schemas } from '../app/api';
import { nearDate, type useShow } from '../app/session';

type Show = ReturnType<typeof useShow>['show'];

export function glassNote(c: Schemas['CompartmentDue'], meter: string, today: string, show: Show): string {
  if (c.state === 'stop') return t`do not drive`;
  if (c.state === 'repair') return t`to be mended`;
  if (c.in_service !== null) return t`in the bay`;
  if (c.state === 'unknown') return t`no record`;
  if (c.limit === 'none' || c.left === null) return c.on ? nearDate(c.on, today) : t`no limit`;
  const over = c.left < 0;
  if (!ON_METER.includes(c.limit)) return over ? t`${Math.abs(Math.round(c.left))} days over` : c.on ? nearDate(c.on, today) : '';
  const amount = show(Math.abs(c.left), meter === 'h' ? 'engine_hours' : 'distance');
  return over ? t`${amount} over` : amount;
}

/** The limits of which what is left is told in km or h, not in days. */
export const ON_METER = ['distance', 'hours', 'finding-run'];
