/** What stands only on paper: the workshop at the head of a page, and a line to sign on at its end. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client } from '../app/api';

const ON_PAPER = { display: 'none', '@media print': { display: 'flex' } } as const;

export function PaperHead() {
  const own = useQuery({ queryKey: ['workshop'], queryFn: () => ask(client.GET('/api/workshop')) }).data;
  if (!own?.name) return null;
  return (
    <Box sx={{ ...ON_PAPER, justifyContent: 'space-between', gap: 3, fontSize: 10, order: -1 }}>
      <b>{own.name}</b>
      <span>{[...own.address.split('\n'), own.reached].filter(Boolean).join(' · ')}</span>
    </Box>
  );
}

export function SignHere() {
  return (
    <Box sx={{ ...ON_PAPER, gap: 3, pt: 5, fontSize: 9, breakInside: 'avoid', '& span': { flex: 1, borderTop: '1px solid currentColor', pt: 0.5 } }}>
      <span>{t`Day`}</span>
      <span>{t`Done by`}</span>
      <span>{t`Seen by the owner`}</span>
    </Box>
  );
}
