import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ComponentType } from 'react';
import { describe, expect, it, vi } from 'vitest';
import devices from '../../../../../tests/fixtures/devices.json';
import scale from '../../../../../tests/fixtures/scale.json';
import scan from '../../../../../tests/fixtures/scan.json';
import refused from '../../../../../tests/fixtures/scan-refused.json';
import exchange from '../../../../../tests/fixtures/service-exchange.json';
import { problem, serve, show } from '../../../testing';
import { Devices } from '../../account/Devices';
import { bodyOf } from '../guide/bodies';
import type { BodyProps } from '../guide/body';
import { StepPhotos } from '../guide/Photos';
import type { Service } from '../guide/service';
import { ScalePanel } from './ScalePanel';
import { ScanPanel } from './ScanPanel';

const panel = (more: object = {}) => <ScanPanel service={3} compartment="3" mayWork {...more} />;
const SCAN = '/api/services/3/scan';

describe('the scan tool', () => {
  it('is offered where one is chosen, and says that it is simulated', async () => {
    const calls = serve({ [`GET ${SCAN}`]: { ...scan, connected: false, status: 'none', reading: null }, [`POST ${SCAN}`]: scan });
    show(panel());
    await userEvent.click(await screen.findByRole('button', { name: 'Connect the scan tool (simulated)' }));
    expect(await screen.findByRole('group', { name: 'Scan tool' })).toHaveTextContent(/scan tool, simulated: Live/);
    expect(calls.some((c) => c.method === 'POST')).toBe(true);
  });

  it('asks for typed values where none is chosen', async () => {
    serve({ [`GET ${SCAN}`]: { ...scan, connected: false, adaptor: 'none', simulated: false } });
    show(panel());
    expect(await screen.findByText(/type what the thermometer shows/)).toBeInTheDocument();
  });

  it('keeps the last value and says so while the link is away', async () => {
    const samples = [{ at: '2026-06-15T10:00:00Z', temperature_c: 31 }];
    serve({
      [`GET ${SCAN}`]: {
        ...scan,
        status: 'lost',
        text: 'The link is away: the last value stands.',
        reading: { ...scan.reading, status: 'lost', temperature_c: null },
        samples,
      },
    });
    const take = vi.fn();
    show(panel({ take }));
    expect(await screen.findByText(/The link is away/)).toBeInTheDocument();
    expect(screen.getByText(/^31\s°C$/)).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /^Take/ })).toBeNull();
  });

  it('does not offer a value that it doubts', async () => {
    serve({ [`GET ${SCAN}`]: { ...scan, doubt: 'From 31 to 79 °C within 5 s: no oil does that.' } });
    show(panel({ take: vi.fn() }));
    expect(await screen.findByText(/no oil does that/)).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /^Take/ })).toBeNull();
  });

  it('hands over the value that it shows, and turns the simulated key', async () => {
    const calls = serve({ [`GET ${SCAN}`]: scan, [`PATCH ${SCAN}`]: scan });
    const take = vi.fn();
    show(panel({ take }));
    await userEvent.click(await screen.findByRole('button', { name: /^Take/ }));
    expect(take).toHaveBeenCalledWith(scan.reading.temperature_c);
    await userEvent.click(screen.getByRole('button', { name: 'Start the engine' }));
    await waitFor(() => expect(calls.find((c) => c.method === 'PATCH')?.body).toMatchObject({ engine_on: true }));
  });

  it('says what stands against a reset, tells when one is done, and writes values down', async () => {
    const calls = serve({ [`GET ${SCAN}`]: refused, [`POST ${SCAN}/reset`]: refused });
    const takeValues = vi.fn();
    const { unmount } = show(panel({ resets: true, takeValues }));
    expect(await screen.findByText(/switch the ignition on/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Try again' }));
    await waitFor(() => expect(calls.find((c) => c.path.endsWith('/reset'))?.body).toEqual({ name: 'wear counter' }));
    await userEvent.click(screen.getByRole('button', { name: 'Write these values down' }));
    expect(takeValues).toHaveBeenCalledWith(`wear counter ${refused.resets[0]?.value}`);
    unmount();
    serve({ [`GET ${SCAN}`]: { ...scan, resets: [{ name: 'wear counter', value: '0', state: 'done', why: '' }] } });
    show(panel({ resets: true }));
    expect(await screen.findByText('reset')).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Reset it' })).toBeNull();
  });

  it('is believed at the step: its word stands there, and only what it said nothing of is ticked by hand', async () => {
    serve({ [`GET ${SCAN}`]: { ...scan, connected: false, adaptor: 'none' } });
    const Body = bodyOf('confirm') as ComponentType<BodyProps>;
    const said = [
      { name: 'wear counter', outcome: 'failed', why: 'Ignition is off.' },
      { name: 'oil counter', outcome: 'done', why: '' },
      { name: 'adaptation', outcome: '', why: '' },
    ];
    const change = vi.fn();
    const step = { id: 'reset.4', purpose: 'reset', kind: 'confirm', compartment: '4', checklist: ['Battery supply connected'], fields: [], resets: said };
    show(<Body {...({ id: 3, step, draft: {}, change, mayWork: true, problem: () => '' } as unknown as BodyProps)} />);
    expect(await screen.findByText('failed, says the tool. Ignition is off.')).toBeInTheDocument();
    expect(screen.getByText('done, says the tool')).toBeInTheDocument();
    expect(screen.getByRole('button', { name: /^Battery supply connected, tap/ })).toBeInTheDocument();
    expect(screen.getAllByRole('checkbox').map((c) => c.closest('label')?.textContent)).toEqual(['adaptation: done, by hand']);
    await userEvent.click(screen.getByText('adaptation: done, by hand'));
    expect(change).toHaveBeenCalledWith({ ticked: ['adaptation'] });
  });
});

describe('the scale', () => {
  const SCALE = '/api/services/3/scale';

  it('gives nothing away until it is tared and at rest', async () => {
    serve({ [`GET ${SCALE}`]: scale });
    const take = vi.fn();
    show(<ScalePanel service={3} take={take} />);
    expect(await screen.findByText(/tare it first/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Take it' })).toBeDisabled();
  });

  it('hands over its grams, and is tared by one press', async () => {
    const rested = { ...scale, usable_g: 1612, text: 'At rest.', reading: { status: 'live', mass_g: 1612, steady: true, tared: true } };
    const calls = serve({ [`GET ${SCALE}`]: rested, [`PATCH ${SCALE}`]: rested });
    const take = vi.fn();
    show(<ScalePanel service={3} take={take} />);
    await userEvent.click(await screen.findByRole('button', { name: 'Take it' }));
    expect(take).toHaveBeenCalledWith(1612);
    await userEvent.click(screen.getByRole('button', { name: 'Tare' }));
    await waitFor(() => expect(calls.find((c) => c.method === 'PATCH')?.body).toEqual({ put: 'tare' }));
  });

  it('cannot be tared while it swings', async () => {
    serve({ [`GET ${SCALE}`]: { ...scale, reading: { status: 'live', mass_g: 310, steady: false, tared: false } } });
    show(<ScalePanel service={3} take={vi.fn()} />);
    expect(await screen.findByRole('button', { name: 'Tare' })).toBeDisabled();
  });

  it('is not there where none is chosen', async () => {
    const calls = serve({ [`GET ${SCALE}`]: { ...scale, connected: false, adaptor: 'none' } });
    const { container } = show(<ScalePanel service={3} take={vi.fn()} />);
    await waitFor(() => expect(calls.length).toBe(1));
    expect(container.querySelector('button')).toBeNull();
  });
});

describe('the devices of the workshop', () => {
  it('are chosen by the lead', async () => {
    const calls = serve({ 'GET /api/devices': devices, 'PATCH /api/devices': devices });
    show(<Devices />);
    await userEvent.selectOptions(await screen.findByLabelText('Adaptor of the scale'), 'none');
    await waitFor(() => expect(calls.find((c) => c.method === 'PATCH')?.body).toEqual({ kind: 'scale', adaptor: 'none' }));
    await userEvent.selectOptions(screen.getByLabelText('Simulated time'), '20');
    await waitFor(() => expect(calls.filter((c) => c.method === 'PATCH')[1]?.body).toEqual({ kind: 'scan tool', adaptor: 'simulated', speed: 20 }));
    await userEvent.click(screen.getByRole('checkbox', { name: 'scale with faults' }));
    await waitFor(() => expect(calls.filter((c) => c.method === 'PATCH')[2]?.body).toEqual({ kind: 'scale', adaptor: 'simulated', faulty: true }));
  });

  it('are only read by others', async () => {
    serve({ 'GET /api/devices': devices });
    show(<Devices />, { role: 'technician' });
    expect((await screen.findAllByText('simulated')).length).toBe(3);
    expect(screen.queryByRole('combobox')).toBeNull();
  });
});

describe('photos of a step', () => {
  const service = { ...exchange, photos: [] } as unknown as Service;
  const file = new File(['x'], 'plug.jpg', { type: 'image/jpeg' });
  const kept = {
    id: 'p',
    step: 'ready',
    words: 'Right vehicle',
    compartment: '',
    width: 8,
    height: 6,
    url: '/p',
    small_url: '/s',
    by: 'Isla',
    at: '2026-06-15T10:00:00Z',
  };
  const input = () => document.querySelector('input[type=file]') as HTMLInputElement;

  it('are sent with their step, and a refusal is said', async () => {
    let answer: object = { status: 422, body: problem('inconsistent', 'This file is no photo that can be read.', 422, 'file') };
    const calls = serve({ [`POST /api/services/${service.id}/photos`]: () => answer });
    show(<StepPhotos service={service} step="ready" mayWork />);
    await userEvent.upload(input(), file);
    expect(await screen.findByText(/no photo that can be read/)).toBeInTheDocument();
    answer = { status: 201, body: { ...service, photos: [kept] } };
    await userEvent.upload(input(), file);
    await waitFor(() => expect(calls.length).toBe(2));
    expect(String(calls[1]?.body)).toContain('ready');
  });

  it('show large on a press, and are taken out while the service is open', async () => {
    const calls = serve({ 'DELETE /api/photos/p': service });
    show(<StepPhotos service={{ ...service, photos: [kept] } as unknown as Service} step="ready" mayWork />);
    await userEvent.click(screen.getByRole('button', { name: /^Photo, Right vehicle/ }));
    expect(screen.getByRole('dialog', { name: 'Photo' })).toHaveTextContent(/Isla/);
    await userEvent.click(screen.getByRole('button', { name: 'Take it out' }));
    await waitFor(() => expect(calls[0]?.method).toBe('DELETE'));
  });

  it('are looked at, not added, by a viewer', () => {
    serve({});
    show(<StepPhotos service={{ ...service, photos: [kept] } as unknown as Service} step="ready" mayWork={false} />);
    expect(screen.queryByText('Add a photo')).toBeNull();
    expect(screen.getByRole('button', { name: /^Photo/ })).toBeInTheDocument();
  });
});
