/** The rooms of the Shelf, under its title. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { NavLink } from 'react-router';

const ROOMS = [
  ['/shelf', t`Oils and sheets`],
  ['/shelf/choose', t`Which oil?`],
  ['/shelf/shopping', t`Shopping`],
  ['/shelf/store', t`Seals and tools`],
  ['/shelf/scales', t`Grades`],
  ['/shelf/policy', t`Policy`],
] as const;

export function Nav() {
  return (
    <Box component="nav" aria-label={t`Rooms of the shelf`} sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2.5, '@media print': { display: 'none' } }}>
      {ROOMS.map(([to, name]) => (
        <Box
          key={to}
          component={NavLink}
          to={to}
          end
          sx={{
            typography: 'h4',
            textDecoration: 'none',
            color: 'text.secondary',
            py: 0.75,
            minHeight: 36,
            borderBottom: 3,
            borderColor: 'transparent',
            '&.active': { color: 'text.primary', borderColor: 'primary.main' },
          }}>
          {name}
        </Box>
      ))}
    </Box>
  );
}
