/** A one-time link as it is handed over: on the screen, copied, or on paper. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { Schemas } from '../../app/api';
import { date } from '../../app/session';

export function OneLink({ link, close }: { link: Schemas['OneTimeLink']; close: () => void }) {
  const [copied, setCopied] = useState(false);
  const address = window.location.origin + link.path;
  const copy = async () => {
    await navigator.clipboard.writeText(address);
    setCopied(true);
  };
  return (
    <Box
      role="status"
      data-alone
      sx={{ bgcolor: (t) => t.tones.amberWash, border: 2, borderColor: 'primary.main', borderRadius: 2, p: 2, display: 'grid', gap: 1 }}>
      <Box sx={{ typography: 'h3' }}>
        <Trans>The link of {link.name}</Trans>
      </Box>
      <Box component="code" sx={{ overflowWrap: 'anywhere', fontSize: '1.05rem' }}>
        {address}
      </Box>
      <Box>
        <Trans>
          It is shown this once, counts once, and until {date(link.until)}. Whoever opens it chooses the password of {link.name}: hand it over, no mail is
          needed.
        </Trans>
      </Box>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        {'clipboard' in navigator && (
          <Button variant="outlined" onClick={copy}>
            {copied ? t`Copied` : t`Copy it`}
          </Button>
        )}
        <Button variant="outlined" onClick={() => window.print()}>{t`Print it`}</Button>
        <Button variant="text" onClick={close}>{t`Handed over`}</Button>
      </Box>
    </Box>
  );
}
