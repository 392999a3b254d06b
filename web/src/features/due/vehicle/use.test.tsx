import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import due from '../../../../../tests/fixtures/due.json';
import { problem, serve, show } from '../../../testing';
import { UseNotice } from './UseNotice';

const v = { ...due.vehicles[0], stands: '', changed_since: null, changed_factor: null } as never;
const rider = { ...due.vehicles[0], id: 7, stands: '1 Nov to 31 Mar', changed_since: null, changed_factor: null } as never;

describe('what the readings say of the use', () => {
  it('says nothing where there is nothing', () => {
    serve({});
    const { container } = show(<UseNotice v={v} />);
    expect(container).toBeEmptyDOMElement();
  });

  it('asks when it stands, and sends the answer', async () => {
    const calls = serve({ 'POST /api/vehicles/7/season': {} });
    show(<UseNotice v={rider} />);
    expect(screen.getByRole('status')).toHaveTextContent(/Does it stand from 1 Nov to 31 Mar each year/);
    await userEvent.click(screen.getByRole('button', { name: 'No, it runs all year' }));
    await waitFor(() => expect(calls[0]?.body).toEqual({ stands: false }));
  });

  it('shows why an answer was refused', async () => {
    serve({ 'POST /api/vehicles/7/season': () => ({ status: 422, body: problem('inconsistent', 'Somebody answered already.') }) });
    show(<UseNotice v={rider} />);
    await userEvent.click(screen.getByRole('button', { name: 'Yes, each year' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('Somebody answered already.');
  });

  it('only the lead answers', () => {
    serve({});
    show(<UseNotice v={rider} />, { role: 'technician' });
    expect(screen.getByText('1 Nov to 31 Mar')).toBeInTheDocument();
    expect(screen.queryByRole('button')).toBeNull();
  });

  it.each([
    [2.2, '2.2 times'],
    [0.4, '40 %'],
  ])('says since when it runs otherwise, by %d', (changed_factor, words) => {
    serve({});
    show(<UseNotice v={{ ...(v as object), changed_since: '2026-05-01', changed_factor } as never} />);
    expect(screen.getByRole('status')).toHaveTextContent(`Since 1 May 2026 it runs ${words} of what it ran before`);
  });
});
