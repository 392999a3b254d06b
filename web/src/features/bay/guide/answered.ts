/** What a step is noted with: a list is so as it stands, but for what was tapped; a plug is closed as asked, but for what was tapped. */
import type { Step, Values } from './service';

const named = (value: unknown): string[] => (Array.isArray(value) ? (value as string[]) : []);

/** What of a step was tapped as not so. */
export const notSo = (draft: Values): string[] => named(draft.not_so);

/** What of a step is so unless it is tapped: its list, and how its plug is closed. */
export function listOf(step: Step): string[] {
  if (step.checks) return [];
  const closed = step.kind === 'torque' ? step.fields.filter((f) => f.kind === 'bool').map((f) => f.label) : [];
  return [...step.checklist, ...closed];
}

export function answered(step: Step, draft: Values): Values {
  const denied = notSo(draft);
  const said: Values = { ...draft };
  if (!denied.length) delete said.not_so;
  delete said.free; // an amount that is typed is an act of its own
  delete said.from;
  if (step.checklist.length && !step.checks) said.ticked = [...step.checklist.filter((item) => !denied.includes(item)), ...named(draft.ticked)];
  if (step.kind === 'torque') {
    for (const f of step.fields) if (f.kind === 'bool') said[f.name] = !denied.includes(f.label);
    const sheet = step.fields.find((f) => f.name === 'torque_nm')?.default_number;
    if (said.torque_nm === undefined && sheet != null) said.torque_nm = sheet;
  }
  // Where there is one thing to see, going on says that it was seen.
  for (const f of step.fields)
    if (step.kind === 'level' && f.kind === 'choice' && f.choices.length === 1 && said[f.name] === undefined) said[f.name] = f.choices[0];
  return said;
}
