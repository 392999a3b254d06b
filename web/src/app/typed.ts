/** What a person typed as a plain figure: a number where it is one, else the text itself, so that the server refuses it at its field.
 *  `Number(…)` would make nothing of "24 months" without a word. */

const PLAIN = /^[-−+]?\d+(?:[.,]\d+)?$/;

/** A figure, or null where nothing is typed. Text that is no figure goes to the server as it is. */
export function figure(typed: string): number | null {
  const text = typed.trim();
  if (!text) return null;
  if (PLAIN.test(text)) return Number(text.replace(',', '.').replace('−', '-'));
  return text as unknown as number;
}

/** A share typed in per cent: "60" and "60 %" are 0.6. */
export function share(typed: string): number | null {
  const said = figure(typed.replace(/\s*%\s*$/, ''));
  return typeof said === 'number' ? said / 100 : said === null ? null : (typed.trim() as unknown as number);
}

/** A figure that must be there: empty goes as empty text, which the server refuses at its field. */
export const needed = (said: number | null): number => said ?? ('' as unknown as number);

let serial = 0;
/** A key for a row of a form: never twice, also beside rows that were kept from before a reload. */
export const rowKey = (): string => `${Date.now().toString(36)}-${serial++}-${Math.floor(Math.random() * 1e9).toString(36)}`;
