import { act, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import due from '../../../tests/fixtures/due.json';
import open from '../../../tests/fixtures/open.json';
import session from '../../../tests/fixtures/session.json';
import { SignIn } from '../features/account';
import Settings from '../features/account/Settings';
import { problem, serve, show } from '../testing';
import { ask, client, keepKey, Refused, Unreachable, upload } from './api';
import { Shell } from './Shell';
import { Tray } from './Tray';

describe('the client', () => {
  it('sends the key with changes and not with reads', async () => {
    const seen: (string | null)[] = [];
    vi.stubGlobal('fetch', async (request: Request) => {
      seen.push(request.headers.get('X-CSRFToken'));
      return Response.json({});
    });
    keepKey('the key');
    await ask(client.GET('/api/due'));
    await ask(client.POST('/api/bench/read', { body: { text: '1', kind: 'volume' } }));
    expect(seen).toEqual([null, 'the key']);
  });

  it('tells a refusal from a server that is away', async () => {
    serve({
      'GET /api/due': () => ({ status: 409, body: problem('gate-closed', 'Not yet.', 409) }),
      'GET /api/book': () => new TypeError('network'),
      'GET /api/words': () => ({ status: 502, body: 'proxy' }),
      'GET /api/sheets': () => ({ status: 500, body: 'oops' }),
    });
    await expect(ask(client.GET('/api/due'))).rejects.toThrow('Not yet.');
    await expect(ask(client.GET('/api/book'))).rejects.toBeInstanceOf(Unreachable);
    await expect(ask(client.GET('/api/words'))).rejects.toBeInstanceOf(Unreachable);
    await expect(ask(client.GET('/api/sheets'))).rejects.toThrow('The server answered 500');
  });

  it('sends a file and reads a refusal row by row', async () => {
    serve({
      'POST /api/readings/file': () => ({
        status: 422,
        body: { ...problem('inconsistent', 'Nothing was taken.', 422), errors: [{ field: 'row 3', message: 'No vehicle', value: 'Ghost' }] },
      }),
    });
    const error = await upload('/api/readings/file', new File(['x'], 'r.csv')).catch((e: unknown) => e);
    expect(error).toBeInstanceOf(Refused);
    expect((error as Refused).at('row 3')).toBe('No vehicle');
  });
});

describe('sign-in', () => {
  it('says what went wrong and keeps the name', async () => {
    serve({ 'POST /api/session': () => ({ status: 401, body: problem('sign-in', 'Name and password do not fit.', 401) }) });
    show(<SignIn demo={false} />);
    await userEvent.type(screen.getByLabelText(/Name/), 'isla');
    await userEvent.type(screen.getByLabelText(/Password/), 'guess');
    await userEvent.click(screen.getByRole('button', { name: 'Sign in' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('do not fit');
    expect(screen.getByLabelText(/Name/)).toHaveValue('isla');
    expect(screen.queryByRole('button', { name: /Look round/ })).toBeNull();
  });

  it('has one click in the demo', async () => {
    const calls = serve({ 'POST /api/session/demo': session });
    show(<SignIn demo />);
    await userEvent.click(screen.getByRole('button', { name: 'Look round as the lead' }));
    await waitFor(() => expect(calls[0]?.body).toEqual({ username: 'isla' }));
  });
});

describe('settings', () => {
  it('change the units, and say what that means', async () => {
    const calls = serve({ 'PATCH /api/session': { ...session, unit_system: 'us' } });
    show(<Settings />);
    expect(screen.getByText(/A bottle of 1 000 mL reads 1\s000\smL/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('radio', { name: 'US' }));
    await waitFor(() => expect(calls.find((c) => c.method === 'PATCH')).toMatchObject({ body: { unit_system: 'us' } }));
    expect(await screen.findByRole('radio', { name: 'US' })).toBeChecked();
  });
});

describe('tray', () => {
  beforeEach(() => vi.useFakeTimers({ shouldAdvanceTime: true }));
  afterEach(() => vi.useRealTimers());

  it('counts by the server’s clock and says when the time is up', async () => {
    const started = '2026-06-15T10:00:00+00:00';
    const running = { ...open[0], timer_title: 'Gearbox: wait until it only drips', timer_s: 600, timer_started: started, now: '2026-06-15T10:09:57+00:00' };
    serve({ 'GET /api/services': [running] });
    show(<Tray />);
    expect(await screen.findByRole('timer')).toHaveTextContent(/00:0[23]/);
    await act(async () => {
      await vi.advanceTimersByTimeAsync(4500);
    });
    expect(screen.getByRole('timer')).toHaveTextContent(/^\+00:0/);
    expect(screen.getByText('time is up')).toBeInTheDocument();
  });

  it('is not there when nothing is open', async () => {
    serve({ 'GET /api/services': [] });
    const { container } = show(<Tray />);
    await act(async () => {
      await vi.advanceTimersByTimeAsync(50);
    });
    expect(container).toBeEmptyDOMElement();
  });
});

const FOUND = {
  read_as: '',
  hits: [
    { kind: 'vehicle', id: 1, title: 'Old 4x4', note: 'SKR 1', glass: null },
    { kind: 'record', id: 3, title: 'Old 4x4, Gearbox', note: '15 Jun 2025, change, Light', glass: null },
  ],
};

describe('shell', () => {
  const frame = () => {
    serve({
      'GET /api/services': [],
      'GET /api/due': due,
      'GET /api/search': (c) => ({ body: c.query.get('find')?.startsWith('old') ? FOUND : { hits: [], read_as: '' } }),
    });
    show(
      <Shell>
        <Routes>
          {['due', 'bay', 'book', 'shelf', 'bench'].map((p) => (
            <Route key={p} path={`/${p}`} element={<h1>{p} page</h1>} />
          ))}
          <Route path="/due/vehicle/:id" element={<h1>the vehicle</h1>} />
        </Routes>
        <input aria-label="typing here" />
      </Shell>,
      { path: '/due' },
    );
  };

  it('goes to the five places by their keys, but not while somebody types', async () => {
    frame();
    for (const [key, name] of [
      ['2', 'bay'],
      ['3', 'book'],
      ['4', 'shelf'],
      ['5', 'bench'],
      ['1', 'due'],
    ] as const) {
      fireEvent.keyDown(document.body, { key });
      expect(screen.getByRole('heading')).toHaveTextContent(`${name} page`);
    }
    screen.getByLabelText('typing here').focus();
    await userEvent.keyboard('5');
    expect(screen.getByRole('heading')).toHaveTextContent('due page');
    expect(screen.getByLabelText('typing here')).toHaveValue('5');
  });

  it('finds a vehicle from anywhere by keys alone', async () => {
    frame();
    fireEvent.keyDown(document.body, { key: '/' });
    const dialog = await screen.findByRole('dialog', { name: 'Find' });
    await userEvent.keyboard('zeppelin');
    expect(await within(dialog).findByText('Nothing by that name.')).toBeInTheDocument();
    await userEvent.clear(within(dialog).getByRole('combobox'));
    await userEvent.keyboard('old 4x4');
    await within(dialog).findAllByRole('option', { name: /Old 4x4/ });
    await userEvent.keyboard('{ArrowDown}{ArrowUp}{Enter}');
    expect(await screen.findByRole('heading', { name: 'the vehicle' })).toBeInTheDocument();
  });

  it('lists the keys that work here', async () => {
    frame();
    fireEvent.keyDown(document.body, { key: '?' });
    expect(await screen.findByRole('dialog', { name: 'Keys that work here' })).toHaveTextContent('go to Bench');
  });

  it('leaves keys with a modifier to the browser', () => {
    frame();
    fireEvent.keyDown(document.body, { key: '5', ctrlKey: true });
    expect(screen.getByRole('heading')).toHaveTextContent('due page');
  });
});
