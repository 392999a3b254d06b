/** Photos of a step: taken by the camera or from a file, sent until they are kept, taken out again while the service is open. */
import { plural, t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { ask, client } from '../../../app/api';
import { outbox } from '../../../app/outbox/outbox';
import { useLane } from '../../../app/outbox/useOutbox';
import { PhotoRow } from '../../../ui/PhotoRow';
import { Trouble } from '../../../ui/Trouble';
import type { Service } from './service';

export function StepPhotos({ service, step, mayWork }: { service: Service; step: string; mayWork: boolean }) {
  const cache = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const keep = (state: Service) => cache.setQueryData(['service', service.id], state);
  const lane = useLane(`${service.id} photos`);
  const waiting = lane.items.filter((photo) => photo.step === step).length;
  const remove = useMutation({ mutationFn: (photo: string) => ask(client.DELETE('/api/photos/{photo}', { params: { path: { photo } } })), onSuccess: keep });
  const mine = service.photos.filter((p) => p.step === step);
  if (!mayWork && !mine.length) return null;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
        {mayWork && (
          <Button variant="text" sx={{ px: 0 }} onClick={() => input.current?.click()}>
            {mine.length + waiting ? t`Add another photo` : t`Add a photo`}
          </Button>
        )}
        {mayWork && (
          <input
            ref={input}
            hidden
            type="file"
            aria-label={t`Photo file`}
            accept="image/jpeg,image/png,image/webp"
            capture="environment"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) outbox.photo(service.id, step, file);
              e.target.value = '';
            }}
          />
        )}
        <PhotoRow photos={mine} {...(mayWork && service.state === 'open' ? { remove: (id: string) => remove.mutate(id) } : {})} />
      </Box>
      {waiting > 0 && (
        <Box role="status" sx={{ color: 'text.secondary' }}>
          {lane.away || lane.paused
            ? t`${plural(waiting, { one: 'The photo is', other: `${waiting} photos are` })} kept on this device and sent as soon as the server takes ${plural(waiting, { one: 'it', other: 'them' })}.`
            : t`Sending the photo …`}
        </Box>
      )}
      <Trouble error={(lane.unshown?.act.step === step && lane.unshown.error) || remove.error} />
    </Box>
  );
}
