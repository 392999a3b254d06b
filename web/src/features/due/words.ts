/** What stands under a glass and beside a vehicle: the figure first, then the limit. */
import { t } from '@lingui/core/macro';
import type { Schemas } from '../../app/api';
import { nearDate, type useShow } from '../../app/session';
import { ON_METER } from '../../ui/glassNote';

type Show = ReturnType<typeof useShow>['show'];

export const LIMITS: Record<string, string> = {
  distance: t`by distance`,
  hours: t`by hours`,
  time: t`by time`,
  counter: t`by its counter`,
  'engine oil': t`with the engine oil`,
  season: t`before the season`,
  warranty: t`once the warranty is over`,
  finding: t`after what was found, by the day`,
  'finding-run': t`after what was found, by its meter`,
};

/** The same beside a picture, where "by" goes without saying. */
export const SHORT: Record<string, string> = { ...LIMITS, distance: t`distance`, hours: t`hours`, time: t`time`, counter: t`its counter` };

/** A whole sentence on when a compartment is due and why. */
export function dueSentence(c: Schemas['CompartmentDue'], meter: string, today: string, show: Show): string {
  if (c.state === 'stop') return t`Stop verdict: it must not be driven until the lead has cleared it.`;
  if (c.state === 'unknown') return t`No trace of an oil change: unknown counts as due now.`;
  if (c.limit === 'none') return t`No interval is set on its sheet.`;
  const kind = meter === 'h' ? 'engine_hours' : 'distance';
  const when = c.on ? nearDate(c.on, today) : t`no date`;
  const [early, late] = [c.earliest ? nearDate(c.earliest, today) : '', c.latest ? nearDate(c.latest, today) : ''];
  const spread = early && late && early !== late ? t` (between ${early} and ${late})` : '';
  const limit = LIMITS[c.limit] ?? c.limit;
  if (c.held_until) return t`Left closed under warranty, then due: ${when}. ${c.basis}.`;
  const amount = !ON_METER.includes(c.limit) || c.left === null ? '' : c.left < 0 ? t`, ${show(-c.left, kind)} over` : t`, ${show(c.left, kind)} left`;
  const why = c.why.map((w) => ` ${w}.`).join('');
  return t`${c.used > 1 ? t`Overdue` : t`Due`} ${limit}: ${when}${spread}${amount}. Interval from ${c.basis}.${why}`;
}

/** How much a vehicle runs: over the year, or in its season. */
export function rateWords(v: Schemas['VehicleDue'], show: Show): string {
  const rate = v.meter === 'h' ? t`${(v.per_day_in_use * 7).toFixed(1)} h a week` : t`${show(v.per_day_in_use, 'distance')} a day`;
  return v.season ? `${rate}, ${v.season}` : rate;
}

const NUMBERS = ['none', 'one', 'two', 'three', 'four', 'five', 'six'];

/** What is proposed for a vehicle. */
export function proposal(v: Schemas['VehicleDue']): string {
  const names = v.compartments.filter((c) => v.together.includes(c.id));
  if (v.state === 'stop') return t`Stopped: lead must clear it`;
  if (!names.length) {
    const mend = v.compartments.filter((c) => c.state === 'repair');
    if (mend.length) return t`To be mended: ${mend.map((c) => c.name.toLowerCase()).join(', ')}`;
    const next = v.compartments.filter((c) => c.on && c.in_service === null).sort((a, b) => (a.on ?? '').localeCompare(b.on ?? ''))[0];
    return next?.on ? t`Next: ${next.name.toLowerCase()}` : t`Nothing due`;
  }
  if (names.length > 1) return t`${NUMBERS[names.length] ?? names.length} together`;
  return names[0]?.state === 'unknown' ? t`No trace: ${names[0].name.toLowerCase()}` : (names[0]?.name ?? '');
}
