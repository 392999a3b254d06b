/** Every address has a page, and every page its title. */
import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import due from '../../../tests/fixtures/due.json';
import Bay from '../features/bay';
import Book from '../features/book';
import Due from '../features/due';
import Shelf from '../features/shelf';
import { problem, serve, show } from '../testing';

const PLACES = { bay: Bay, book: Book, due: Due, shelf: Shelf };

describe('an address that is no page', () => {
  it.each(Object.entries(PLACES))('is said in %s, with the way to the five places', async (_, Place) => {
    serve({});
    show(<Place />, { path: '/no/such/page' });
    expect(await screen.findByRole('heading', { level: 1, name: 'There is no such page' })).toBeInTheDocument();
    expect(screen.getByText('/no/such/page')).toBeInTheDocument();
    expect(screen.getAllByRole('link').map((a) => a.getAttribute('href'))).toEqual(['/due', '/bay', '/book', '/shelf', '/bench']);
    expect(document.title).toBe('There is no such page · Barodex');
  });
});

describe("a page's title", () => {
  it('is that of the window, and follows the page', async () => {
    serve({ 'GET /api/due': due });
    show(<Due />);
    const head = await screen.findByRole('heading', { level: 1 });
    await waitFor(() => expect(document.title).toBe(`${head.textContent?.replace(/\s+/g, ' ').trim()} · Barodex`));
    expect(document.title).not.toBe(' · Barodex');
  });

  it.each([
    ['404', 404, 'Not on record · Barodex'],
    ['a fault', 500, 'This page cannot be shown · Barodex'],
  ])('is there too where the content does not come: %s', async (_, status, title) => {
    serve({ 'GET /api/due/999': () => ({ status, body: problem('gone', 'There is no such vehicle.', status) }), 'GET /api/due/999/life': [] });
    show(<Due />, { path: '/vehicle/999' });
    expect(await screen.findByRole('heading', { level: 1 })).toBeInTheDocument();
    await waitFor(() => expect(document.title).toBe(title));
    expect(screen.getByRole('alert')).toHaveTextContent('There is no such vehicle.');
  });
});
