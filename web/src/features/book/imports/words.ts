/** What of a spreadsheet is called what. */
import { t } from '@lingui/core/macro';
import type { Schemas } from '../../../app/api';

export type View = Schemas['ImportView'];
export type Row = Schemas['RowView'];

/** How a row stands: its word, and whether it waits for an answer. */
export const STATES: Record<string, { one: string; waits: boolean }> = {
  problem: { one: t`to repair`, waits: true },
  doubt: { one: t`to be explained`, waits: true },
  new: { one: t`to take in`, waits: false },
  known: { one: t`in the book already`, waits: false },
  twice: { one: t`twice in the file`, waits: false },
  skipped: { one: 'skipped', waits: false },
  total: { one: t`total lines`, waits: false },
  nothing: { one: t`with nothing in them`, waits: false },
};
const PLURAL: Record<string, string> = { change: 'changes', oil: 'oils' };

export const counted = (list: readonly Schemas['CountView'][]) =>
  list.map((c) => `${c.count} ${c.count === 1 ? c.what : (PLURAL[c.what] ?? `${c.what}s`)}`).join(', ');
export const countOf = (list: readonly Schemas['CountView'][], what: string) => list.find((c) => c.what === what)?.count ?? 0;
/** The state of a file, in words. */
export const FILE_STATES: Record<string, string> = { draft: t`not taken in yet`, taken: t`taken in`, undone: t`undone` };
