import { fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import { describe, expect, it } from 'vitest';
import audit from '../../../../../tests/fixtures/audit.json';
import history from '../../../../../tests/fixtures/history.json';
import trend from '../../../../../tests/fixtures/trend.json';
import verdict from '../../../../../tests/fixtures/verdict.json';
import { problem, serve, show } from '../../../testing';
import { LevelLine } from '../../bay/findings/LevelLine';
import { AuditPage } from '../AuditPage';
import { VerdictPage } from '../VerdictPage';
import { Learnt } from './Learnt';
import { Outlook } from './Outlook';
import { RunPicture, runStep } from './RunPicture';
import { StandsOut } from './StandsOut';
import { VolumeLedger } from './VolumeLedger';

type Trend = Parameters<typeof StandsOut>[0]['trend'];
const T = trend as unknown as Trend;
const SISTERS = { mean_level: 1.5, low: 1, high: 2, looks: 3, places: 2, above: true, text: '3 looks into 2 sister compartments.', working: T.loss?.working };
const RICH = {
  ...T,
  rises: [{ rule: 'level', text: 'Up from 0 (clean) to 1 (normal wear), still fair.', looks: 2 }],
  surprises: [
    { rule: 'clean-no-record', text: 'As fresh, and no change is on record.', causes: ['Somebody changed it'], do: 'Ask.', basis: 'common practice' },
  ],
  exposures: [{ oil: 'Heavy', since: '2025-06-15', until: null, run: 900, why: 'GL-5 on brass', look_for: ['Yellow flecks'], follow_up: 'Take it out now.' }],
  against: SISTERS,
  against_now: SISTERS,
  sisters: [{ vehicle: 'Sister, gearbox', compartment_id: 9, on: '2026-01-05', run: 8000, level: 2 }],
} as unknown as Trend;

describe('the trend', () => {
  it('says what stands out, with causes and what to look for', () => {
    serve({});
    show(<StandsOut trend={RICH} />);
    expect(screen.getByText(/still fair/)).toBeInTheDocument();
    expect(screen.getByText(/May be: somebody changed it/)).toBeInTheDocument();
    expect(screen.getByText(/Wrong oil: Heavy/)).toHaveTextContent(/still inside/);
    expect(screen.getByText(/Look for: yellow flecks/)).toBeInTheDocument();
  });

  it('never says so beside a repair', () => {
    serve({});
    show(<StandsOut trend={T} />);
    expect(screen.getByText('Oil is lost.')).toBeInTheDocument();
    expect(screen.getByText(/A leak: plan the seal/)).toBeInTheDocument();
    expect(screen.queryByText(/Nothing stands out/)).toBeNull();
  });

  it('says so when nothing does', () => {
    serve({});
    show(<StandsOut trend={{ ...T, lost: '' }} />);
    expect(screen.getByText(/Nothing stands out/)).toBeInTheDocument();
  });

  it('draws its own looks among its sisters', async () => {
    serve({});
    show(<RunPicture trend={RICH} />);
    expect(await screen.findByRole('img', { name: /level 1 after 11.000.km; 1 look into sister compartments/ })).toBeInTheDocument();
    expect(runStep(11_000)).toBe(5000);
    expect(runStep(180)).toBe(50);
  });

  it('draws the level of before and of now on one line', async () => {
    serve({});
    show(<LevelLine trend={RICH} level={2} />);
    expect(await screen.findByRole('img', { name: /Levels before: 15 Jun 2026 1/ })).toBeInTheDocument();
    expect(screen.getByText('sisters, 3 looks')).toBeInTheDocument();
  });

  it('puts colour, kind and rate of loss under the ledger', async () => {
    serve({});
    show(<VolumeLedger records={history.records as never} family="gear" meter="km" trend={T.points} />);
    expect(await screen.findByText('16.8')).toBeInTheDocument();
    expect(screen.getByText('paste only')).toBeInTheDocument();
  });

  it('asks what a trip will cost, and keeps nonsense in its field', async () => {
    const calls = serve({ 'GET /api/book/1/trend': T });
    show(<Outlook trend={T} today="2026-06-15" />);
    await userEvent.type(screen.getByLabelText('A trip of'), '9 000 km');
    expect(await screen.findByText(/The level (stays|falls|may)/)).toBeInTheDocument();
    expect(calls.length).toBeGreaterThan(0);
  });

  it('shows why a trip cannot be read', async () => {
    serve({ 'GET /api/book/1/trend': () => ({ status: 422, body: problem('unreadable', 'That is no distance.', 422, 'ahead') }) });
    show(<Outlook trend={T} today="2026-06-15" />);
    await userEvent.type(screen.getByLabelText('A trip of'), 'far');
    expect(await screen.findByText('That is no distance.')).toBeInTheDocument();
    expect(screen.getByLabelText('A trip of')).toHaveValue('far');
  });

  it('has an empty state for the outlook', () => {
    serve({});
    show(<Outlook trend={{ ...T, loss: null }} today="2026-06-15" />);
    expect(screen.getByText(/No loss can be reckoned yet/)).toBeInTheDocument();
  });

  it('offers a revision of the sheet where the evidence is strong', async () => {
    const went_in = { mean_ml: 1710, sd_ml: 9, half_ml: 12, count: 4, places: 2 };
    const calls = serve({ 'POST /api/book/1/learnt': { id: 4 } });
    show(<Learnt compartment={1} learnt={{ ...T.learnt, went_in, proposes_ml: 1710, text: '1 710 mL went in.' }} sheet={1850} sheetId={2} />);
    fireEvent.click(await screen.findByRole('button', { name: /Revise the sheet to 1.710.mL/ }));
    expect(await screen.findByText(/Revised/)).toBeInTheDocument();
    expect(calls.some((c) => c.method === 'POST')).toBe(true);
    expect(screen.getByRole('img', { name: /went in 1.710.mL/ })).toBeInTheDocument();
  });
});

describe('the audit', () => {
  it('lists what is missing by kind, each with its way to mend it', async () => {
    serve({ 'GET /api/book/audit': audit });
    show(<AuditPage />);
    const first = audit.items[0];
    expect((await screen.findAllByText(first?.text ?? '')).length).toBeGreaterThan(0);
    expect(screen.getAllByRole('link', { name: first?.mend }).some((l) => l.getAttribute('href') === first?.path)).toBe(true);
    expect(screen.getAllByRole('listitem')).toHaveLength(audit.items.length);
  });

  it('shows one kind alone', async () => {
    const guess = { kind: 'guess', words: 'A guessed figure in use', count: 1 };
    const item = { ...audit.items[0], kind: 'guess', text: 'Guessed on its sheet: torque.' };
    serve({ 'GET /api/book/audit': { ...audit, counts: [...audit.counts, guess], items: [...audit.items, item] } });
    show(<AuditPage />);
    fireEvent.click(await screen.findByRole('button', { name: /1 · a guessed figure in use/ }));
    expect(screen.getAllByRole('listitem')).toHaveLength(1);
    expect(screen.getByText('Guessed on its sheet: torque.')).toBeInTheDocument();
  });

  it('says so when nothing is missing', async () => {
    serve({ 'GET /api/book/audit': { ...audit, items: [], counts: [], sound: 3, compartments: 3 } });
    show(<AuditPage />);
    expect(await screen.findByText('Nothing is missing')).toBeInTheDocument();
    expect(screen.getByText(/3 of 3 compartments/)).toBeInTheDocument();
  });
});

describe("the vehicle's sheet", () => {
  it('says in plain words what was seen, what it means and what next', async () => {
    serve({ 'GET /api/book/vehicles/1/verdict': verdict });
    show(
      <Routes>
        <Route path="/book/vehicle/:vehicle" element={<VerdictPage />} />
      </Routes>,
      { path: '/book/vehicle/1' },
    );
    expect(await screen.findByRole('article', { name: 'Gearbox' })).toHaveTextContent(/The oil was brown/);
    expect(screen.getByText(verdict.sentence)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Print it' })).toBeInTheDocument();
  });
});
