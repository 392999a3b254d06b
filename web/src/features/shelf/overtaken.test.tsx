/** Two people at one sheet, or at one oil: who comes second sees both sides, and chooses; nothing typed is lost. */
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import declared from '../../../../tests/fixtures/declared.json';
import lubricants from '../../../../tests/fixtures/lubricants.json';
import places from '../../../../tests/fixtures/places.json';
import revised from '../../../../tests/fixtures/sheet-revised.json';
import words from '../../../../tests/fixtures/words.json';
import { type Call, problem, reads, serve, show } from '../../testing';
import Shelf from '.';

const sheet = revised.id;
const light = lubricants.find((o) => o.name === 'Light') as (typeof lubricants)[number];
const refusal = (detail: string, stands: number, changes: Record<string, string>) => ({
  status: 412,
  body: {
    ...problem('superseded', detail, 412),
    errors: [{ field: 'version', message: detail, allowed: String(stands) }, ...Object.entries(changes).map(([field, message]) => ({ field, message }))],
  },
});

function at(path: string, routes: object) {
  const calls = serve({
    'GET /api/words': words,
    'GET /api/sheets/declared': declared,
    'GET /api/lubricants': lubricants,
    'POST /api/bench/read': reads,
    [`POST /api/lubricants/${light.id}/places`]: places,
    [`GET /api/sheets/${sheet}`]: revised,
    ...routes,
  });
  show(<Shelf />, { path, role: 'lead' });
  return calls;
}
const sent = (calls: Call[], method: string, path: string) => calls.filter((c) => c.method === method && c.path === path);

describe('a revision', () => {
  const path = `/api/sheets/${sheet}`;
  const newest = revised.revisions[0]?.number as number;
  const later = { ...revised, revisions: [{ ...revised.revisions[0], number: newest + 1, capacity_ml: 1910 }, ...revised.revisions] };

  async function second(routes: object = {}) {
    const overtaken = refusal('Morag wrote revision 9 since you opened revision 8: bulletin', newest + 1, {
      'Service capacity': 'was 1 850 mL, is now 1 910 mL',
    });
    let tries = 0;
    const calls = at(`/sheets/${sheet}/revise`, { [`POST ${path}`]: () => (++tries === 1 ? overtaken : { status: 201, body: { id: 1 } }), ...routes });
    fireEvent.change(await screen.findByLabelText('Service capacity'), { target: { value: '1.7 L' } });
    fireEvent.change(screen.getByLabelText('Why it changes'), { target: { value: 'as measured' } });
    await userEvent.click(screen.getByText('Write the revision'));
    const alert = await screen.findByRole('alert');
    expect(alert).toHaveTextContent('Morag wrote revision 9');
    expect(within(alert).getByRole('list', { name: 'Changed meanwhile' })).toHaveTextContent('Service capacity: was 1 850 mL, is now 1 910 mL');
    expect(screen.getByLabelText('Service capacity')).toHaveValue('1.7 L');
    return calls;
  }

  it('goes from the revision that it was opened at, and over the newer one only by a press that says so', async () => {
    const calls = await second();
    await userEvent.click(screen.getByText('Write mine over theirs'));
    await waitFor(() => expect(sent(calls, 'POST', path).map((c) => c.since)).toEqual([String(newest), String(newest + 1)]));
    expect(sent(calls, 'POST', path)[1]?.body).toMatchObject({ capacity_ml: '1.7 L', reason: 'as measured' });
  });

  it('can be begun again from what stands there, with the reason kept', async () => {
    let reads = 0;
    await second({ [`GET /api/sheets/${sheet}`]: () => ({ body: ++reads === 1 ? revised : later }) });
    await userEvent.click(screen.getByText('Start again from what stands there'));
    await waitFor(() => expect(screen.getByLabelText('Service capacity')).toHaveValue('1910 mL'));
    expect(screen.getByLabelText('Why it changes')).toHaveValue('as measured');
    expect(screen.queryByRole('alert')).toBeNull();
  });

  it('shows what the server says of a figure at its field, and keeps what was typed', async () => {
    const told = 'A whole number of months, for example 24.';
    at(`/sheets/${sheet}/revise`, { [`POST ${path}`]: () => ({ status: 422, body: problem('invalid', told, 422, 'interval_months') }) });
    fireEvent.change(await screen.findByLabelText('Months'), { target: { value: '24 months' } });
    await userEvent.click(screen.getByText('Write the revision'));
    await waitFor(() => expect(screen.getByLabelText('Months')).toHaveAccessibleDescription(told));
    expect(screen.getByLabelText('Months')).toHaveValue('24 months');
  });
});

describe('an oil', () => {
  const path = `/api/lubricants/${light.id}`;

  it('is kept over another’s change only by a press that says so', async () => {
    const overtaken = refusal('Morag changed this oil since you opened it.', 7, { kv40: 'there 55, here 60' });
    let tries = 0;
    const calls = at(`/oils/${light.id}`, { [`PUT ${path}`]: () => (++tries === 1 ? overtaken : { body: { id: light.id } }) });
    await userEvent.click(await screen.findByRole('button', { name: 'Correct it from the data sheet' }));
    fireEvent.change(screen.getByLabelText('Viscosity at 40 °C, mm²/s'), { target: { value: '60' } });
    await userEvent.click(screen.getByText('Keep it'));
    expect(await screen.findByRole('list', { name: 'Changed meanwhile' })).toHaveTextContent('kv40: there 55, here 60');
    expect(screen.getByLabelText('Viscosity at 40 °C, mm²/s')).toHaveValue('60');
    expect(screen.getByLabelText('Viscosity at 40 °C, mm²/s')).toBeValid(); // what they changed is no fault of mine
    await userEvent.click(screen.getByText('Keep mine over theirs'));
    await waitFor(() => expect(sent(calls, 'PUT', path).map((c) => c.since)).toEqual([String(light.version), '7']));
  });

  it('can be left as it stands', async () => {
    at(`/oils/${light.id}`, { [`PUT ${path}`]: () => refusal('Morag changed this oil since you opened it.', 7, { kv40: 'there 55, here 60' }) });
    await userEvent.click(await screen.findByRole('button', { name: 'Correct it from the data sheet' }));
    fireEvent.change(screen.getByLabelText('Viscosity at 40 °C, mm²/s'), { target: { value: '60' } });
    await userEvent.click(screen.getByText('Keep it'));
    await userEvent.click(await screen.findByRole('button', { name: 'Take what stands there' }));
    expect(screen.getByLabelText('Viscosity at 40 °C, mm²/s')).toHaveValue(light.kv40 === null ? '' : String(light.kv40));
  });
});
