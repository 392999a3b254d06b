/** An address that is no page: it says so, and where one may go. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Link from '@mui/material/Link';
import { NavLink, useLocation } from 'react-router';
import { Page } from './Page';

const PLACES: [string, string][] = [
  ['/due', t`Due: what is due, the plan, vehicles`],
  ['/bay', t`Bay: services that are open`],
  ['/book', t`Book: what was done and found`],
  ['/shelf', t`Shelf: oils, sheets, the store`],
  ['/bench', t`Bench: the sums on their own`],
];

export function NotFound() {
  const { pathname } = useLocation();
  return (
    <Page title={t`There is no such page`} note={<Box sx={{ overflowWrap: 'anywhere' }}>{pathname}</Box>}>
      <Box component="nav" aria-label={t`Where to go`} sx={{ display: 'grid', gap: 1.5, justifyItems: 'start' }}>
        {PLACES.map(([to, words]) => (
          <Link key={to} component={NavLink} to={to} sx={{ typography: 'h3', py: 0.5, color: 'text.primary' }}>
            {words}
          </Link>
        ))}
      </Box>
    </Page>
  );
}
