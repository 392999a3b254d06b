import { fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { Route, Routes } from 'react-router';
import { describe, expect, it, vi } from 'vitest';
import bolts from '../../../../../tests/fixtures/bolts.json';
import gaps from '../../../../../tests/fixtures/gaps.json';
import open from '../../../../../tests/fixtures/open.json';
import schools from '../../../../../tests/fixtures/schools.json';
import exchange from '../../../../../tests/fixtures/service-exchange.json';
import signed from '../../../../../tests/fixtures/service-signed.json';
import topup from '../../../../../tests/fixtures/service-topup.json';
import slope from '../../../../../tests/fixtures/slope.json';
import start from '../../../../../tests/fixtures/start-exchange.json';
import torque from '../../../../../tests/fixtures/torque.json';
import waste from '../../../../../tests/fixtures/waste.json';
import { type Call, reads, serve, show } from '../../../testing';
import { Bolts } from '../../../ui/Bolts';
import { BookHome } from '../../book/BookHome';
import { Adaptor } from '../amounts/Wrench';
import { firstChoice, jobRequest } from '../start/startChoice';
import { Work } from '../start/Work';
import { Calls } from './Calls';
import { ServicePage } from './ServicePage';
import type { Step } from './service';
import { Times } from './Times';

const automatic = start.jobs.find((j) => j.name === 'Automatic') as (typeof start.jobs)[number];
const firstWork = () => firstChoice(automatic as never, [automatic.compartment]).work;

function Chosen({ seen }: { seen: (work: ReturnType<typeof firstWork>) => void }) {
  const [work, setWork] = useState(firstWork());
  seen(work);
  return <Work job={automatic as never} work={work} change={setWork} at={() => ''} />;
}

describe('the kind of service', () => {
  it('begins with the usual one, plans the exchange both ways, and keeps what is chosen', async () => {
    serve({ 'POST /api/bench/exchange': schools });
    const seen = vi.fn();
    show(<Chosen seen={seen} />);
    expect(screen.getByRole('radio', { name: 'exchange in cycles' })).toBeChecked();
    const flow = await screen.findByRole('radio', { name: /Flow through/ });
    expect(screen.getByRole('radiogroup', { name: 'School of exchange' })).toHaveTextContent(/3 drains give 81 % fresh/);
    await userEvent.click(flow);
    expect(seen.mock.lastCall?.[0]).toMatchObject({ school: 'flow through', cycles: 0 });
    await userEvent.click(screen.getByRole('button', { name: 'Let another job ride along' }));
    await userEvent.click(screen.getByRole('button', { name: 'breather' }));
    await userEvent.type(screen.getByLabelText('or another'), 'mount{Enter}');
    expect(seen.mock.lastCall?.[0].attached).toEqual(['breather', 'mount']);
    await userEvent.click(screen.getByRole('radio', { name: 'correction of a wrong oil' }));
    await userEvent.type(screen.getByLabelText('What went in by mistake'), 'brake fluid');
    const work = seen.mock.lastCall?.[0];
    expect(work).toMatchObject({ kind: 'correction', wrongOil: 'brake fluid' });
    expect(jobRequest(7, { ...firstChoice(automatic as never, []), work }).work).toEqual({
      kind: 'correction',
      cycles: 0,
      target_fresh: 0.7,
      school: 'flow through',
      attached: ['breather', 'mount'],
      wrong_oil: 'brake fluid',
    });
  });
});

function page(view: { id: number }, routes: Record<string, object | ((call: Call) => object)> = {}) {
  const calls = serve({ [`GET /api/services/${view.id}`]: view, 'GET /api/services': open, 'POST /api/bench/read': reads, ...routes });
  show(
    <Routes>
      <Route path="/bay/:service" element={<ServicePage />} />
    </Routes>,
    { path: `/bay/${view.id}`, role: 'technician' },
  );
  return calls;
}
const acts = (calls: Call[]) => calls.filter((c) => c.path.endsWith('/acts')).map((c) => c.body);

describe('an exchange', () => {
  it('says where it ends, and takes one more drain', async () => {
    const calls = page(exchange, { [`POST /api/services/${exchange.id}/acts`]: exchange });
    const bar = await screen.findByRole('group', { name: 'Exchange' });
    expect(bar).toHaveTextContent(/3 drains give only 78\s% fresh; 5 would reach the 90\s%/);
    await userEvent.click(screen.getByRole('button', { name: 'Add a drain' }));
    await waitFor(() => expect(acts(calls)[0]).toMatchObject({ kind: 'cycles', values: { count: 4 } }));
  });
});

describe('a top-up', () => {
  it('is a measurement while it is poured', async () => {
    const calls = page(topup, {
      [`POST /api/services/${topup.id}/acts`]: topup,
      [`GET /api/services/${topup.id}/pour`]: {
        compartment: '2',
        oil: 'Heavy',
        target_ml: null,
        target_basis: '',
        plan: null,
        bottles: [],
        dead_ml: 0,
        settle_s: 120,
      },
    });
    expect(await screen.findByText(/check and top-up/)).toBeInTheDocument();
    expect(screen.getByText(/120\smL lost/)).toBeInTheDocument();
    expect(screen.queryByText('It was full: nothing went in')).toBeNull();
    fireEvent.change(screen.getByLabelText('Poured'), { target: { value: '80 mL' } });
    await userEvent.click(screen.getByRole('button', { name: 'Add it' }));
    await waitFor(() => expect(acts(calls)[0]).toMatchObject({ kind: 'add', values: { volume_ml: '80 mL' } }));
  });

  it('is begun on level ground, measured or ticked', async () => {
    const steps = topup.steps.map((s) => (s.id === 'levelled' ? { ...s, status: 'open', act: '', values: {} } : s));
    const calls = page({ ...topup, steps, current: 'levelled' } as never, { 'POST /api/bench/slope': slope });
    fireEvent.change(await screen.findByLabelText('One end stands higher by'), { target: { value: '120 mm' } });
    fireEvent.change(screen.getByLabelText('Wheelbase'), { target: { value: '2.4 m' } });
    expect(await screen.findByText(/2\.9° out of level: about/)).toBeInTheDocument();
    expect(calls.find((c) => c.path === '/api/bench/slope')?.body).toMatchObject({ lift_mm: '120 mm', capacity_ml: 1500 });
  });
});

describe('what is called out', () => {
  const sweep = { timer_s: 40, calls: ['P', 'R', 'N', 'D'], timer_started: '2026-06-15T10:00:00Z', timer_stopped: null } as unknown as Step;

  it('follows the timer by the server’s clock, and is read out when that is wanted', () => {
    show(<Calls step={sweep} now="2026-06-15T10:00:12Z" />);
    expect(screen.getByRole('status')).toHaveTextContent('R');
    expect(screen.getByText('10 s each; next: N')).toBeInTheDocument();
  });

  it('is spoken only by those who asked for it', () => {
    const speak = vi.fn();
    vi.stubGlobal('speechSynthesis', { speak, cancel: vi.fn() });
    vi.stubGlobal(
      'SpeechSynthesisUtterance',
      class {
        lang = '';
        constructor(readonly text: string) {}
      },
    );
    const { unmount } = show(<Calls step={sweep} now="2026-06-15T10:00:12Z" />);
    expect(speak).not.toHaveBeenCalled();
    unmount();
    show(<Calls step={sweep} now="2026-06-15T10:00:12Z" />, { spoken: true });
    expect(speak.mock.calls[0]?.[0].text).toBe('R');
  });

  it('waits at the first, and says when it is over', () => {
    const { unmount } = show(<Calls step={{ ...sweep, timer_started: null }} now="2026-06-15T10:00:12Z" />);
    expect(screen.getByRole('status')).toHaveTextContent('P');
    unmount();
    show(<Calls step={sweep} now="2026-06-15T10:02:00Z" />);
    expect(screen.getByRole('status')).toHaveTextContent('Done: stop the timer');
  });
});

describe('beside a torque', () => {
  it('draws the bolts with their turns and says the rounds', async () => {
    serve({ 'POST /api/bench/bolts': bolts });
    show(<Bolts count="8" torque="12 N·m" />);
    expect(await screen.findByRole('img', { name: 'Order of the bolts, by number: 1, 5, 3, 7, 2, 6, 4, 8' })).toBeInTheDocument();
    expect(screen.getByText('half torque: 6 N·m')).toBeInTheDocument();
  });

  it('sums an adaptor on the wrench', async () => {
    serve({ 'POST /api/bench/torque': torque, 'POST /api/bench/read': reads });
    show(<Adaptor torque="100 N·m" />);
    await userEvent.click(screen.getByRole('button', { name: /An adaptor on the wrench/ }));
    fireEvent.change(screen.getByLabelText('Wrench, drive to hand'), { target: { value: '300 mm' } });
    expect(await screen.findByText(/Set 80\.0 N·m/)).toBeInTheDocument();
  });
});

describe('afterwards', () => {
  it('sets the time taken against the time planned', () => {
    show(<Times times={[{ phase: 'drain', planned_s: 1200, taken_s: 45 }]} />);
    expect(screen.getByText('45 s of 20 min')).toBeInTheDocument();
  });

  it('lists used oil, and counts what nobody wrote down', async () => {
    serve({ 'GET /api/book/waste': { ...waste, unknown: 2 }, 'GET /api/book': [] });
    show(<BookHome />);
    expect(await screen.findByText(/of 2 changes no amount was written down/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Waste log' }));
    expect(screen.getByText(/Old 4x4, gearbox/)).toBeInTheDocument();
  });

  it('makes a measured fill the figure of a sheet that had none', async () => {
    const offer = {
      kind: 'adopt',
      code: 'capacity',
      what: 'take over what it took',
      due_on: null,
      due_meter: null,
      factor: null,
      basis: '',
      offer: '',
      offer_ml: 1843,
    };
    const unknown = { ...signed, records: signed.records.map((r) => ({ ...r, follows: [{ ...offer, id: 9 }] })) };
    const calls = serve({
      'GET /api/services/1': unknown,
      'GET /api/services/1/gaps': gaps,
      'GET /api/due': { vehicles: [], today: '2026-06-15' },
      'POST /api/consequences': { id: 4 },
    });
    show(
      <Routes>
        <Route path="/bay/:service" element={<ServicePage />} />
      </Routes>,
      { path: '/bay/1' },
    );
    await userEvent.click(await screen.findByRole('button', { name: /the sheet's figure/ }));
    expect(await screen.findByText(/The sheet says/)).toBeInTheDocument();
    expect(calls.find((c) => c.method === 'POST')?.path).toBe('/api/consequences/9/take');
  });
});
