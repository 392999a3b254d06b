/** A reason: typed, or one of the last that were written of its kind. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { ask, client, type Schemas } from '../../../app/api';

type Props = {
  kind: keyof Schemas['LastReasons'];
  label: string;
  value: string;
  change: (reason: string) => void;
  autoFocus?: boolean;
  enter?: () => void;
  beside?: ReactNode;
};

export function Why({ kind, label, value, change, autoFocus = false, enter, beside }: Props) {
  const last = useQuery({ queryKey: ['reasons'], queryFn: () => ask(client.GET('/api/reasons')), staleTime: 60_000, retry: false });
  return (
    <Box sx={{ display: 'grid', gap: 0.5, flex: 1, minWidth: 280 }}>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <TextField
          autoFocus={autoFocus}
          fullWidth
          label={label}
          value={value}
          onChange={(e) => change(e.target.value)}
          onKeyDown={
            enter &&
            ((e) => {
              if (e.key !== 'Enter') return;
              e.preventDefault();
              enter();
            })
          }
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
        {beside}
      </Box>
      {!value && Boolean(last.data?.[kind].length) && (
        <Box role="group" aria-label={t`As last time`} sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }}>
          {last.data?.[kind].map((said) => (
            <Button key={said} size="small" variant="outlined" onClick={() => change(said)} sx={{ minHeight: 44, maxWidth: 360, textTransform: 'none' }}>
              {said.length > 46 ? `${said.slice(0, 45)}…` : said}
            </Button>
          ))}
        </Box>
      )}
    </Box>
  );
}
