/** Reading oil and magnet by tapping what is seen; the verdict forms as you tap. Our own drawings, to a stated scale. */
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { Choice } from '../../ui/Choice';
import { oilColour } from '../../ui/oil';
import { FormDrawing, MagnetDrawing } from './drawings';
import type { BodyProps } from './StepCard';

type Particle = { form: string; metal: string; count: number; size_mm: number };
export type FindingDraft = { magnet: string | null; particles: Particle[] | null; colour: string | null; clarity: string | null; smell: string | null };
export const NOTHING: FindingDraft = { magnet: null, particles: null, colour: null, clarity: null, smell: null };

const MAGNETS: [string, string][] = [
  ['none', 'clean'],
  ['film', 'thin film'],
  ['cap', 'cap to 2 mm'],
  ['whiskers', 'whiskers'],
  ['overflowing', 'overflowing'],
];
/** key, form, metal, count, size, name, hint */
const SEEN: [string, Particle, string, string][] = [
  ['paste', { form: 'paste', metal: 'steel', count: 1, size_mm: 0.1 }, 'paste', 'fine, not felt'],
  ['glitter', { form: 'glitter', metal: 'steel', count: 30, size_mm: 0.2 }, 'glitter', 'sparkles by lamp'],
  ['needles', { form: 'sliver', metal: 'steel', count: 2, size_mm: 1 }, 'needles', 'hair-like, under 2 mm'],
  ['flakes', { form: 'flake', metal: 'steel', count: 2, size_mm: 0.8 }, 'flakes', 'can be picked up'],
  ['chips', { form: 'chip', metal: 'steel', count: 1, size_mm: 3 }, 'chips', '2 mm or more'],
  ['part', { form: 'part', metal: 'steel', count: 1, size_mm: 8 }, 'a part', 'tooth, roller, clip'],
  ['yellow', { form: 'glitter', metal: 'yellow', count: 4, size_mm: 0.2 }, 'yellow, a few', 'not magnetic'],
  ['yellow-many', { form: 'glitter', metal: 'yellow', count: 40, size_mm: 0.2 }, 'yellow, many', 'not magnetic'],
  ['aluminium', { form: 'flake', metal: 'aluminium', count: 1, size_mm: 0.5 }, 'silver', 'not magnetic'],
  ['fibres', { form: 'paste', metal: 'friction lining', count: 1, size_mm: 0.6 }, 'dark fibres', 'friction lining'],
  ['seal', { form: 'flake', metal: 'seal', count: 1, size_mm: 1 }, 'seal crumbs', 'soft'],
];
const COLOURS = ['fresh', 'darker', 'brown', 'dark brown', 'black'];

const same = (a: Particle, b: Particle) => a.form === b.form && a.metal === b.metal && a.count === b.count;

function Tile({ on, onClick, children, label }: { on: boolean; onClick: () => void; children: ReactNode; label: string }) {
  return (
    <Box
      component="button"
      type="button"
      aria-pressed={on}
      aria-label={label}
      onClick={onClick}
      sx={{
        border: 3,
        borderColor: on ? 'text.primary' : 'divider',
        borderRadius: 2,
        bgcolor: 'background.paper',
        color: 'text.primary',
        font: 'inherit',
        fontSize: 15,
        lineHeight: 1.15,
        p: 0.5,
        cursor: 'pointer',
        display: 'grid',
        justifyItems: 'center',
        alignContent: 'space-between',
        fontWeight: on ? 700 : 400,
        minHeight: 56,
        '& small': { color: 'text.secondary', fontWeight: 400, fontSize: 13 },
      }}>
      {children}
    </Box>
  );
}

export function Finding({ value, onChange, family }: { value: FindingDraft; onChange: (f: FindingDraft) => void; family: string }) {
  const { tones } = useTheme();
  const set = (part: Partial<FindingDraft>) => onChange({ ...value, ...part });
  const particles = value.particles ?? [];
  const toggle = (p: Particle) => {
    const without = particles.filter((o) => !same(o, p) && !(o.form === p.form && o.metal === p.metal));
    const next = particles.some((o) => same(o, p)) ? without : [...without, p];
    set({ particles: next.length ? next : null });
  };
  const grid = (min: number) => ({ display: 'grid', gap: 0.75, gridTemplateColumns: `repeat(auto-fill, minmax(${min}px, 1fr))` });
  return (
    <Box sx={{ display: 'grid', gap: 1.25 }}>
      <Box component="h3" sx={{ typography: 'h4', m: 0 }}>
        On the magnet
      </Box>
      <Box sx={grid(84)} role="group" aria-label="On the magnet">
        {MAGNETS.map(([key, name]) => (
          <Tile key={key} label={`magnet: ${name}`} on={value.magnet === key} onClick={() => set({ magnet: value.magnet === key ? null : key })}>
            <MagnetDrawing cover={key} />
            {name}
          </Tile>
        ))}
      </Box>
      <Box component="h3" sx={{ typography: 'h4', m: 0 }}>
        In the oil or on the cloth
      </Box>
      <Box sx={grid(84)} role="group" aria-label="In the oil or on the cloth">
        <Tile
          label="no particles"
          on={value.particles !== null && particles.length === 0}
          onClick={() => set({ particles: value.particles !== null && particles.length === 0 ? null : [] })}>
          <FormDrawing form="nothing" metal="" />
          nothing
          <small>looked, none</small>
        </Tile>
        {SEEN.map(([key, p, name, hint]) => (
          <Tile key={key} label={`${name}: ${hint}`} on={particles.some((o) => same(o, p))} onClick={() => toggle(p)}>
            <FormDrawing form={key} metal={p.metal} />
            {name}
            <small>{hint}</small>
          </Tile>
        ))}
      </Box>
      <Box component="h3" sx={{ typography: 'h4', m: 0 }}>
        Colour beside fresh oil
      </Box>
      <Box sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }} role="group" aria-label="Colour beside fresh oil">
        {COLOURS.map((word) => (
          <Tile key={word} label={`colour: ${word}`} on={value.colour === word} onClick={() => set({ colour: value.colour === word ? null : word })}>
            <svg width={78} height={34} viewBox="0 0 78 34" aria-hidden="true">
              <rect width={78} height={34} rx={5} fill={oilColour(family, word)} stroke={tones.line} />
            </svg>
            {word}
          </Tile>
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 3, flexWrap: 'wrap' }}>
        <Choice
          label="Clarity"
          hideLabel
          value={value.clarity ?? ''}
          options={[
            { value: 'clear', label: 'Clear' },
            { value: 'hazy', label: 'Hazy' },
            { value: 'milky', label: 'Milky' },
          ]}
          onChange={(clarity) => set({ clarity })}
        />
        <Choice
          label="Smell"
          hideLabel
          value={value.smell ?? ''}
          options={[
            { value: 'none', label: 'No smell' },
            { value: 'burnt', label: 'Burnt' },
          ]}
          onChange={(smell) => set({ smell })}
        />
      </Box>
    </Box>
  );
}

export function Inspect({ draft, change, ledger }: BodyProps) {
  const finding = { ...NOTHING, ...((draft.finding as Partial<FindingDraft> | undefined) ?? {}) };
  return <Finding value={finding} onChange={(next) => change({ finding: next })} family={ledger?.family ?? 'gear'} />;
}
