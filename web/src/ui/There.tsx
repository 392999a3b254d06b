/** A link to what is missing, and the way back to where one was. */
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { type ReactNode, useState } from 'react';
import { Link, useLocation } from 'react-router';

export type Back = { to: string; words: string };

/** Where one came from, if one came to fetch something that was missing there. */
export function useBack(): Back | null {
  const here = (useLocation().state as { back?: Back } | null)?.back ?? null;
  const [came] = useState(here); // stays while the page itself changes its address
  return here ?? came;
}

/** ``from``: what the page that is left is called, for the way back. */
export function There({ to, from, children }: { to: string; from: string; children: ReactNode }) {
  const { pathname, search } = useLocation();
  return (
    <Link to={to} state={{ back: { to: pathname + search, words: from } satisfies Back }}>
      {children}
    </Link>
  );
}

export function WayBack() {
  const back = useBack();
  if (!back) return null;
  return (
    <Box sx={{ px: { xs: 2, sm: 3 }, pt: 1.5, mb: -1 }}>
      <Link to={back.to}>
        <Trans>← Back to {back.words}</Trans>
      </Link>
    </Box>
  );
}
