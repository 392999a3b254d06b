/** The one client of the API: typed by the server's own description, with the key for changes and errors as problems. */
import { t } from '@lingui/core/macro';
import createClient, { type Middleware } from 'openapi-fetch';
import { newId } from './ids';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];
/** ``line``: of a file, where the problem is one of its rows. */
export type FieldProblem = { field: string; message: string; value?: string; allowed?: string; line?: number };
export type ProblemDetails = { type: string; title: string; status: number; detail: string; errors: FieldProblem[] };

/** A refused or failed request, with what the server says of it. */
export class Refused extends Error {
  readonly problem: ProblemDetails;
  constructor(problem: ProblemDetails) {
    super(problem.detail);
    this.problem = problem;
  }
  get kind(): string {
    return this.problem.type.replace('/problems/', '');
  }
  /** Of an edit that somebody else overtook: the version that stands now, to be written over knowingly; 0 of any other refusal. */
  get standing(): number {
    return this.kind === 'superseded' ? Number(this.problem.errors[0]?.allowed) : 0;
  }
  /** What is wrong with a field; what somebody else changed there meanwhile is not wrong. */
  at(field: string): string {
    if (this.standing) return '';
    return this.problem.errors.find((e) => e.field === field)?.message ?? '';
  }
}

/** The server could not be reached: nothing is known of the request. */
export class Unreachable extends Error {
  constructor() {
    super(t`The server does not answer. What you typed is kept.`);
  }
}

let csrf = '';
export function keepKey(key: string): void {
  csrf = key;
}

const withKey: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrf);
    return request;
  },
};

/** What is only asked, carries an id of its own, or is by its state done once (a file that is taken in, which must hold nobody up meanwhile). */
const ASKED =
  /\/imports\/\d+\/take$|\/(acts|photos|trial|read|colour|magnet|oil|kit|chart|places|oils|scan|reset|scale|session|setup|restore|demo)$|\/bench\/|\/join\/|\/shopping|\/sheets\/file$|\/vehicle-file$/;
const ids = new Map<string, string>();

/** The id of a change: the same while nothing is known of it. */
function idOf(change: string): string {
  const id = ids.get(change) ?? newId();
  ids.set(change, id);
  return id;
}

/** The change with this id is answered, and its id with it; a fault of the server, or nothing but a gateway's word: it may be sent again under its id. */
function answered(id: string | null, status: number): void {
  if (id && status < 500) for (const [change, mine] of ids) if (mine === id) ids.delete(change);
}

/** One id for each change: pressed twice, or sent again after its answer was lost, the same change counts once. */
const withId: Middleware = {
  async onRequest({ request }) {
    if (request.method === 'GET' || ASKED.test(new URL(request.url).pathname)) return request;
    request.headers.set('Idempotency-Key', idOf(`${request.method} ${request.url} ${await request.clone().text()}`));
    return request;
  },
  onResponse({ request, response }) {
    answered(request.headers.get('Idempotency-Key'), response.status);
    return response;
  },
};

export const client = createClient<paths>({
  baseUrl: typeof window === 'undefined' ? '' : window.location.origin,
  fetch: (request) => globalThis.fetch(request),
});
client.use(withKey, withId);

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** Unwrap an answer: its data, or the error that the server or the network gave. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await request;
  } catch {
    throw new Unreachable();
  }
  if (answer.response.ok) return answer.data as T;
  if (answer.response.status >= 502 && answer.response.status <= 504 && !isProblem(answer.error)) throw new Unreachable();
  throw new Refused(isProblem(answer.error) ? answer.error : fault(answer.response.status));
}

/** Every vehicle of the board, as far as one list carries them: for the pickers. */
export const askAll = () => ask(client.GET('/api/due', { params: { query: { limit: 500 } } }));

function isProblem(value: unknown): value is ProblemDetails {
  return typeof value === 'object' && value !== null && 'detail' in value && 'errors' in value;
}

function fault(status: number): ProblemDetails {
  return { type: '/problems/fault', title: t`A fault`, status, detail: t`The server answered ${status}. Nothing was changed.`, errors: [] };
}

/** Send a file; openapi-fetch does not carry multipart well. */
export async function upload<T>(path: string, file: File, more: Record<string, string> = {}): Promise<T> {
  const body = new FormData();
  for (const [name, value] of Object.entries(more)) body.append(name, value);
  body.append('file', file);
  const id = ASKED.test(path) ? null : idOf(`${path} ${file.name} ${file.size} ${file.lastModified} ${JSON.stringify(more)}`);
  let response: Response;
  try {
    response = await fetch(path, { method: 'POST', body, headers: { 'X-CSRFToken': csrf, ...(id && { 'Idempotency-Key': id }) } });
  } catch {
    throw new Unreachable();
  }
  answered(id, response.status);
  const answer: unknown = await response.json().catch(() => null);
  if (response.ok) return answer as T;
  throw new Refused(isProblem(answer) ? answer : fault(response.status));
}

/** The version that stands now where an edit was overtaken; 0 otherwise. */
export const standing = (error: unknown): number => (error instanceof Refused ? error.standing : 0);

export function sentence(error: unknown): string {
  return error instanceof Error ? error.message : t`Something went wrong.`;
}
