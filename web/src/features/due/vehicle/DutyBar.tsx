/** How a vehicle is used, as a bar. */
import Box from '@mui/material/Box';
import type { Schemas } from '../../../app/api';
import { oilColour } from '../../../ui/oil';

export type Use = Schemas['UseView'];

/** A severe duty ages oil: it is drawn in the colour that oil would take. */
export const AGES: Record<string, string> = { road: 'fresh', towing: 'brown', load: 'brown', off_road: 'dark brown', track: 'black' };

/** Shares of duty drawn as one bar, each with its words under it. */
export function DutyBar({ split, words }: { split: Use['duty_split']; words: Record<string, string> }) {
  const parts = Object.entries(split).sort((a, b) => b[1] - a[1]);
  return (
    <Box>
      <Box aria-hidden="true" sx={{ display: 'flex', height: 16, borderRadius: 1, overflow: 'hidden', border: 1.5, borderColor: 'text.primary' }}>
        {parts.map(([duty, share]) => (
          <Box key={duty} sx={{ width: `${share * 100}%`, bgcolor: oilColour('gear', AGES[duty] ?? 'brown') }} />
        ))}
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.5, typography: 'body2' }}>
        {parts.map(([duty, share]) => (
          <span key={duty}>
            <b>{Math.round(share * 100)} %</b> {words[duty] ?? duty}
          </span>
        ))}
      </Box>
    </Box>
  );
}
