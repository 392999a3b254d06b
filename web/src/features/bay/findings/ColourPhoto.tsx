/** Oil colour measured from a photo: marks on white paper, fresh oil and each drained oil; the paper takes the light out. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useTheme } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { How } from '../../../ui/How';
import { Panel } from '../../../ui/Panel';
import { useRested } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { type Mark, PhotoMarks, PhotoPick } from './PhotoMarks';

type Read = Schemas['OilColour'];
type Props = { open: boolean; close: () => void; photos: readonly Schemas['PhotoView'][]; compartment: string; take: (read: Read) => void };

const MOST_DRAINS = 6;
const R = 0.025;
const START: Mark[] = [
  { key: 'paper', name: 'White paper', letter: 'W', x: 0.5, y: 0.12, r: R },
  { key: 'fresh', name: 'Fresh oil', letter: 'F', x: 0.3, y: 0.5, r: R },
  { key: 'd1', name: 'Drained oil', letter: '1', x: 0.7, y: 0.5, r: R },
];

/** Drain 1 … n as they look without the light, ΔE falling beside the computed fresh share. */
export function DrainStrip({ fresh, drained }: { fresh: Read; drained: readonly Read[] }) {
  const { tones } = useTheme();
  const most = Math.max(...drained.map((d) => d.delta_e), 5) * 1.1;
  const w = Math.min(84, 420 / drained.length);
  const y = (v: number) => 92 - (v / most) * 78;
  const shares = drained.filter((d) => d.fresh_share !== null);
  const x = (k: number) => 96 + k * w + w / 2;
  return (
    <svg
      viewBox={`0 0 ${120 + drained.length * w} 164`}
      width="100%"
      style={{ maxWidth: 120 + drained.length * w }}
      role="img"
      aria-label={drained
        .map((d, k) => `drain ${k + 1}: ΔE ${d.delta_e.toFixed(1)}${d.fresh_share === null ? '' : `, ${Math.round(d.fresh_share * 100)} % fresh by the sums`}`)
        .join('; ')}>
      <path d={`M90 92H${110 + drained.length * w}`} stroke={tones.ink} />
      <path d={`M${drained.map((d, k) => `${x(k)} ${y(d.delta_e)}`).join('L')}`} fill="none" stroke={tones.ink} strokeWidth={2.5} />
      {shares.length > 1 && (
        <path
          d={`M${drained.flatMap((d, k) => (d.fresh_share === null ? [] : [`${x(k)} ${92 - (1 - d.fresh_share) * 78 * (drained[0] ? drained[0].delta_e / most : 1)}`])).join('L')}`}
          fill="none"
          stroke={tones.amberText}
          strokeWidth={2}
          strokeDasharray="5 4"
        />
      )}
      {drained.map((d, k) => (
        <g key={k}>
          <circle cx={x(k)} cy={y(d.delta_e)} r={5} fill={tones.ink} />
          <text
            x={x(k)}
            y={y(d.delta_e) - 9}
            textAnchor="middle"
            fontSize={15}
            fontWeight={700}
            fill={tones.ink}
            stroke={tones.sheet}
            strokeWidth={4}
            paintOrder="stroke">
            {d.delta_e.toFixed(1)}
          </text>
          <rect x={x(k) - w / 2 + 3} y={98} width={w - 6} height={34} fill={d.hex} stroke={tones.ink} />
          <text x={x(k)} y={156} textAnchor="middle" fontSize={14} fill={tones.ink}>
            {drained.length > 1 ? `drain ${k + 1}` : 'drained'}
          </text>
        </g>
      ))}
      <rect x={8} y={98} width={66} height={34} fill={fresh.hex} stroke={tones.ink} />
      <g fontSize={14} fill={tones.ink}>
        <text x={41} y={156} textAnchor="middle">
          fresh
        </text>
        <text x={84} y={26} textAnchor="end">
          ΔE
        </text>
        {shares.length > 1 && (
          <text x={84} y={44} textAnchor="end" fill={tones.amberText}>
            by the sums
          </text>
        )}
      </g>
    </svg>
  );
}

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
  const more = () => {
    // The drops lie in a row: the next one is likely as far on as the last one was.
    const [a, b] = drains.length > 1 ? drains.slice(-2) : [marks[1], marks[2]];
    const key = `d${drains.length + 1}`;
    const on = (from: number, to: number) => Math.min(0.96, Math.max(0.04, 2 * to - from));
    if (!a || !b) return;
    setMarks((all) => [...all, { key, name: `Drain ${drains.length + 1}`, letter: String(drains.length + 1), x: on(a.x, b.x), y: on(a.y, b.y), r: R }]);
    if (placed.includes(a.key) && placed.includes(b.key)) setPlaced((all) => [...all, key]);
  };
  return (
    <Box sx={{ display: 'grid', gap: 2.5, gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 1.25fr) minmax(0, 1fr)' }, alignItems: 'start' }}>
      <PhotoMarks photo={photo} marks={marks} move={move} />
      <Box sx={{ display: 'grid', gap: 1.25 }}>
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
          <span>
            Drag <b>W</b> to bare white paper, <b>F</b> to fresh oil, <b>1</b> to drained oil, clear of reflections; or move them by the arrow keys.
          </span>
          {drains.length < MOST_DRAINS && (
            <Button variant="outlined" onClick={more}>
              One more drain
            </Button>
          )}
          {drains.length > 1 && (
            <Button variant="text" onClick={() => setMarks((all) => all.slice(0, -1))}>
              One less
            </Button>
          )}
        </Box>
        <Trouble error={still ? read.error : null} />
        {found && last && (
          <Box role="status" sx={{ display: 'grid', gap: 0.75, opacity: holds ? 1 : 0.6 }}>
            <DrainStrip fresh={found.fresh} drained={found.drained} />
            <Box>
              <Box component="b" sx={{ typography: 'h3' }}>
                {found.text}
              </Box>{' '}
              Light {found.light}; {Math.round(last.sure * 100)} % of the mark is nearest to “{last.word}”.{' '}
              <How working={found.working} title="How the colour was read" />
            </Box>
            {found.doubts.map((d) => (
              <Box key={d} sx={{ color: (t) => t.tones.amberText }}>
                {d}
              </Box>
            ))}
          </Box>
        )}
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button variant="contained" disabled={!last || !holds} onClick={() => last && holds && take(last)} sx={{ minHeight: 56 }}>
            Take this colour
          </Button>
          <Button variant="text" onClick={close}>
            Leave it
          </Button>
        </Box>
      </Box>
    </Box>
  );
}

export function ColourPhoto({ open, close, photos, compartment, take }: Props) {
  const [at, setAt] = useState('');
  const photo = photos.find((p) => p.id === at) ?? photos[0];
  return (
    <Panel label="Colour from a photo" open={open && photo !== undefined} close={close} wide roomy>
      {photo && (
        <Box sx={{ p: 2.5, display: 'grid', gap: 1 }}>
          <Box component="h2" sx={{ typography: 'h2', m: 0 }}>
            Colour from a photo
          </Box>
          <PhotoPick photos={photos} at={photo.id} choose={setAt} />
          <Reading key={photo.id} photo={photo} compartment={compartment} take={take} close={close} />
        </Box>
      )}
    </Panel>
  );
}
