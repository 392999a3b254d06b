/** Something to tick, large enough for a glove. */
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';

export function Tick({ label, on, change }: { label: string; on: boolean; change: (on: boolean) => void }) {
  return (
    <Box
      component="label"
      sx={{
        display: 'flex',
        gap: 1,
        alignItems: 'center',
        minHeight: 52,
        border: 2,
        borderRadius: 2,
        px: 1,
        bgcolor: 'background.paper',
        borderColor: on ? 'text.primary' : 'divider',
        cursor: 'pointer',
        fontSize: '1.125rem',
      }}>
      <Checkbox checked={on} onChange={(e) => change(e.target.checked)} sx={{ '& svg': { fontSize: 30 }, p: 0.5 }} />
      {label}
    </Box>
  );
}
