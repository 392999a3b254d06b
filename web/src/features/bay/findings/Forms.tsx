/** The particles: forms to tap, then metal by its test, how many, and the size by dragging or by the key that fits beside it. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import { useTheme } from '@mui/material/styles';
import { useState } from 'react';
import { FormDrawing, METAL_TONES, particlePath } from './drawings';
import { Pills, Tile } from './Tile';
import { COUNTS, countWords, FORMS, formName, fromSlider, KEYS, METALS, metalName, type Particle, toSlider } from './words';

/** A ruler with the particle lying on it and the keys beside it, all to one scale. */
function Ruler({ p, pick }: { p: Particle; pick: (mm: number) => void }) {
  const { tones } = useTheme();
  const span = p.size_mm <= 5 ? 10 : p.size_mm <= 18 ? 36 : 110;
  const mm = 560 / span;
  const keys = KEYS.filter((k) => k <= span / 3 && k >= span / 40);
  const ticks = Array.from({ length: span + 1 }, (_, k) => k).filter((k) => span <= 36 || k % 5 === 0);
  let at = p.size_mm * mm + 40;
  return (
    <svg viewBox="0 0 560 74" width="100%" style={{ display: 'block' }} role="img" aria-label={t`${formName(p.form)} of ${p.size_mm} mm on a ruler`}>
      <g transform={`translate(2 ${50 - Math.min(46, p.size_mm * mm * 0.6)})`}>
        <path
          d={particlePath(p.form, p.size_mm * mm, Math.min(46, p.size_mm * mm * 0.6))}
          fill={p.form === 'sliver' ? 'none' : METAL_TONES[p.metal]}
          stroke={tones.ink}
          strokeWidth={p.form === 'sliver' ? 2.5 : 1}
        />
      </g>
      {keys.map((k) => {
        const w = Math.min(44, k * mm);
        const x = Math.max(at, p.size_mm * mm + 26);
        at = x + k * mm + 34;
        if (x + k * mm > 540) return null;
        const fits = Math.abs(k - p.size_mm) < 0.26;
        return (
          <g
            key={k}
            role="button"
            tabIndex={0}
            aria-label={t`as wide as the ${k} mm key`}
            style={{ cursor: 'pointer' }}
            onClick={() => pick(k)}
            onKeyDown={(e) => {
              if (e.key !== 'Enter' && e.key !== ' ') return;
              e.preventDefault();
              e.stopPropagation();
              pick(k);
            }}>
            <rect x={x - 14} y={0} width={k * mm + 28} height={72} fill="transparent" />
            <path d={`M${x} ${50 - w}h${k * mm}v${w}h${-k * mm}z`} fill={fits ? tones.amber : tones.steel} stroke={tones.ink} strokeWidth={fits ? 2.5 : 1.2} />
            <text x={x + (k * mm) / 2} y={70} textAnchor="middle" fontSize={14} fill={tones.ink} fontWeight={fits ? 700 : 400}>
              <Trans>key {k}</Trans>
            </text>
          </g>
        );
      })}
      <path d="M0 50H560" stroke={tones.ink} strokeWidth={1.5} />
      {ticks.map((k) => (
        <path key={k} d={`M${k * mm} 50v${k % 5 === 0 ? 9 : 5}`} stroke={tones.ink} />
      ))}
    </svg>
  );
}

function Detail({ p, change, remove, again }: { p: Particle; change: (p: Particle) => void; remove: () => void; again: () => void }) {
  const name = formName(p.form);
  const test = METALS.find(([m]) => m === p.metal)?.[2];
  const sized = p.form !== 'paste' && p.form !== 'glitter';
  return (
    <Box
      role="group"
      aria-label={t`The ${name}`}
      sx={{ display: 'grid', gap: 1, bgcolor: (t) => t.tones.amberWash, border: 2, borderColor: 'text.primary', borderRadius: 2, p: 1.25 }}>
      {sized && (
        <Box>
          <Ruler p={p} pick={(size_mm) => change({ ...p, size_mm })} />
          <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', px: 1 }}>
            <Slider
              aria-label={t`Size of the largest of the ${name}`}
              value={toSlider(p.size_mm)}
              min={0}
              max={1}
              step={0.01}
              onChange={(_, v) => change({ ...p, size_mm: fromSlider(v as number) })}
              getAriaValueText={(v) => `${fromSlider(v)} mm`}
              sx={{ height: 10, '& .MuiSlider-thumb': { width: 34, height: 34 } }}
            />
            <Box component="output" sx={{ typography: 'h2', whiteSpace: 'nowrap', minWidth: 84, textAlign: 'right' }}>
              <Trans>{p.size_mm.toFixed(p.size_mm < 10 ? 1 : 0)} mm</Trans>
            </Box>
          </Box>
        </Box>
      )}
      <Box sx={{ display: 'grid', gap: 0.25 }}>
        <Pills
          label={t`Metal`}
          value={p.metal}
          options={METALS.map(([m, n]) => [m, n] as const)}
          onChange={(metal) => change({ ...p, metal: metal ?? 'unknown' })}
        />
        <Box sx={{ fontSize: 16 }}>{test}</Box>
      </Box>
      <Box sx={{ display: 'flex', gap: 2, flexWrap: 'wrap', alignItems: 'center' }}>
        <Pills
          label={t`A magnet takes it`}
          value={p.magnetic === null ? null : p.magnetic ? 'yes' : 'no'}
          options={[
            ['yes', t`magnetic`],
            ['no', t`not`],
          ]}
          onChange={(v) => change({ ...p, magnetic: v === null ? null : v === 'yes' })}
        />
        {p.form !== 'paste' && (
          <Pills
            label={t`How many`}
            value={String(COUNTS.reduce((best, [n]) => (n <= p.count ? n : best), 1))}
            options={COUNTS.map(([n, w]) => [String(n), w] as const)}
            onChange={(v) => change({ ...p, count: Number(v ?? 1) })}
          />
        )}
      </Box>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button variant="text" onClick={remove}>{t`Take it out`}</Button>
        <Button variant="text" onClick={again}>
          {name === 'a part' ? t`Another part` : t`Other ${name} as well`}
        </Button>
      </Box>
    </Box>
  );
}

/** What is noted of a form, as short as its tile. */
const told = (p: Particle) =>
  p.form === 'paste' ? metalName(p.metal) : `${countWords(p.count)} ${metalName(p.metal)}${p.form === 'glitter' ? '' : ` ${p.size_mm}`}`;

export function Forms({ particles, set }: { particles: Particle[] | null; set: (p: Particle[] | null) => void }) {
  const [at, setAt] = useState(-1);
  const seen = particles ?? [];
  const edited = seen[at];
  const twice = new Set(seen.map((p) => p.form)).size < seen.length;
  const add = (form: string) => {
    const kind = FORMS.find(([f]) => f === form);
    if (!kind) return;
    set([...seen, { form, ...kind[3] }]);
    setAt(seen.length);
  };
  const tap = (form: string) => {
    const k = seen.findIndex((p) => p.form === form);
    if (k < 0) add(form);
    else if (k === at) setAt(-1);
    else setAt(k);
  };
  const remove = () => {
    const rest = seen.filter((_, k) => k !== at);
    set(rest.length ? rest : null);
    setAt(-1);
  };
  return (
    <Box sx={{ display: 'grid', gap: 0.75 }}>
      <Box sx={{ display: 'grid', gap: 0.5, gridTemplateColumns: 'repeat(auto-fit, minmax(72px, 1fr))' }}>
        <Tile
          label={t`nothing: none seen`}
          on={particles !== null && seen.length === 0}
          onClick={() => {
            set(particles !== null && seen.length === 0 ? null : []);
            setAt(-1);
          }}>
          <FormDrawing form="nothing" metal="" />
          <Trans>
            nothing
            <small>none seen</small>
          </Trans>
        </Tile>
        {FORMS.map(([form, name, hint, usual]) => {
          const here = seen.find((p) => p.form === form);
          return (
            <Tile key={form} label={`${name}: ${hint}`} on={here !== undefined} edited={edited?.form === form} onClick={() => tap(form)}>
              <FormDrawing form={form} metal={here?.metal ?? 'steel'} size={here?.size_mm ?? usual.size_mm} count={here?.count ?? usual.count} />
              {name}
              <small>{here ? told(here) : hint}</small>
            </Tile>
          );
        })}
      </Box>
      {twice && (
        <Box sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }} role="list" aria-label={t`Particles noted`}>
          {seen.map((p, k) => (
            <Box role="listitem" key={k}>
              <Button size="small" variant={k === at ? 'contained' : 'outlined'} onClick={() => setAt(k === at ? -1 : k)} sx={{ minHeight: 44 }}>
                {p.form === 'paste' ? '' : `${countWords(p.count)} `}
                {metalName(p.metal)} {formName(p.form)}
                {p.size_mm >= 0.5 ? ` ${p.size_mm} mm` : ''}
              </Button>
            </Box>
          ))}
        </Box>
      )}
      {edited && <Detail p={edited} change={(p) => set(seen.map((o, k) => (k === at ? p : o)))} remove={remove} again={() => add(edited.form)} />}
    </Box>
  );
}
