/** What stands under a glass and beside a vehicle: the figure first, then the limit. */
import type { Schemas } from '../../app/api';
import { nearDate, type useShow } from '../../app/session';
import { ON_METER } from '../../ui/glassNote';

type Show = ReturnType<typeof useShow>['show'];

export const LIMITS: Record<string, string> = {
  distance: 'by distance',
  hours: 'by hours',
  time: 'by time',
  counter: 'by its counter',
  'engine oil': 'with the engine oil',
  season: 'before the season',
  warranty: 'once the warranty is over',
  finding: 'after what was found, by the day',
  'finding-run': 'after what was found, by its meter',
};

/** The same beside a picture, where "by" goes without saying. */
export const SHORT: Record<string, string> = { ...LIMITS, distance: 'distance', hours: 'hours', time: 'time', counter: 'its counter' };

/** A whole sentence on when a compartment is due and why. */
export function dueSentence(c: Schemas['CompartmentDue'], meter: string, today: string, show: Show): string {
  if (c.state === 'stop') return 'Stop verdict: it must not be driven until the lead has cleared it.';
  if (c.state === 'unknown') return 'No trace of an oil change: unknown counts as due now.';
  if (c.limit === 'none') return 'No interval is set on its sheet.';
  const kind = meter === 'h' ? 'engine_hours' : 'distance';
  const when = c.on ? nearDate(c.on, today) : 'no date';
  const [early, late] = [c.earliest ? nearDate(c.earliest, today) : '', c.latest ? nearDate(c.latest, today) : ''];
  const spread = early && late && early !== late ? ` (between ${early} and ${late})` : '';
  const limit = LIMITS[c.limit] ?? c.limit;
  if (c.held_until) return `Left closed under warranty, then due: ${when}. ${c.basis}.`;
  const amount = !ON_METER.includes(c.limit) || c.left === null ? '' : c.left < 0 ? `, ${show(-c.left, kind)} over` : `, ${show(c.left, kind)} left`;
  const why = c.why.map((w) => ` ${w}.`).join('');
  return `${c.used > 1 ? 'Overdue' : 'Due'} ${limit}: ${when}${spread}${amount}. Interval from ${c.basis}.${why}`;
}

/** How much a vehicle runs: over the year, or in its season. */
export function rateWords(v: Schemas['VehicleDue'], show: Show): string {
  const rate = v.meter === 'h' ? `${(v.per_day_in_use * 7).toFixed(1)} h a week` : `${show(v.per_day_in_use, 'distance')} a day`;
  return v.season ? `${rate}, ${v.season}` : rate;
}

const NUMBERS = ['none', 'one', 'two', 'three', 'four', 'five', 'six'];

/** What is proposed for a vehicle. */
export function proposal(v: Schemas['VehicleDue']): string {
  const names = v.compartments.filter((c) => v.together.includes(c.id));
  if (v.state === 'stop') return 'Stopped: lead must clear it';
  if (!names.length) {
    const mend = v.compartments.filter((c) => c.state === 'repair');
    if (mend.length) return `To be mended: ${mend.map((c) => c.name.toLowerCase()).join(', ')}`;
    const next = v.compartments.filter((c) => c.on && c.in_service === null).sort((a, b) => (a.on ?? '').localeCompare(b.on ?? ''))[0];
    return next?.on ? `Next: ${next.name.toLowerCase()}` : 'Nothing due';
  }
  if (names.length > 1) return `${NUMBERS[names.length] ?? names.length} together`;
  return names[0]?.state === 'unknown' ? `No trace: ${names[0].name.toLowerCase()}` : (names[0]?.name ?? '');
}
