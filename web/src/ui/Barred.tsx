/** What must not be done now, and why: said before it is tried. */
import Box from '@mui/material/Box';
import type { ReactNode } from 'react';

export function Barred({ children, large = false }: { children: ReactNode; large?: boolean }) {
  return (
    <Box
      role="note"
      sx={{
        bgcolor: (t) => t.tones.redWash,
        borderLeft: 6,
        borderColor: 'error.main',
        borderRadius: 1,
        px: 2,
        py: 1.25,
        fontSize: large ? '1.15rem' : '1rem',
      }}>
      {children}
    </Box>
  );
}
