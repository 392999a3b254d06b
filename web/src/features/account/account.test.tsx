import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import session from '../../../../tests/fixtures/session.json';
import { problem, serve, show } from '../../testing';
import { FirstHour } from '../due/board/FirstHour';
import { withSheet } from '../due/vehicle/vehicleDraft';
import { Join } from './Join';
import { OwnAccess } from './OwnAccess';
import { People } from './People';
import { SetUp } from './SetUp';

const type = (label: string | RegExp, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }));
const person = {
  id: 7,
  username: 'fergus',
  name: 'Fergus Doon',
  role: 'technician',
  active: true,
  joined: true,
  last_seen: '2026-06-01T08:00:00Z',
  signed_in: 2,
  only_lead: false,
};
const lead = { ...person, id: 1, username: session.username, name: 'Lead', role: 'lead', only_lead: true, signed_in: 1 };
const link = { person: 9, name: 'Una Sker', path: '/join/OQ.abc', until: '2026-06-22T10:00:00Z' };

describe('people', () => {
  it('invites by a link that is shown once, and says that no mail is needed', async () => {
    const calls = serve({ 'GET /api/people': [lead, person], 'POST /api/people': () => ({ status: 201, body: link }) });
    show(<People />);
    await screen.findByText(/signs in as fergus/);
    press('Invite somebody');
    type('First name', 'Una');
    type('Last name', 'Sker');
    type('Name to sign in by', 'una');
    fireEvent.change(screen.getByLabelText('May do'), { target: { value: 'viewer' } });
    press('Make the link');
    expect(await screen.findByText(/\/join\/OQ\.abc$/)).toBeInTheDocument();
    expect(calls.find((c) => c.method === 'POST')?.body).toEqual({ first: 'Una', last: 'Sker', username: 'una', role: 'viewer' });
    press('Handed over');
    expect(screen.queryByText(/\/join\//)).toBeNull();
  });

  it('shows a refusal at its field and keeps what was typed', async () => {
    serve({ 'GET /api/people': [lead], 'POST /api/people': () => ({ status: 422, body: problem('inconsistent', 'It looks like “una”.', 422, 'username') }) });
    show(<People />);
    fireEvent.click(await screen.findByRole('button', { name: 'Invite somebody' }));
    type('Name to sign in by', 'U na');
    press('Make the link');
    expect(await screen.findAllByText('It looks like “una”.')).not.toHaveLength(0);
    expect(screen.getByLabelText('Name to sign in by')).toHaveValue('U na');
  });

  it('changes a role, lets somebody leave, and says where they are signed in', async () => {
    const gone = { ...person, active: false };
    const calls = serve({ 'GET /api/people': [lead, person], 'PATCH /api/people/7': [lead, gone] });
    show(<People />);
    expect(await screen.findByText(/signed in on 2 devices/)).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Lead leaves' })).toBeNull(); // oneself
    press('Fergus Doon leaves');
    expect(await screen.findByRole('heading', { name: 'Have left' })).toBeInTheDocument();
    expect(screen.getByText(/what they wrote stays/)).toBeInTheDocument();
    expect(calls.find((c) => c.method === 'PATCH')?.body).toEqual({ active: false });
  });
});

describe('a one-time link', () => {
  it('greets, refuses a weak password at its field, and takes a good one', async () => {
    let tries = 0;
    const calls = serve({
      'GET /api/join/OQ.abc': { name: 'Una Sker', username: 'una' },
      'POST /api/join/OQ.abc': () => {
        tries += 1;
        return tries > 1 ? { body: session } : { status: 422, body: problem('inconsistent', 'Too short.', 422, 'password') };
      },
    });
    show(<Join link="OQ.abc" />);
    expect(await screen.findByText('Welcome, Una Sker')).toBeInTheDocument();
    type('Your password', 'short');
    press('Choose it and come in');
    expect(await screen.findAllByText('Too short.')).not.toHaveLength(0);
    type('Your password', 'grease and gaskets');
    press('Choose it and come in');
    await waitFor(() => expect(calls.filter((c) => c.method === 'POST').at(-1)?.body).toEqual({ password: 'grease and gaskets' }));
  });

  it('says so when it is no good any more', async () => {
    serve({ 'GET /api/join/x': () => ({ status: 422, body: problem('inconsistent', 'This link was used already.', 422, 'link') }) });
    show(<Join link="x" />);
    expect(await screen.findByText('This link is no good any more')).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'To the sign-in' })).toBeInTheDocument();
  });
});

it('an empty book asks who its lead is and what the workshop is called', async () => {
  const calls = serve({ 'POST /api/setup': () => ({ status: 201, body: session }) });
  show(<SetUp />);
  type('First name', 'Isla');
  type('Name to sign in by', 'isla');
  type('Password', 'grease and gaskets');
  type('What it is called', 'Skerrow depot');
  fireEvent.click(screen.getByText('2026-05-04'));
  press('Begin the book');
  await waitFor(() =>
    expect(calls[0]?.body).toMatchObject({ first: 'Isla', username: 'isla', name: 'Skerrow depot', dates: 'year first', unit_system: 'metric' }),
  );
});

it('an empty book keeps what was typed over a reload, but never a password', async () => {
  serve({ 'POST /api/setup': () => ({ status: 422, body: problem('invalid', 'A person needs a name.', 422, 'first') }) });
  show(<SetUp />);
  type('What it is called', 'Skerrow depot');
  type('Password', 'grease and gaskets');
  press('Begin the book');
  await waitFor(() => expect(screen.getByLabelText('First name')).toHaveAccessibleDescription('A person needs a name.'));
  expect(JSON.stringify({ ...sessionStorage })).not.toContain('grease');
  cleanup();
  show(<SetUp />);
  expect(screen.getByLabelText('What it is called')).toHaveValue('Skerrow depot');
  expect(screen.getByLabelText('Password')).toHaveValue('');
});

it('a password is changed with the old one, and the other devices are named', async () => {
  const sessions = [
    { id: 'a', since: '2026-06-01T08:00:00Z', device: 'tablet', here: true },
    { id: 'b', since: null, device: '', here: false },
  ];
  const calls = serve({ 'GET /api/sessions': sessions, 'POST /api/password': () => ({ status: 204 }), 'DELETE /api/sessions': { ended: 1 } });
  show(<OwnAccess />);
  expect(await screen.findByText(/, this one/)).toBeInTheDocument();
  press('Change the password');
  type('The password of today', 'old one here');
  type('The new one', 'grease and gaskets');
  press('Change it');
  expect(await screen.findByText(/Every other device is signed out/)).toBeInTheDocument();
  expect(calls.find((c) => c.path === '/api/password')?.body).toEqual({ old: 'old one here', password: 'grease and gaskets' });
  press('Sign out everywhere else');
  await waitFor(() => expect(calls.some((c) => c.method === 'DELETE')).toBe(true));
});

describe('the first steps', () => {
  const step = (key: string, done: boolean, more = {}) => ({ key, done, id: null, name: '', ...more });
  const way = (...done: string[]) => ({
    over: false,
    steps: ['workshop', 'sheet', 'vehicle', 'reading', 'oil', 'change'].map((k) =>
      step(k, done.includes(k), k === 'change' && done.includes('vehicle') ? { id: 5, name: 'Van, Gearbox' } : {}),
    ),
  });

  it('mark what is done and lead to the next, with the spreadsheet offered while there is no vehicle', async () => {
    serve({ 'GET /api/first-hour': way('workshop') });
    show(<FirstHour />);
    const list = await screen.findByRole('list', { name: 'The first steps' });
    expect(within(list).getAllByRole('img', { name: 'done' })).toHaveLength(1);
    expect(within(list).getByRole('img', { name: 'next' }).closest('li')).toHaveTextContent('Write the first spec sheet');
    expect(screen.getByRole('link', { name: 'Take it in' })).toHaveAttribute('href', '/book/import');
  });

  it('name the compartment whose last change is wanted, and are gone when the book stands', async () => {
    serve({ 'GET /api/first-hour': way('workshop', 'sheet', 'vehicle', 'reading', 'oil') });
    show(<FirstHour />);
    expect(await screen.findByRole('link', { name: 'Enter the last change of Van, Gearbox' })).toHaveAttribute('href', '/book/5?enter=record');
    expect(screen.queryByRole('link', { name: 'Take it in' })).toBeNull();
  });

  it('a sheet that was written on the way stands in the first compartment without one', () => {
    const box = (sheet_id: string) => ({ key: sheet_id, name: '', slot: 'gearbox' as const, sheet_id });
    const draft = { name: '', plate: '', note: '', kind: 'car' as const, layout: 'front-wheel' as const, meter: 'km' as const, off_road: '0', meter_value: '' };
    expect(withSheet({ ...draft, compartments: [box('3'), box('')] }, 8).compartments.map((c) => c.sheet_id)).toEqual(['3', '8']);
    expect(withSheet({ ...draft, compartments: [box('3')] }, undefined).compartments.map((c) => c.sheet_id)).toEqual(['3']);
  });
});
