/** What a service is made of, as the server draws it, and an act on it. */
import type { Schemas } from '../../../app/api';

export type Service = Schemas['ServiceView'];
export type Step = Service['steps'][number];
export type Ledger = Service['ledgers'][number];
export type Values = Record<string, unknown>;
export type ActKind = Schemas['ActRequestRequest']['kind'];
export type Act = { kind: ActKind; step: string; values: Values };

/** A random id, also where the page is not in a secure context. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x40;
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
  const hex = [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
}
