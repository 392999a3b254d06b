import { fireEvent, screen, waitFor } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { beforeEach, describe, expect, it } from 'vitest';
import { ByCode } from '../app/ByCode';
import { problem, serve, show } from '../testing';
import { Labels } from './Labels';

const sizes = {
  sizes: [
    { name: 'roll 62 x 29 mm', on_a_page: 1 },
    { name: 'A4, 21 of 70 x 42.4 mm', on_a_page: 21 },
  ],
  printer: 'simulated',
};

describe('case labels', () => {
  beforeEach(() => localStorage.clear());

  it('shows the label as it will look, remembers the roll, prints it', async () => {
    const calls = serve({ 'GET /api/labels/sizes': sizes, 'POST /api/labels': { done: true, count: 2, text: '2 labels are printed.' } });
    show(<Labels records={[7, 8]} />);
    fireEvent.click(screen.getByRole('button', { name: 'Case labels' }));
    const picture = await screen.findByRole('img', { name: 'The first label as it is printed' });
    expect(picture).toHaveAttribute('src', '/api/labels?records=7,8&size=roll%2062%20x%2029%20mm&as=png');
    fireEvent.click(screen.getByRole('button', { name: 'Print on the label printer' }));
    expect(await screen.findByText('2 labels are printed.')).toBeInTheDocument();
    expect(calls.find((c) => c.method === 'POST')?.body).toEqual({ records: [7, 8], size: 'roll 62 x 29 mm' });
    fireEvent.change(screen.getByLabelText('Size'), { target: { value: 'A4, 21 of 70 x 42.4 mm' } });
    expect(localStorage.getItem('barodex.label')).toBe('A4, 21 of 70 x 42.4 mm');
  });

  it('begins a sheet where the next label is free; the printer takes no sheets', async () => {
    serve({ 'GET /api/labels/sizes': sizes });
    show(<Labels records={[7]} />);
    fireEvent.click(screen.getByRole('button', { name: 'Case label' }));
    fireEvent.change(await screen.findByLabelText('Size'), { target: { value: 'A4, 21 of 70 x 42.4 mm' } });
    fireEvent.change(screen.getByLabelText('First free place on the sheet'), { target: { value: '5' } });
    expect(screen.getByRole('link', { name: 'Open as a paper' })).toHaveAttribute('href', expect.stringMatching(/&start=5$/));
    expect(screen.queryByRole('button', { name: 'Print on the label printer' })).toBeNull();
  });

  it('says why the printer did not print', async () => {
    serve({
      'GET /api/labels/sizes': sizes,
      'POST /api/labels': () => ({ status: 409, body: problem('gate-closed', 'No labels are left on the roll.', 409, 'printer') }),
    });
    show(<Labels records={[7]} />);
    fireEvent.click(screen.getByRole('button', { name: 'Case label' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Print on the label printer' }));
    expect(await screen.findByText('No labels are left on the roll.')).toBeInTheDocument();
  });
});

describe('the code of a label', () => {
  const pages = (
    <Routes>
      <Route path="/b/:code" element={<ByCode />} />
      <Route path="/book/:compartment" element={<h1>the compartment</h1>} />
    </Routes>
  );

  it('leads to the compartment where its box is fitted', async () => {
    serve({ 'GET /api/codes/00VP': { code: '00VP', compartment: 25, fitted: true } });
    show(pages, { path: '/b/00VP' });
    expect(await screen.findByText('the compartment')).toBeInTheDocument();
  });

  it('says when a letter was read wrong', async () => {
    serve({
      'GET /api/codes/00VQ': () => ({ status: 422, body: problem('inconsistent', '“00VQ” is no code of a label: a letter was read wrong.', 422, 'code') }),
    });
    show(pages, { path: '/b/00VQ' });
    await waitFor(() => expect(screen.getByText(/a letter was read wrong/)).toBeInTheDocument());
  });
});
