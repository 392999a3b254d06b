/** The meter by its feed, for one press; nothing is taken without it. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../../app/api';

export function Feed({ vehicle, take }: { vehicle: number; take: (value: number) => void }) {
  const [said, setSaid] = useState('');
  const feed = useMutation({
    mutationFn: () => ask(client.GET('/api/vehicles/{vehicle}/meter-feed', { params: { path: { vehicle } } })),
    onSuccess: (view) => {
      setSaid(view.text);
      if (view.reading?.value != null) take(view.reading.value);
    },
  });
  return (
    <Box sx={{ typography: 'body2' }}>
      <Button
        variant="text"
        size="small"
        sx={{ px: 0, minHeight: 32 }}
        disabled={feed.isPending}
        onClick={() => feed.mutate()}>{t`Read the meter feed`}</Button>
      <span role="status">
        {' '}
        {said}
        {feed.data?.simulated && said ? t` Simulated.` : ''}
      </span>
    </Box>
  );
}
