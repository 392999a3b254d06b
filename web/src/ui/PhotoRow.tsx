/** Photos of a service in a row; a press opens one large. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { Schemas } from '../app/api';
import { clockTime } from '../app/session';
import { Panel } from './Panel';

type Photo = Schemas['PhotoView'];

export function PhotoRow({ photos, remove }: { photos: readonly Photo[]; remove?: (id: string) => void }) {
  const [open, setOpen] = useState<Photo | null>(null);
  if (!photos.length) return null;
  return (
    <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
      {photos.map((p) => (
        <Box
          key={p.id}
          component="button"
          type="button"
          aria-label={t`Photo, ${p.words}, ${clockTime(p.at)}`}
          onClick={() => setOpen(p)}
          sx={{ border: 2, borderColor: 'divider', p: 0, borderRadius: 1, cursor: 'pointer', lineHeight: 0, bgcolor: 'background.paper', overflow: 'hidden' }}>
          <Box component="img" src={p.small_url} alt="" sx={{ width: 96, height: 72, objectFit: 'cover' }} />
        </Box>
      ))}
      <Panel label={t`Photo`} open={open !== null} close={() => setOpen(null)} wide>
        {open && (
          <Box sx={{ p: 2, display: 'grid', gap: 1 }}>
            <Box component="img" src={open.url} alt={open.words} sx={{ width: '100%', maxHeight: '68vh', objectFit: 'contain' }} />
            <span>
              {open.words} · {clockTime(open.at)} · {open.by}
            </span>
            <Box sx={{ display: 'flex', gap: 1 }}>
              <Button variant="outlined" onClick={() => setOpen(null)}>{t`Close`}</Button>
              {remove && (
                <Button
                  variant="text"
                  onClick={() => {
                    remove(open.id);
                    setOpen(null);
                  }}>{t`Take it out`}</Button>
              )}
            </Box>
          </Box>
        )}
      </Panel>
    </Box>
  );
}
