/** A little form behind a button: it opens in place, keeps what was typed when refused, and closes when it was taken. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { type UseMutationResult, useMutation, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Refused } from '../app/api';
import { Trouble } from './Trouble';

type Props<R> = {
  open: string;
  submit: string;
  send: () => Promise<R>;
  taken?: (result: R) => void;
  children: (at: (field: string) => string) => ReactNode;
  of?: string;
  columns?: string;
  small?: boolean;
  start?: boolean;
  disabled?: boolean;
};

/** The message of a refused request for a field, empty when there is none. */
export function problemAt(send: Pick<UseMutationResult<unknown>, 'error'>): (field: string) => string {
  return (field) => (send.error instanceof Refused ? send.error.at(field) : '');
}

export function LittleForm<R>({ open, submit, send, taken, children, of, columns = '1fr 1fr', small = false, start = false, disabled = false }: Props<R>) {
  const [shown, setShown] = useState(start);
  const name = of ? `${open}: ${of}` : open; // what it is called begins with what is written on it
  const cache = useQueryClient();
  const act = useMutation({
    mutationFn: send,
    onSuccess: (result) => {
      setShown(false);
      taken?.(result);
      return cache.invalidateQueries();
    },
  });
  if (!shown)
    return (
      <Button
        variant="text"
        size={small ? 'small' : 'medium'}
        aria-label={of ? name : undefined}
        onClick={() => {
          act.reset();
          setShown(true);
        }}
        sx={{ justifySelf: 'start', ...(small ? { px: 0, minHeight: 32, fontSize: '1rem' } : {}) }}>
        {open}
      </Button>
    );
  return (
    <Box
      component="form"
      aria-label={name}
      sx={{ bgcolor: (t) => t.tones.pan, p: 2, borderRadius: 2, display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: columns }, alignItems: 'start' }}
      onSubmit={(e) => {
        e.preventDefault();
        e.stopPropagation();
        if (!act.isPending) act.mutate();
      }}>
      {children(problemAt(act))}
      <Box sx={{ gridColumn: '1 / -1', display: 'grid', gap: 1 }}>
        <Trouble error={act.error} />
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button type="submit" variant="contained" disabled={act.isPending || disabled}>
            {submit}
          </Button>
          <Button variant="text" onClick={() => setShown(false)}>
            Not now
          </Button>
        </Box>
      </Box>
    </Box>
  );
}
