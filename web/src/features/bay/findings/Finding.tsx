/** Reading oil and magnet by tapping what is seen; the verdict forms as you tap. Nothing noted is "not looked at", never clean. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { Schemas } from '../../../app/api';
import { useKeys } from '../../../app/keys';
import { ColourPhoto } from './ColourPhoto';
import { MagnetDrawing } from './drawings';
import { Forms } from './Forms';
import { MagnetPhoto } from './MagnetPhoto';
import { SwatchStrip, shownSwatches, useSwatches } from './SwatchStrip';
import { Group, Pills, Tile } from './Tile';
import { type FindingDraft, MAGNETS, WET } from './words';

type Props = { value: FindingDraft; onChange: (f: FindingDraft) => void; family: string; photos?: readonly Schemas['PhotoView'][]; compartment?: string };

export function Finding({ value, onChange, family, photos = [], compartment = '' }: Props) {
  const [reading, setReading] = useState<'' | 'colour' | 'magnet'>('');
  const set = (part: Partial<FindingDraft>) => onChange({ ...value, ...part });
  const swatches = shownSwatches(useSwatches(family).data ?? [], value.d1500);
  const asked: [boolean, (Partial<FindingDraft> | undefined)[]][] = [
    [value.magnet === null, MAGNETS.map(([magnet]) => ({ magnet, covered: null }))],
    [value.colour === null, swatches.map((s) => ({ colour: s.word, d1500: s.d1500, delta_e: null }))],
    [value.wet == null, WET.map(([wet]) => ({ wet }))],
  ];
  const answer = (k: number) => {
    const said = asked.find(([open]) => open)?.[1][k];
    if (said) set(said);
  };
  useKeys(Object.fromEntries([...'123456789'].map((key, k) => [key, { does: t`magnet, colour, wet in turn, by number`, act: () => answer(k) }])));
  const from = (what: 'colour' | 'magnet', words: string) =>
    photos.length > 0 && (
      <Button variant="text" sx={{ p: 0, minHeight: 30 }} onClick={() => setReading(what)}>
        {words}
      </Button>
    );
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Group title={t`On the magnet`} looked={value.magnet !== null} right={from('magnet', t`Read it from a photo`)}>
        <Box sx={{ display: 'grid', gap: 0.5, gridTemplateColumns: 'repeat(5, minmax(0, 1fr))' }}>
          {MAGNETS.map(([key, name]) => (
            <Tile
              key={key}
              label={t`magnet: ${name}`}
              on={value.magnet === key}
              onClick={() => set({ magnet: value.magnet === key ? null : key, covered: null })}>
              <MagnetDrawing cover={key} />
              {name}
            </Tile>
          ))}
        </Box>
      </Group>
      <Group title={t`In the oil or on the cloth`} looked={value.particles !== null}>
        <Forms particles={value.particles} set={(particles) => set({ particles })} />
      </Group>
      <Group title={t`Colour`} looked={value.colour !== null} right={from('colour', t`Measure it from a photo`)}>
        <SwatchStrip family={family} value={value} set={set} />
      </Group>
      <Box sx={{ display: 'flex', gap: 3, flexWrap: 'wrap' }}>
        <Group title={t`Clarity`} looked={value.clarity !== null}>
          <Pills
            label={t`Clarity`}
            value={value.clarity}
            options={[
              ['clear', t`Clear`],
              ['hazy', t`Hazy`],
              ['milky', t`Milky`],
            ]}
            onChange={(clarity) => set({ clarity })}
          />
        </Group>
        <Group title={t`Smell`} looked={value.smell !== null}>
          <Pills
            label={t`Smell`}
            value={value.smell}
            options={[
              ['none', t`No smell`],
              ['burnt', t`Burnt`],
            ]}
            onChange={(smell) => set({ smell })}
          />
        </Group>
      </Box>
      <Group title={t`Wet on the outside`} looked={value.wet != null}>
        <Pills label={t`Wet on the outside`} value={value.wet ?? null} options={WET} onChange={(wet) => set({ wet })} />
      </Group>
      <ColourPhoto
        open={reading === 'colour'}
        close={() => setReading('')}
        photos={photos}
        compartment={compartment}
        take={(read) => {
          set({ colour: read.word, d1500: read.d1500, delta_e: Math.round(read.delta_e * 10) / 10 });
          setReading('');
        }}
      />
      <MagnetPhoto
        open={reading === 'magnet'}
        close={() => setReading('')}
        photos={photos}
        take={(read) => {
          set({ magnet: read.suggests, covered: Math.round(read.share * 1000) / 1000 });
          setReading('');
        }}
      />
    </Box>
  );
}
