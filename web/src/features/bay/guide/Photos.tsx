/** Photos of a step: taken by the camera or from a file, sent until they are kept, taken out again while the service is open. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { ask, client, Unreachable, upload } from '../../../app/api';
import { newId } from '../../../app/ids';
import { PACE } from '../../../app/pace';
import { PhotoRow } from '../../../ui/PhotoRow';
import { Trouble } from '../../../ui/Trouble';
import type { Service } from './service';

export function StepPhotos({ service, step, mayWork }: { service: Service; step: string; mayWork: boolean }) {
  const cache = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const keep = (state: Service) => cache.setQueryData(['service', service.id], state);
  const send = useMutation({
    mutationFn: ({ file, id }: { file: File; id: string }) => upload<Service>(`/api/services/${service.id}/photos`, file, { photo_id: id, step }),
    // The same photo under the same id until the server answers; the file stays in the page meanwhile.
    retry: (_, error) => error instanceof Unreachable,
    retryDelay: () => PACE.again,
    networkMode: 'always',
    onSuccess: keep,
  });
  const remove = useMutation({ mutationFn: (photo: string) => ask(client.DELETE('/api/photos/{photo}', { params: { path: { photo } } })), onSuccess: keep });
  const mine = service.photos.filter((p) => p.step === step);
  if (!mayWork && !mine.length) return null;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
        {mayWork && (
          <Button variant="text" sx={{ px: 0 }} disabled={send.isPending} onClick={() => input.current?.click()}>
            {send.isPending ? (send.failureCount ? 'The photo waits for the server …' : 'Sending the photo …') : 'Add a photo'}
          </Button>
        )}
        {mayWork && (
          <input
            ref={input}
            hidden
            type="file"
            aria-label="Photo file"
            accept="image/jpeg,image/png,image/webp"
            capture="environment"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) send.mutate({ file, id: newId() });
              e.target.value = '';
            }}
          />
        )}
        <PhotoRow photos={mine} {...(mayWork && service.state === 'open' ? { remove: (id: string) => remove.mutate(id) } : {})} />
      </Box>
      <Trouble error={send.error ?? remove.error} />
    </Box>
  );
}
