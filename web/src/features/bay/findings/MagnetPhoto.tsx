/** How much of the magnet is covered, from a photo with a circle round it: a suggestion that the technician takes or leaves. */
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
import { type Mark, PhotoMarks, PhotoPick } from './PhotoMarks';
import { MAGNETS } from './words';

type Cover = Schemas['Cover'];
type Props = { open: boolean; close: () => void; photos: readonly Schemas['PhotoView'][]; take: (read: Cover) => void };

const START: Mark = { key: 'magnet', name: t`The magnet`, letter: 'M', x: 0.5, y: 0.5, r: 0.25 };

function Reading({ photo, take, close }: { photo: Schemas['PhotoView'] } & Omit<Props, 'open' | 'photos'>) {
  const [mark, setMark] = useState(START);
  const rested = useRested(mark, 250);
  const { x, y, r } = rested;
  const read = useQuery({
    queryKey: ['photo-magnet', photo.id, x, y, r],
    queryFn: () => ask(client.POST('/api/photos/{photo}/magnet', { params: { path: { photo: photo.id } }, body: { x, y, r } })),
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (old) => old,
  });
  const found = read.isError ? undefined : read.data;
  const holds = rested === mark && !read.isPlaceholderData; // an answer counts for the circle as it is, not as it was a moment ago
  return (
    <Box sx={{ display: 'grid', gap: 2.5, gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 1.25fr) minmax(0, 1fr)' }, alignItems: 'start' }}>
      <PhotoMarks photo={photo} marks={[mark]} move={setMark} resize />
      <Box sx={{ display: 'grid', gap: 1.25 }}>
        <span>{t`Draw the circle round the magnet’s face: drag its middle, and its rim by the amber dot (arrow keys, + and −).`}</span>
        <Trouble error={rested === mark ? read.error : null} />
        {found && (
          <Box role="status" sx={{ opacity: holds ? 1 : 0.6 }}>
            <Trans>
              <Box component="b" sx={{ typography: 'h3' }}>
                {found.text}
              </Box>{' '}
              Suggested: {MAGNETS.find(([k]) => k === found.suggests)?.[1]}, with a probability of {Math.min(99, Math.round(found.sure * 100))} %.
            </Trans>{' '}
            <How working={found.working} title={t`How the cover was read`} />
          </Box>
        )}
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button
            variant="contained"
            disabled={!found || !holds}
            onClick={() => found && holds && take(found)}
            sx={{ minHeight: 56 }}>{t`Yes, so it is`}</Button>
          <Button variant="text" onClick={close}>{t`No, I choose myself`}</Button>
        </Box>
      </Box>
    </Box>
  );
}

export function MagnetPhoto({ open, close, photos, take }: Props) {
  const [at, setAt] = useState('');
  const photo = photos.find((p) => p.id === at) ?? photos[photos.length - 1];
  return (
    <Panel label={t`Magnet from a photo`} open={open && photo !== undefined} close={close} wide roomy>
      {photo && (
        <Box sx={{ p: 2.5, display: 'grid', gap: 1 }}>
          <Box component="h2" sx={{ typography: 'h2', m: 0 }}>{t`Magnet from a photo`}</Box>
          <PhotoPick photos={photos} at={photo.id} choose={setAt} />
          <Reading key={photo.id} photo={photo} take={take} close={close} />
        </Box>
      )}
    </Panel>
  );
}
