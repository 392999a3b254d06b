/** What the component tests share: the page's frame with a signed-in session, and a server that answers from the fixtures. */
import '@testing-library/jest-dom/vitest';
import 'fake-indexeddb/auto';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, configure, fireEvent, render, screen } from '@testing-library/react';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, vi } from 'vitest';
import session from '../../tests/fixtures/session.json';
import { clear } from './app/outbox/kept';
import { outbox } from './app/outbox/outbox';
import { PACE } from './app/pace';
import { makeTheme } from './app/theme';

configure({ asyncUtilTimeout: 60_000 }); // a busy machine is slow, not wrong

beforeEach(() => {
  Object.assign(PACE, { again: 300, retry: 200 });
});

afterEach(async () => {
  cleanup();
  outbox.open('');
  await clear();
  sessionStorage.clear();
  localStorage.clear();
  vi.unstubAllGlobals();
});

/** ``since``: the version that an edit started from. */
export type Call = { method: string; path: string; query: URLSearchParams; body: unknown; since?: string };
type Answer = { status?: number; body?: unknown } | Error;
type Route = (call: Call) => Answer;

/** Stand in for the server: routes by "METHOD /path" prefix, longest first; every call is kept. */
export function serve(routes: Record<string, Route | object>): Call[] {
  const calls: Call[] = [];
  vi.stubGlobal('fetch', async (input: Request | string, init?: RequestInit) => {
    const request = typeof input === 'string' ? new Request(new URL(input, 'http://localhost'), init) : input;
    const text = request.method === 'GET' ? '' : await request.clone().text();
    const url = new URL(request.url);
    const call: Call = { method: request.method, path: url.pathname, query: url.searchParams, body: text.startsWith('{') ? JSON.parse(text) : text };
    const since = request.headers.get('If-Match');
    if (since) call.since = since;
    calls.push(call);
    const key = Object.keys(routes)
      .filter((k) => `${call.method} ${call.path}`.startsWith(k))
      .sort((a, b) => b.length - a.length)[0];
    const route = key === undefined ? () => ({ status: 404, body: problem('not-found', 'There is no such thing here.', 404) }) : routes[key];
    const answer = typeof route === 'function' ? (route as Route)(call) : { body: route };
    if (answer instanceof Error) throw answer;
    return new Response(answer.body === undefined ? null : JSON.stringify(answer.body), {
      status: answer.status ?? 200,
      headers: { 'Content-Type': 'application/json' },
    });
  });
  return calls;
}

export function problem(kind: string, detail: string, status = 422, field = '') {
  return { type: `/problems/${kind}`, title: '', status, detail, errors: field ? [{ field, message: detail }] : [] };
}

/** A quantity as the server would read it, enough for the fields of a test. */
export function reads(call: Call): Answer {
  const { text } = call.body as { text: string };
  if (/ qt$/.test(text) && !/US|imp/.test(text)) return { status: 422, body: problem('ambiguous', `“${text}”: US or imperial?`, 422, 'volume') };
  return { body: { value: 1, shown: text, systems: [`read ${text}`], working: { formula: 'f', inputs: [], source: 's' } } };
}

const THEME = makeTheme('day');
// Styles go into an element outside the document: jsdom would match every rule of every sheet at each question after a role.
const STYLES = createCache({ key: 'bx', container: document.createElement('div') });

export function show(ui: ReactNode, options: { role?: string; path?: string; units?: typeof session.units; spoken?: boolean } = {}) {
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: 60_000 } } });
  cache.setQueryData(['session'], { ...session, role: options.role ?? 'lead', spoken: options.spoken ?? false, units: options.units ?? session.units });
  return render(
    <CacheProvider value={STYLES}>
      <QueryClientProvider client={cache}>
        <ThemeProvider theme={THEME}>
          <MemoryRouter initialEntries={[options.path ?? '/']}>{ui}</MemoryRouter>
        </ThemeProvider>
      </QueryClientProvider>
    </CacheProvider>,
  );
}

/** Write a day into a field for one, as a form that fills itself in does. */
export async function day(label: string, iso: string): Promise<void> {
  const field = await screen.findByRole('group', { name: label });
  const written = new Date(iso).toLocaleDateString('en-GB', { day: '2-digit', month: 'short', year: 'numeric', timeZone: 'UTC' });
  const input = field.parentElement?.querySelector('input');
  if (!input) throw new Error(`no field for a day: ${label}`);
  fireEvent.change(input, { target: { value: written.replace('Sept', 'Sep') } });
}
