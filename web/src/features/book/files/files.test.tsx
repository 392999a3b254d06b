import { fireEvent, screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { problem, serve, show } from '../../../testing';
import { SetUp } from '../../account/SetUp';
import { FilesPage } from './FilesPage';

const size = { vehicles: 11, changes: 42, photos: 4, photo_bytes: 2_500_000, rows: 1262 };
const preview = {
  vehicle: 'Old 4x4',
  plate: 'SKR 1',
  workshop: 'Skerrow depot',
  made: '2026-06-01T10:00:00Z',
  left_behind: 1,
  counts: [
    { what: 'change', new: 2, same: 1, conflict: 0 },
    { what: 'sheet', new: 0, same: 1, conflict: 1 },
    { what: 'person', new: 1, same: 0, conflict: 0 },
  ],
  parts: [{ what: 'sheet', name: 'Brass box', state: 'conflict', note: 'another of that name is here: it comes in as “Brass box (Skerrow depot)”' }],
};
const choose = (label: string, file: File) => fireEvent.change(screen.getByLabelText(label), { target: { files: [file] } });
const zip = new File(['PK'], 'vehicle.zip', { type: 'application/zip' });

describe('files, in and out', () => {
  it('says what the whole book holds and leads to the download', async () => {
    serve({ 'GET /api/whole-book/size': size });
    show(<FilesPage />);
    expect(await screen.findByText('11')).toBeInTheDocument();
    expect(screen.getByText(/of 2\.5 MB; 1262 rows/)).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'Take the whole book out' })).toHaveAttribute('href', '/api/whole-book');
    expect(screen.queryByText('Put a whole book back')).toBeNull(); // the book is not empty
  });

  it('offers the way back only while the book is empty', async () => {
    serve({ 'GET /api/whole-book/size': { ...size, vehicles: 0, changes: 0, photos: 0, photo_bytes: 0 } });
    show(<FilesPage />);
    expect(await screen.findByText('Put a whole book back')).toBeInTheDocument();
  });

  it('holds a vehicle against the book, says what is in conflict, and takes in what is new', async () => {
    const calls = serve({
      'GET /api/whole-book/size': size,
      'POST /api/vehicle-file': preview,
      'POST /api/vehicle-file/take': () => ({ status: 201, body: { vehicle: 12, run: 3 } }),
    });
    show(<FilesPage />);
    choose("Vehicle's file", zip);
    const seen = await screen.findByRole('group', { name: 'The file of Old 4x4' });
    expect(within(seen).getByText(/one change of its boxes from other vehicles stayed with those/)).toBeInTheDocument();
    expect(within(seen).getByText(/it comes in as “Brass box \(Skerrow depot\)”/)).toBeInTheDocument();
    expect(within(seen).getByRole('row', { name: /^changes 2 1/ })).toBeInTheDocument();
    expect(within(seen).getByRole('row', { name: /^people 1/ })).toBeInTheDocument();
    fireEvent.click(within(seen).getByRole('button', { name: 'Take in what is new' }));
    await screen.findByText('Files, in and out');
    expect(calls.filter((c) => c.path === '/api/vehicle-file/take')).toHaveLength(1);
  });

  it('says why a file is no good and asks for another', async () => {
    serve({
      'GET /api/whole-book/size': size,
      'POST /api/vehicle-file': () => ({ status: 422, body: problem('inconsistent', 'The file is damaged: changes.csv is not what it was.', 422, 'file') }),
    });
    show(<FilesPage />);
    choose("Vehicle's file", zip);
    expect(await screen.findByText(/changes\.csv is not what it was/)).toBeInTheDocument();
    expect(screen.getByText("Choose the vehicle's file")).toBeInTheDocument();
  });

  it('is for the lead', () => {
    serve({});
    show(<FilesPage />, { role: 'technician' });
    expect(screen.getByRole('note')).toHaveTextContent('by a lead');
  });
});

describe('an empty installation', () => {
  it('takes a whole book back and shows the links by which its leads come in', async () => {
    serve({
      'POST /api/setup/restore': () => ({
        status: 201,
        body: { made: '2026-06-01T10:00:00Z', rows: 1262, photos: 4, leads: [{ name: 'Isla Marran', path: '/join/MQ.abc', until: '2026-06-22T10:00:00Z' }] },
      }),
    });
    show(<SetUp />);
    choose('Whole book', zip);
    const link = await screen.findByRole('link', { name: 'Isla Marran' });
    expect(link).toHaveAttribute('href', '/join/MQ.abc');
    expect(screen.getByRole('status')).toHaveTextContent('1262 rows and 4 photos');
  });
});
