/** Structure while something loads: lines where text will be. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';

export function Bones({ lines = 4 }: { lines?: number }) {
  return (
    <Box role="status" aria-label={t`Loading`} sx={{ p: 4, display: 'grid', gap: 2 }}>
      {Array.from({ length: lines }, (_, k) => (
        <Box key={k} sx={{ height: k === 0 ? 34 : 22, width: `${[40, 90, 75, 85, 60, 70][k % 6]}%`, bgcolor: (t) => t.tones.pan, borderRadius: 1 }} />
      ))}
    </Box>
  );
}
