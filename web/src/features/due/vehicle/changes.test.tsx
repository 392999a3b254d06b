import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import words from '../../../../../tests/fixtures/words.json';
import { problem, serve, show } from '../../../testing';
import { AwayNotice, Changes } from './Changes';

const box = { id: 5, name: 'Gearbox', slot: 'gearbox', sheet_id: 2, sheet: 'Box', kind: 'manual gearbox', box: '', removed: '' };
const details = {
  id: 1,
  name: 'Van',
  plate: 'SK 1',
  kind: 'van',
  layout: 'front-wheel',
  note: '',
  meter: 'km',
  retired_on: null as string | null,
  retired_how: '',
  retired_note: '',
  compartments: [box],
  left_by: ['laid up', 'sold'],
  version: 7,
};
const gone = { ...details, retired_on: '2026-06-15', retired_how: 'sold', retired_note: 'to the north' };
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }));
const type = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });

function open_(routes: object = {}, role = 'lead') {
  const calls = serve({
    'GET /api/vehicles/1': details,
    'GET /api/vehicles/1/merges': [],
    'GET /api/words': words,
    'GET /api/sheets': [],
    'GET /api/boxes': [],
    'GET /api/compartments': [],
    ...routes,
  });
  show(
    <>
      <AwayNotice vehicle={1} />
      <Changes vehicle={1} />
    </>,
    { role },
  );
  return calls;
}

describe("a vehicle's life", () => {
  it('is called anew from the version that was opened', async () => {
    const calls = open_({ 'POST /api/vehicles/1': details });
    fireEvent.click(await screen.findByRole('button', { name: 'Change what it is called, where it stands, who drives it: Van' }));
    type('What people call it', 'Grey van');
    press('Write it');
    await waitFor(() => expect(calls.find((c) => c.method === 'POST')).toMatchObject({ since: '7', body: { name: 'Grey van', plate: 'SK 1', kind: 'van' } }));
  });

  it('is laid up or sold, and says so to everybody until it is back', async () => {
    const calls = open_({ 'POST /api/vehicles/1/retire': gone });
    fireEvent.click(await screen.findByRole('button', { name: 'Laid up, sold, scrapped' }));
    type('Note', 'to the north');
    press('Take it off Due');
    await waitFor(() => expect(calls.find((c) => c.method === 'POST')?.body).toMatchObject({ how: 'sold', note: 'to the north' }));
  });

  it('shows a viewer where it went and nothing to change', async () => {
    open_({ 'GET /api/vehicles/1': gone }, 'viewer');
    expect(await screen.findByText(/its past stays in the Book/)).toBeInTheDocument();
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('has another box fitted with what is known of it, one from the store among them', async () => {
    const stored = { id: 9, number: 'G1', note: '', last_fitted: 'Bus, Gearbox', kind: 'manual gearbox', changes: 3 };
    const calls = open_({ 'GET /api/boxes': [stored], 'POST /api/compartments/5/box': () => ({ status: 201, body: { id: 9 } }) });
    fireEvent.click(await screen.findByRole('button', { name: 'Another box fitted: Gearbox' }));
    await screen.findByRole('option', { name: 'G1, was in Bus, Gearbox, 3 changes on record' });
    fireEvent.change(screen.getByLabelText('Which one'), { target: { value: '9' } });
    type('Why', 'third gear whined');
    press('It is fitted');
    await waitFor(() => expect(calls.find((c) => c.method === 'POST')?.body).toMatchObject({ box_id: 9, why: 'third gear whined' }));
  });

  it('is twice in the book: what went into it can be taken apart again', async () => {
    const calls = open_({
      'GET /api/vehicles/1/merges': [{ id: 4, other: 'Grey van', at: '2026-06-01T10:00:00Z', by: 'Isla' }],
      'DELETE /api/merges/4': { id: 4 },
    });
    fireEvent.click(await screen.findByRole('button', { name: 'Take them apart again' }));
    await waitFor(() => expect(calls.some((c) => c.method === 'DELETE' && c.path === '/api/merges/4')).toBe(true));
  });

  it('is deleted only without a past, and says why not', async () => {
    open_({
      'DELETE /api/vehicles/1': () => ({ status: 422, body: problem('inconsistent', 'Van has a past in the book: lay it up instead.', 422, 'vehicle') }),
    });
    fireEvent.click(await screen.findByRole('button', { name: 'Entered by mistake: delete it' }));
    expect(await screen.findByText(/lay it up instead/)).toBeInTheDocument();
  });
});
