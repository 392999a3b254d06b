import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import measure from '../../../../../tests/fixtures/service-measure.json';
import swatches from '../../../../../tests/fixtures/swatches.json';
import tints from '../../../../../tests/fixtures/tints.json';
import { problem, serve, show } from '../../../testing';
import { oilColour } from '../../../ui/oil';
import { VariantSentence } from '../amounts/VariantSentence';
import { DrainStrip } from './DrainStrip';
import { Finding } from './Finding';
import { shownSwatches } from './SwatchStrip';
import { Verdict } from './Verdict';
import { type FindingDraft, fromSlider, NOTHING, toSlider } from './words';

const PHOTO = {
  id: 'p1',
  step: 'look.1',
  words: 'Read oil and magnet',
  compartment: '1',
  width: 1600,
  height: 1200,
  url: '/api/photos/p1',
  small_url: '/api/photos/p1/small',
  by: 'Fergus',
  at: '2026-06-15T10:00:00Z',
};
const OIL = { lab: [30, 20, 25], hex: '#6A3A14', delta_e: 41.2, sigma: 0.4, word: 'dark brown', d1500: 5.5, sure: 0.9, fresh_share: null };
const READ = {
  light: 'near daylight',
  fresh: { ...OIL, hex: '#E8C75A', delta_e: 0, word: 'fresh', d1500: 1.5 },
  drained: [OIL],
  doubts: ['Drained oil: the mark takes in more than one colour, or a reflection.'],
  text: 'ΔE 41.2 from fresh; ASTM D1500 about 5.5, dark brown.',
  working: { formula: 'ΔE', inputs: [], source: 'ISO/CIE 11664-6' },
};
const COVER = { share: 0.62, beyond: 0, suggests: 'cap', sure: 0.9, text: '62 % of the circle is covered.', working: READ.working };

let last: FindingDraft = NOTHING;
function Taps({ family = 'gear', photos = [] as (typeof PHOTO)[] }) {
  const [value, setValue] = useState(NOTHING);
  return (
    <Finding
      value={value}
      family={family}
      photos={photos}
      compartment="1"
      onChange={(next) => {
        last = next;
        setValue(next);
      }}
    />
  );
}
const start = (photos: (typeof PHOTO)[] = [], more: object = {}, family = 'gear') => {
  last = NOTHING;
  const calls = serve({ 'GET /api/swatches': family === 'gear' ? swatches : tints, ...more });
  show(<Taps photos={photos} family={family} />);
  return calls;
};
const tap = (name: RegExp | string) => fireEvent.click(screen.getByRole('button', { name }));

describe('a finding by tapping', () => {
  it('begins as not looked at in every group, and a second tap goes back to it', async () => {
    start();
    expect(screen.getAllByText('not looked at')).toHaveLength(6);
    tap(/magnet: cap/);
    expect(last.magnet).toBe('cap');
    expect(screen.getAllByText('not looked at')).toHaveLength(5);
    tap(/magnet: cap/);
    expect(last.magnet).toBeNull();
    tap(/^nothing: none seen/);
    expect(last.particles).toEqual([]);
    tap(/^nothing: none seen/);
    expect(last.particles).toBeNull();
  });

  it('takes a form, its metal by the test, how many, and the size by the key beside it', async () => {
    start();
    tap(/^flakes/);
    const detail = screen.getByRole('group', { name: 'The flakes' });
    fireEvent.click(within(detail).getByRole('button', { name: 'brass' }));
    expect(detail).toHaveTextContent(/a file shows yellow all through/);
    fireEvent.click(within(detail).getByRole('button', { name: 'many' }));
    fireEvent.click(within(detail).getByRole('button', { name: 'not' }));
    fireEvent.click(within(detail).getByRole('button', { name: 'as wide as the 2 mm key' }));
    expect(last.particles).toEqual([{ form: 'flake', metal: 'yellow', count: 40, size_mm: 2, magnetic: false }]);
    fireEvent.keyDown(within(detail).getByRole('button', { name: 'as wide as the 1.5 mm key' }), { key: 'Enter' });
    expect(last.particles?.[0]?.size_mm).toBe(1.5);
  });

  it('takes two metals of one form apart, and takes one out again', () => {
    start();
    tap(/^flakes/);
    tap('Other flakes as well');
    fireEvent.click(within(screen.getByRole('group', { name: 'The flakes' })).getByRole('button', { name: 'alloy' }));
    expect(last.particles?.map((p) => p.metal)).toEqual(['steel', 'aluminium']);
    expect(within(screen.getByRole('list', { name: 'Particles noted' })).getAllByRole('listitem')).toHaveLength(2);
    tap('Take it out');
    expect(last.particles?.map((p) => p.metal)).toEqual(['steel']);
  });

  it('drags the size over four decades by the arrow keys', async () => {
    start();
    tap(/^chips/);
    const slider = screen.getByRole('slider', { name: 'Size of the largest of the chips' });
    fireEvent.change(slider, { target: { value: String(toSlider(12)) } });
    expect(last.particles?.[0]?.size_mm).toBe(12);
    expect(slider).toHaveAttribute('aria-valuetext', '12 mm');
    for (const mm of [0.1, 0.5, 1, 3, 8, 20, 50]) expect(fromSlider(toSlider(mm))).toBeCloseTo(mm, 5);
    expect(fromSlider(-3)).toBe(0.1);
    expect(fromSlider(9)).toBe(50);
  });

  it('picks a colour with its D1500 number, or a tint where the oil is dyed', async () => {
    start();
    fireEvent.click(await screen.findByRole('button', { name: 'colour: brown, ASTM D1500 4' }));
    expect([last.colour, last.d1500]).toEqual(['brown', 4]);
    expect(screen.getByText('Brown, D1500 about 4.')).toBeInTheDocument();
    fireEvent.click(screen.getByRole('button', { name: 'colour: brown, ASTM D1500 4' }));
    expect([last.colour, last.d1500]).toEqual([null, null]);
  });

  it('knows colours that no oil takes on by ageing, and red is one in a gear oil alone', async () => {
    start();
    fireEvent.click(await screen.findByRole('button', { name: 'colour: brown, ASTM D1500 4' }));
    fireEvent.click(screen.getByRole('button', { name: 'bluish' }));
    expect([last.colour, last.d1500]).toEqual(['bluish', null]);
    expect(screen.getByText('Bluish: not what this oil turns to by itself.')).toBeInTheDocument();
    cleanup();
    start([], {}, 'atf');
    await screen.findByRole('button', { name: 'colour: dark brown' });
    expect(screen.queryByRole('button', { name: 'reddish' })).toBeNull();
  });

  it('shows tints without numbers for a dyed oil', async () => {
    start([], {}, 'atf');
    fireEvent.click(await screen.findByRole('button', { name: 'colour: dark brown' }));
    expect([last.colour, last.d1500]).toEqual(['dark brown', null]);
  });

  it('shows whole numbers, and the half that was measured among them', () => {
    expect(shownSwatches(swatches, null).map((s) => s.d1500)).toEqual([0.5, 1, 2, 3, 4, 5, 6, 7, 8]);
    expect(shownSwatches(swatches, 5.5).map((s) => s.d1500)).toContain(5.5);
  });

  it('draws the tints that the server measures against', () => {
    for (const s of tints) expect(oilColour('atf', s.word)).toBe(s.hex);
  });

  it('notes smell, clarity and where it is wet', () => {
    start();
    tap('Milky');
    tap('Burnt');
    tap('on a brake');
    expect([last.clarity, last.smell, last.wet]).toEqual(['milky', 'burnt', 'brake']);
    tap('on a brake');
    expect(last.wet).toBeNull();
  });
});

describe('a photo measured', () => {
  it('asks only when the marks are placed, moves them by keys, and hands the colour over', async () => {
    const calls = start([PHOTO], { 'POST /api/photos/p1/colour': READ });
    tap('Measure it from a photo');
    const fresh = await screen.findByRole('button', { name: /^Fresh oil/ });
    expect(calls.some((c) => c.path.includes('colour'))).toBe(false);
    fireEvent.keyDown(fresh, { key: 'ArrowLeft' });
    fireEvent.keyDown(screen.getByRole('button', { name: /^Drained oil/ }), { key: 'ArrowDown' });
    expect(await screen.findByText(/ASTM D1500 about 5.5/)).toBeInTheDocument();
    expect(screen.getByText(/more than one colour/)).toBeInTheDocument();
    const asked = calls.filter((c) => c.path.includes('colour'));
    expect(asked).toHaveLength(1); // once, and for the marks where they came to rest
    const marks = asked.map((c) => c.body as { fresh: { x: number }; drained: { y: number }[] })[0];
    expect(marks?.fresh.x).toBeLessThan(0.3);
    expect(marks?.drained[0]?.y).toBeGreaterThan(0.5);
    await userEvent.click(screen.getByRole('button', { name: 'Take this colour' }));
    expect([last.colour, last.d1500, last.delta_e]).toEqual(['dark brown', 5.5, 41.2]);
  });

  it('says why a photo cannot be read, and leaves what was noted', async () => {
    start([PHOTO], {
      'POST /api/photos/p1/colour': () => ({ status: 422, body: problem('inconsistent', 'The photo is too dark to read a colour from.', 422, 'paper') }),
    });
    tap('Measure it from a photo');
    fireEvent.keyDown(await screen.findByRole('button', { name: /^Fresh oil/ }), { key: 'ArrowLeft' });
    fireEvent.keyDown(screen.getByRole('button', { name: /^Drained oil/ }), { key: 'ArrowDown' });
    expect(await screen.findByText(/too dark to read/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Take this colour' })).toBeDisabled();
    await userEvent.click(screen.getByRole('button', { name: 'Leave it' }));
    expect(last).toEqual(NOTHING);
  });

  it('takes no colour and no cover of a mark that has been moved since', async () => {
    let asked = 0;
    start([PHOTO], { 'POST /api/photos/p1/magnet': () => ({ body: { ...COVER, share: ++asked === 1 ? 0.62 : 0.31 } }) });
    tap('Read it from a photo');
    await waitFor(() => expect(screen.getByRole('button', { name: 'Yes, so it is' })).toBeEnabled());
    fireEvent.keyDown(screen.getByRole('button', { name: /^The magnet/ }), { key: 'ArrowLeft' });
    expect(screen.getByRole('button', { name: 'Yes, so it is' })).toBeDisabled();
    await waitFor(() => expect(screen.getByRole('button', { name: 'Yes, so it is' })).toBeEnabled());
    tap('Yes, so it is');
    expect(last.covered).toBe(0.31);
  });

  it('suggests a cover, which is taken or left', async () => {
    start([PHOTO], { 'POST /api/photos/p1/magnet': COVER });
    tap('Read it from a photo');
    expect(await screen.findByText(/62 % of the circle/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole('button', { name: 'Yes, so it is' }));
    expect([last.magnet, last.covered]).toEqual(['cap', 0.62]);
  });

  it('draws drain 1 … n against fresh, and says the figures', () => {
    show(
      <DrainStrip
        fresh={READ.fresh as never}
        drained={
          [
            { ...OIL, fresh_share: 0 },
            { ...OIL, delta_e: 12, fresh_share: 0.6 },
          ] as never
        }
      />,
    );
    expect(screen.getByRole('img', { name: 'drain 1: ΔE 41.2, 0 % fresh by the sums; drain 2: ΔE 12.0, 60 % fresh by the sums' })).toBeInTheDocument();
  });
});

const JUDGED = {
  level: 2,
  name: 'watch',
  actions: ['Open or sample before long duty.'],
  look: 'Look again after the lesser of 5 000 km / 50 h, a quarter of the interval, or three months.',
  reasons: [{ rule: 'flakes-few', level: 2, text: '2 small flakes.', basis: 'common practice' }],
  interval_factor: 0.5,
  rise: false,
  not_looked_at: [],
  cap: null,
  questions: [{ rule: 'clean-and-chips', text: 'The magnet is clean, yet there are chips of steel.', ask: 'Is it steel?' }],
};

describe('the verdict', () => {
  it('says by which meter and which day to look again, and what is questioned', async () => {
    serve({});
    const follows = [
      {
        kind: 'due-cap',
        code: 'finding',
        what: 'The interval is shortened',
        due_on: null,
        due_meter: null,
        factor: 0.5,
        basis: 'common practice',
        id: 0,
        offer: '',
        offer_ml: null,
        offer_nm: null,
      },
      {
        kind: 'look-again',
        code: 'finding',
        what: 'Look again: flakes',
        due_on: '2026-09-15',
        due_meter: 77000,
        factor: null,
        basis: 'common practice',
        id: 0,
        offer: '',
        offer_ml: null,
        offer_nm: null,
      },
    ];
    const promise = { follows, next: { on: '2028-06-15', at_meter: 102000, limit: 'distance', state: 'fine' } };
    show(<Verdict assessment={JUDGED} promise={promise} />);
    expect(await screen.findByText('Look again: flakes')).toBeInTheDocument();
    const listed = screen.getByRole('list', { name: 'What follows' });
    expect(listed).toHaveTextContent(/The interval is shortened, 50 % of the usual interval/);
    expect(listed).toHaveTextContent(/by 15 Sept?( 2026)? or at 77.000.km/);
    expect(screen.getByText(/Next change by Jun 2028 or at 102.000.km/)).toBeInTheDocument();
    expect(screen.queryByText(/the lesser of/)).toBeNull();
    expect(screen.getByText('Open or sample before long duty.')).toBeInTheDocument();
    expect(screen.getByRole('alert')).toHaveTextContent(/Is it steel\?/);
  });

  it('is not looked at when nothing is noted', async () => {
    serve({});
    show(<Verdict assessment={measure.ledgers[0]?.assessment ?? null} />);
    await waitFor(() => expect(screen.getByText(/not looked at/)).toBeInTheDocument());
  });

  it('proposes a variant and says what settles it', () => {
    const verdict = {
      shares: [
        { name: 'short', share: 0.93, expected_ml: 1700, loss_ml: 20 },
        { name: 'long', share: 0.07, expected_ml: 2100, loss_ml: 420 },
      ],
      named: 'short',
      circular: true,
      settle: ['Read the casing: pad', 'Fill to the level and count what it takes'],
      text: '1 680 mL came out. It is the short (93 %).',
      working: READ.working,
    };
    show(<VariantSentence verdict={verdict as never} />);
    expect(screen.getByRole('status')).toHaveTextContent(/It is the short.*Read the casing: pad; Fill to the level/);
  });
});
