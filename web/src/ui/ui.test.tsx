import { fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { Route, Routes } from 'react-router';
import { describe, expect, it, vi } from 'vitest';
import { Refused, Unreachable } from '../app/api';
import { problem, reads, serve, show } from '../testing';
import { Bones } from './Bones';
import { Choice } from './Choice';
import { DrivelineStrip, type StripCompartment } from './DrivelineStrip';
import { Empty } from './Empty';
import { How } from './How';
import { LAYOUTS, placeOf } from './layouts';
import { Page } from './Page';
import { Pick } from './Pick';
import { QuantityField } from './QuantityField';
import { NamedGlass } from './SightGlass';
import { There } from './There';
import { Trouble } from './Trouble';

const box = (id: number, slot: string): StripCompartment => ({
  id,
  name: `Box ${id}`,
  slot,
  state: 'fine',
  used: 0.5,
  family: 'gear',
  colour: '',
  level: null,
  note: `${id} km`,
});

describe('the way there and back', () => {
  it('leads back to where one was, with what its address said', async () => {
    show(
      <Routes>
        <Route
          path="/start/:v"
          element={
            <There to="/shelf?add=oil" from="the start">
              Add the oil
            </There>
          }
        />
        <Route path="/shelf" element={<Page title="Shelf">oils</Page>} />
      </Routes>,
      { path: '/start/3?c=5' },
    );
    fireEvent.click(screen.getByRole('link', { name: 'Add the oil' }));
    expect(await screen.findByRole('heading', { name: 'Shelf' })).toBeInTheDocument();
    expect(screen.getByRole('link', { name: '← Back to the start' })).toHaveAttribute('href', '/start/3?c=5');
  });

  it('says nothing of a way back to whoever came by another way', () => {
    show(<Page title="Shelf">oils</Page>);
    expect(screen.queryByRole('link')).toBeNull();
  });
});

describe('driveline strip', () => {
  it.each(Object.keys(LAYOUTS))('draws a %s with every compartment where it sits, each a link', (layout) => {
    const slots = Object.keys(LAYOUTS[layout]?.slots ?? {});
    show(<DrivelineStrip layout={layout} compartments={slots.map((s, k) => box(k, s))} to={(id) => `/book/${id}`} />);
    const links = screen.getAllByRole('link');
    expect(links).toHaveLength(slots.length);
    expect(links[0]).toHaveAttribute('href', '/book/0');
    expect(screen.getAllByRole('img')).toHaveLength(slots.length);
  });

  it('has the rear axle at the rear and the front axle at the front, in every layout that has both', () => {
    for (const [layout, plan] of Object.entries(LAYOUTS)) {
      const { 'front axle': front, 'rear axle': rear } = plan.slots;
      if (front && rear) expect(front[0], layout).toBeLessThan(rear[0]);
      for (const [x, y] of Object.values(plan.slots)) {
        expect(x).toBeGreaterThan(0);
        expect(x).toBeLessThan(640);
        expect(y).toBeLessThan(80);
      }
    }
  });

  it('lines up what has no place of its own', () => {
    expect(placeOf('bicycle', 'rear axle', 0)[0]).toBeLessThan(placeOf('bicycle', 'rear axle', 1)[0]);
    expect(placeOf('no such layout', 'gearbox', 0)).toHaveLength(2);
  });

  it('notes what is left under each glass', () => {
    show(<DrivelineStrip layout="four-wheel" compartments={[box(7, 'gearbox')]} to={() => '#'} />);
    expect(screen.getByText('7 km')).toBeInTheDocument();
  });
});

describe('named glass', () => {
  it('names its parts', () => {
    show(<NamedGlass state="soon" used={0.93} colour="brown" level={2} title="Gearbox" />);
    for (const words of ['due soon', '7 % left, brown', 'debris 2, watch']) expect(screen.getByText(words)).toBeInTheDocument();
  });

  it('claims nothing about a compartment without a record', () => {
    show(<NamedGlass state="unknown" used={1} level={null} />);
    expect(screen.queryByText(/left/)).toBeNull();
    expect(screen.queryByText(/debris/)).toBeNull();
  });
});

function Amount({ start = '' }: { start?: string }) {
  const [value, setValue] = useState(start);
  return <QuantityField label="Amount" kind="volume" value={value} onChange={setValue} hint="empty: unknown" />;
}

describe('quantity field', () => {
  it('says what was understood, once typing rests', async () => {
    const calls = serve({ 'POST /api/bench/read': reads });
    show(<Amount />);
    expect(screen.getByText('empty: unknown')).toBeInTheDocument();
    expect(screen.getByText('mL')).toBeInTheDocument();
    fireEvent.change(screen.getByLabelText('Amount'), { target: { value: '1.9 U' } });
    fireEvent.change(screen.getByLabelText('Amount'), { target: { value: '1.9 US qt' } });
    expect(await screen.findByText('= read 1.9 US qt')).toBeInTheDocument();
    expect(calls).toHaveLength(1);
    expect(calls[0]?.body).toEqual({ text: '1.9 US qt', kind: 'volume' });
  });

  it('shows a refusal at the field and keeps what was typed', async () => {
    serve({ 'POST /api/bench/read': reads });
    show(<Amount start="2 qt" />);
    expect(await screen.findByText(/US or imperial/)).toBeInTheDocument();
    expect(screen.getByLabelText('Amount')).toHaveValue('2 qt');
    expect(screen.getByLabelText('Amount')).toHaveAttribute('aria-invalid', 'true');
  });

  it('does not blame the typist when the server is away', async () => {
    const calls = serve({ 'POST /api/bench/read': () => new TypeError('network') });
    show(<Amount start="2 L" />);
    await waitFor(() => expect(calls.length).toBeGreaterThan(0));
    expect(screen.getByLabelText('Amount')).not.toHaveAttribute('aria-invalid', 'true');
  });
});

describe('small parts', () => {
  it('a choice is a radio group that the arrow keys move in', async () => {
    const chosen = vi.fn();
    show(
      <Choice
        label="Light"
        value="day"
        options={[
          { value: 'day', label: 'Day' },
          { value: 'night', label: 'Night' },
        ]}
        onChange={chosen}
      />,
    );
    expect(screen.getByRole('group', { name: 'Light' })).toBeInTheDocument();
    screen.getByRole('radio', { name: 'Day' }).focus();
    await userEvent.keyboard('{ArrowRight}');
    expect(chosen).toHaveBeenCalledWith('night');
  });

  it('a pick shows its problem', () => {
    show(<Pick label="Sheet" value="" options={[['1', 'one']]} onChange={() => undefined} empty="choose" problem="Choose one." />);
    expect(screen.getByLabelText('Sheet')).toHaveAccessibleDescription('Choose one.');
    expect(screen.getByRole('option', { name: 'choose' })).toBeInTheDocument();
  });

  it('trouble says one sentence and what is allowed, and offers to try again', async () => {
    const again = vi.fn();
    const error = new Refused({
      ...problem('out-of-range', 'capacity is -5.', 422, 'capacity'),
      errors: [{ field: 'capacity', message: 'capacity is -5.', allowed: '5 to 60000 mL' }],
    });
    show(<Trouble error={error} again={again} />);
    expect(screen.getByRole('alert')).toHaveTextContent('capacity is -5. Allowed: 5 to 60000 mL.');
    await userEvent.click(screen.getByRole('button', { name: 'Try again' }));
    expect(again).toHaveBeenCalledOnce();
  });

  it('trouble is silent when there is none, and plain when the server is away', () => {
    const { container, rerender } = show(<Trouble error={null} />);
    expect(container).toBeEmptyDOMElement();
    rerender(<span />);
    show(<Trouble error={new Unreachable()} />);
    expect(screen.getByRole('alert')).toHaveTextContent('What you typed is kept');
  });

  it('how opens the working and closes by Escape', async () => {
    show(<How working={{ formula: 'a + b', inputs: [['a', '1 mL']], source: 'ASTM D1250' }} title="Sum" />);
    fireEvent.click(screen.getByRole('button', { name: 'How?' }));
    const sheet = await screen.findByRole('dialog', { name: 'Sum' });
    expect(sheet).toHaveTextContent('a + b');
    expect(sheet).toHaveTextContent('Source: ASTM D1250');
    await userEvent.keyboard('{Escape}');
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  });

  it('an empty list says what to do first, and loading shows structure', () => {
    show(
      <>
        <Empty title="No vehicle yet">
          <span>Add the first one.</span>
        </Empty>
        <Bones lines={3} />
      </>,
    );
    expect(screen.getByText('Add the first one.')).toBeInTheDocument();
    expect(screen.getByRole('status', { name: 'Loading' }).children).toHaveLength(3);
  });
});
