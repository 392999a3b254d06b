/** Oil colour measured from a photo: marks on white paper, fresh oil and each drained oil; the paper takes the light out. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { How } from '../../../ui/How';
import { Panel } from '../../../ui/Panel';
import { useRested } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { DrainStrip, type Read } from './DrainStrip';
import { type Mark, PhotoMarks, PhotoPick } from './PhotoMarks';

type Props = { open: boolean; close: () => void; photos: readonly Schemas['PhotoView'][]; compartment: string; take: (read: Read) => void };

const MOST_DRAINS = 6;
const MOST_WHITES = 4;
const R = 0.025;
const START: Mark[] = [
  { key: 'paper', name: t`White paper`, letter: 'W', x: 0.5, y: 0.12, r: R },
  { key: 'fresh', name: t`Fresh oil`, letter: 'F', x: 0.3, y: 0.5, r: R },
  { key: 'd1', name: t`Drained oil`, letter: '1', x: 0.7, y: 0.5, r: R },
];

function Reading({ photo, compartment, take, close }: { photo: Schemas['PhotoView'] } & Omit<Props, 'open' | 'photos'>) {
  const [marks, setMarks] = useState(START);
  const [placed, setPlaced] = useState<string[]>([]);
  const rested = useRested(marks, 250);
  const drains = marks.filter((m) => m.key.startsWith('d'));
  const spot = (key: string) => {
    const m = rested.find((o) => o.key === key) ?? (START[0] as Mark);
    return { x: m.x, y: m.y, r: m.r };
  };
  const body = {
    paper: spot('paper'),
    more_paper: rested.filter((m) => m.key.startsWith('w')).map(({ x, y, r }) => ({ x, y, r })),
    fresh: spot('fresh'),
    drained: rested.filter((m) => m.key.startsWith('d')).map(({ x, y, r }) => ({ x, y, r })),
    compartment,
  };
  const ready = marks.every((m) => m.key === 'paper' || placed.includes(m.key));
  const still = rested === marks; // an answer counts for the marks as they stand, not as they stood a moment ago
  const read = useQuery({
    queryKey: ['photo-colour', photo.id, body],
    queryFn: () => ask(client.POST('/api/photos/{photo}/colour', { params: { path: { photo: photo.id } }, body })),
    enabled: ready && still,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (old) => old,
  });
  const found = ready && !read.isError ? read.data : undefined;
  const holds = still && !read.isPlaceholderData;
  const last = found?.drained[found.drained.length - 1];
  const move = (mark: Mark) => {
    setMarks((all) => all.map((m) => (m.key === mark.key ? mark : m)));
    setPlaced((all) => (all.includes(mark.key) ? all : [...all, mark.key]));
  };
  const whites = marks.filter((m) => m.key === 'paper' || m.key.startsWith('w'));
  const white = () => {
    // On the other side of the oils: what falls off between the two is taken out.
    const n = whites.length + 1;
    const [x, y] = [[0.5, 0.88] as const, [0.08, 0.5] as const, [0.92, 0.5] as const][whites.length - 1] ?? [0.5, 0.88];
    setMarks((all) => [...all, { key: `w${n}`, name: t`White paper ${n}`, letter: 'W', x, y, r: R }]);
  };
  const more = () => {
    // The drops lie in a row: the next one is likely as far on as the last one was.
    const [a, b] = drains.length > 1 ? drains.slice(-2) : [marks[1], marks[2]];
    const key = `d${drains.length + 1}`;
    const on = (from: number, to: number) => Math.min(0.96, Math.max(0.04, 2 * to - from));
    if (!a || !b) return;
    setMarks((all) => [...all, { key, name: t`Drain ${drains.length + 1}`, letter: String(drains.length + 1), x: on(a.x, b.x), y: on(a.y, b.y), r: R }]);
    if (placed.includes(a.key) && placed.includes(b.key)) setPlaced((all) => [...all, key]);
  };
  return (
    <Box sx={{ display: 'grid', gap: 2.5, gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 1.25fr) minmax(0, 1fr)' }, alignItems: 'start' }}>
      <PhotoMarks photo={photo} marks={marks} move={move} />
      <Box sx={{ display: 'grid', gap: 1.25 }}>
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
          <span>
            <Trans>
              Drag <b>W</b> to bare white paper, <b>F</b> to fresh oil, <b>1</b> to drained oil, clear of reflections; or move them by the arrow keys.
            </Trans>
          </span>
          {drains.length < MOST_DRAINS && <Button variant="outlined" onClick={more}>{t`One more drain`}</Button>}
          {whites.length < MOST_WHITES && <Button variant="outlined" onClick={white}>{t`One more white point`}</Button>}
          {drains.length > 1 && (
            <Button variant="text" onClick={() => setMarks((all) => all.filter((m) => m.key !== `d${drains.length}`))}>{t`One less`}</Button>
          )}
        </Box>
        <Trouble error={still ? read.error : null} />
        {found && last && (
          <Box role="status" sx={{ display: 'grid', gap: 0.75, opacity: holds ? 1 : 0.6 }}>
            <DrainStrip fresh={found.fresh} drained={found.drained} />
            <Box>
              <Trans>
                <Box component="b" sx={{ typography: 'h3' }}>
                  {found.text}
                </Box>{' '}
                Light {found.light}; “{last.word}” with a probability of {Math.min(99, Math.round(last.sure * 100))} %, the colour to ±{' '}
                {(2 * last.sigma).toFixed(0)} ΔE (2σ).
              </Trans>{' '}
              <How working={found.working} title={t`How the colour was read`} />
            </Box>
            {found.doubts.map((d) => (
              <Box key={d} sx={{ color: (t) => t.tones.amberText }}>
                {d}
              </Box>
            ))}
          </Box>
        )}
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button
            variant="contained"
            disabled={!last || !holds}
            onClick={() => last && holds && take(last)}
            sx={{ minHeight: 56 }}>{t`Take this colour`}</Button>
          <Button variant="text" onClick={close}>{t`Leave it`}</Button>
        </Box>
      </Box>
    </Box>
  );
}

export function ColourPhoto({ open, close, photos, compartment, take }: Props) {
  const [at, setAt] = useState('');
  const photo = photos.find((p) => p.id === at) ?? photos[0];
  return (
    <Panel label={t`Colour from a photo`} open={open && photo !== undefined} close={close} wide roomy>
      {photo && (
        <Box sx={{ p: 2.5, display: 'grid', gap: 1 }}>
          <Box component="h2" sx={{ typography: 'h2', m: 0 }}>{t`Colour from a photo`}</Box>
          <PhotoPick photos={photos} at={photo.id} choose={setAt} />
          <Reading key={photo.id} photo={photo} compartment={compartment} take={take} close={close} />
        </Box>
      )}
    </Panel>
  );
}
