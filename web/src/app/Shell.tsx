/** The frame: five places on a slim spine, the page, and the tray below. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import type { Theme } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { type ReactNode, useState } from 'react';
import { NavLink, useNavigate } from 'react-router';
import { Panel } from '../ui/Panel';
import { Find } from './Find';
import { type KeyMap, knownKeys, useKeys } from './keys';
import { useSending } from './outbox/useOutbox';
import { useSession } from './session';
import { Tray } from './Tray';

const PLACES = [
  ['due', t`Due`],
  ['bay', t`Bay`],
  ['book', t`Book`],
  ['shelf', t`Shelf`],
  ['bench', t`Bench`],
] as const;

/** The field by which anything is found; it opens where there is room to type. */
function FindField({ open }: { open: () => void }) {
  return (
    <Box
      component="button"
      aria-label={t`Find`}
      aria-haspopup="dialog"
      onClick={open}
      sx={{
        order: { xs: 1, sm: 0 },
        display: 'flex',
        alignItems: 'center',
        justifyContent: 'space-between',
        gap: 0.75,
        mx: 1,
        mb: { xs: 0, sm: 1 },
        px: 1,
        minHeight: { xs: 40, sm: 44 },
        minWidth: 44,
        border: 1,
        borderColor: (t) => t.tones.spineInk,
        borderRadius: 1,
        position: { xs: 'sticky', sm: 'static' }, // on a phone the places scroll under it
        right: 0,
        flexShrink: 0,
        bgcolor: (t) => t.tones.spine,
        color: (t) => t.tones.spineInk,
        font: 'inherit',
        cursor: 'text',
      }}>
      <svg viewBox="0 0 20 20" width={18} height={18} aria-hidden="true">
        <circle cx={8} cy={8} r={5.5} fill="none" stroke="currentColor" strokeWidth={2} />
        <path d="M12.2 12.2L18 18" stroke="currentColor" strokeWidth={2.4} strokeLinecap="round" />
      </svg>
      <Box component="small" aria-hidden="true" sx={{ fontSize: 12, opacity: 0.75, display: { xs: 'none', sm: 'inline' } }}>
        /
      </Box>
    </Box>
  );
}

function Spine({ find }: { find: () => void }) {
  const { data } = useSession();
  const place = {
    display: 'flex',
    justifyContent: 'space-between',
    alignItems: 'baseline',
    gap: 1,
    color: (t: Theme) => t.tones.spineInk,
    textDecoration: 'none',
    typography: 'h3',
    fontWeight: 500,
    px: 1.5,
    py: 1.75,
    ml: { xs: 0, sm: 0.75 },
    borderRadius: { xs: 1, sm: '12px 0 0 12px' },
    '&.active': { bgcolor: 'background.default', color: (t: Theme) => (t.palette.mode === 'dark' ? t.tones.amber : t.tones.ink), fontWeight: 600 },
    '& small': { fontSize: 12, opacity: 0.75, display: { xs: 'none', sm: 'inline' } },
  };
  return (
    <Box
      component="nav"
      aria-label={t`Places`}
      sx={{
        gridArea: 'spine',
        bgcolor: (t) => t.tones.spine,
        display: 'flex',
        flexDirection: { xs: 'row', sm: 'column' },
        alignItems: { xs: 'center', sm: 'stretch' },
        gap: { xs: 0, sm: 0.25 },
        overflowX: 'auto',
      }}>
      <Box sx={{ typography: 'h2', color: 'primary.main', textAlign: 'center', py: { xs: 0, sm: 2.5 }, px: { xs: 1, sm: 0 }, lineHeight: 1 }}>
        <Trans>
          Ba·ro
          <Box component="span" sx={{ display: { xs: 'none', sm: 'block' } }}>
            dex
          </Box>
        </Trans>
      </Box>
      <FindField open={find} />
      {PLACES.map(([path, name], k) => (
        <Box key={path} component={NavLink} to={`/${path}`} sx={place}>
          {name} <small aria-hidden="true">{k + 1}</small>
        </Box>
      ))}
      <Box
        component={NavLink}
        to="/settings"
        sx={{ ...place, typography: 'body2', mt: { xs: 0, sm: 'auto' }, mb: { xs: 0, sm: 1 } }}
        aria-label={t`Settings of ${data?.name ?? ''}`}>
        {data?.name.split(' ')[0]}
      </Box>
    </Box>
  );
}

function KeyList({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Panel label={t`Keys that work here`} open={open} close={close}>
      <Box sx={{ p: 3 }}>
        <Typography variant="h2">{t`Keys that work here`}</Typography>
        <Box component="dl" sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', gap: 1, columnGap: 3, '& dt': { fontWeight: 700 }, '& dd': { m: 0 } }}>
          {open &&
            knownKeys().map(([key, does]) => (
              <Box key={key + does} sx={{ display: 'contents' }}>
                <dt>{key}</dt>
                <dd>{does}</dd>
              </Box>
            ))}
        </Box>
      </Box>
    </Panel>
  );
}

export function Shell({ children }: { children: ReactNode }) {
  useSending();
  const go = useNavigate();
  const [finding, setFinding] = useState(false);
  const [listing, setListing] = useState(false);
  const keys: KeyMap = {
    '/': { does: t`find anything by its name, a day, or the code of a label`, act: () => setFinding(true) },
    '?': { does: t`show this list`, act: () => setListing(true) },
  };
  PLACES.forEach(([path, name], k) => {
    keys[String(k + 1)] = { does: t`go to ${name}`, act: () => go(`/${path}`) };
  });
  useKeys(keys, true);
  return (
    <Box
      sx={{
        display: 'grid',
        minHeight: '100vh',
        height: { sm: '100vh' },
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: '5.125rem minmax(0, 1fr)' },
        gridTemplateRows: { xs: 'auto 1fr auto', sm: 'minmax(0, 1fr) auto' },
        gridTemplateAreas: { xs: '"spine" "main" "tray"', sm: '"spine main" "spine tray"' },
        '@media print': { display: 'block', height: 'auto', '& nav, & aside': { display: 'none' } },
      }}>
      <Spine find={() => setFinding(true)} />
      <Box component="main" sx={{ gridArea: 'main', overflow: 'auto', minWidth: 0, '@media print': { overflow: 'visible' } }}>
        {children}
      </Box>
      <Tray />
      <Find open={finding} close={() => setFinding(false)} />
      <KeyList open={listing} close={() => setListing(false)} />
    </Box>
  );
}
