/** The rooms of the Shelf, under its title. */
import Box from '@mui/material/Box';
import { NavLink } from 'react-router';

const ROOMS = [
  ['/shelf', 'Oils and sheets'],
  ['/shelf/choose', 'Which oil?'],
  ['/shelf/shopping', 'Shopping'],
  ['/shelf/store', 'Seals and tools'],
  ['/shelf/scales', 'Grades'],
  ['/shelf/policy', 'Policy'],
] as const;

export function Nav() {
  return (
    <Box component="nav" aria-label="Rooms of the shelf" sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2.5, '@media print': { display: 'none' } }}>
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
