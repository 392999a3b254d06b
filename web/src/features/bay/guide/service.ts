/** What a service is made of, as the server draws it, and an act on it. */
import type { Schemas } from '../../../app/api';

export type Service = Schemas['ServiceView'];
export type Step = Service['steps'][number];
export type Ledger = Service['ledgers'][number];
export type { ActKind, Values } from '../../../app/outbox/kept';
