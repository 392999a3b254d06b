/** A list with nothing in it yet says what to do first. */
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';

export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box sx={{ border: 2, borderStyle: 'dashed', borderColor: 'divider', borderRadius: 2, p: 3, display: 'grid', gap: 1, justifyItems: 'start' }}>
      <Typography variant="h3" component="p">
        {title}
      </Typography>
      {children}
    </Box>
  );
}
