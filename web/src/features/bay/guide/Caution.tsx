/** What can hurt somebody at the step at hand. */
import Box from '@mui/material/Box';

export function Caution({ children }: { children: React.ReactNode }) {
  return <Box sx={{ borderLeft: 6, borderColor: 'primary.main', bgcolor: (t) => t.tones.amberWash, px: 2, py: 1.25, borderRadius: 1 }}>{children}</Box>;
}
