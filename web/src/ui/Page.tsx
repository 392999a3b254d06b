/** A page: its title, a note beside it, what can be done on the right, and the rest. */
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { WayBack } from './There';
import { Title } from './Title';

export function Page({ title, note, right, children }: { title: ReactNode; note?: ReactNode; right?: ReactNode; children: ReactNode }) {
  return (
    <>
      <WayBack />
      <Box sx={{ px: { xs: 2, sm: 3 }, py: 2, display: 'grid', gap: 2, alignContent: 'start' }}>
        <Box component="header" sx={{ display: 'flex', flexWrap: 'wrap', gap: 2, rowGap: 1, alignItems: 'baseline' }}>
          <Title>{title}</Title>
          {note && <Box sx={{ color: 'text.secondary', minWidth: 0 }}>{note}</Box>}
          {right && <Box sx={{ ml: 'auto', display: 'flex', gap: 1, flexWrap: 'wrap' }}>{right}</Box>}
        </Box>
        {children}
      </Box>
    </>
  );
}

/** A strip of content with its own small heading. */
export function Section({ title, right, children }: { title: string; right?: ReactNode; children: ReactNode }) {
  return (
    <Box component="section" sx={{ display: 'grid', gap: 1.25, alignContent: 'start', minWidth: 0 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2 }}>
        <Typography variant="h3" component="h2">
          {title}
        </Typography>
        {right && <Box sx={{ ml: 'auto' }}>{right}</Box>}
      </Box>
      {children}
    </Box>
  );
}
