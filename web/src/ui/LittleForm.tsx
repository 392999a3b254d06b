/** A little form behind a button: it opens in place, keeps what was typed when refused or reloaded, and closes when it was taken. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { UseMutationResult } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { type FieldValues, FormProvider } from 'react-hook-form';
import { useLocation } from 'react-router';
import { Refused } from '../app/api';
import { type Typed, type TypedOptions, useTyped } from './form/useTyped';
import { Trouble } from './Trouble';

type Looks = { open: string; submit: string; again?: string; of?: string; columns?: string; small?: boolean; strong?: boolean; shown?: boolean };
type Props<T extends FieldValues, R> = Looks & Omit<TypedOptions<T, R>, 'keep'> & { children: ReactNode | ((typed: Typed<T, R>) => ReactNode) };

/** The message of a refused request for a field, empty when there is none. */
export function problemAt(send: Pick<UseMutationResult<unknown>, 'error'>): (field: string) => string {
  return (field) => (send.error instanceof Refused ? send.error.at(field) : '');
}

function Opened<T extends FieldValues, R>({ name, close, ...props }: Props<T, R> & { name: string; close: () => void }) {
  const { submit, again = submit, columns = '1fr 1fr', children, taken } = props;
  const here = useLocation().pathname;
  const typed = useTyped<T, R>({
    ...props,
    keep: `barodex.form ${here} ${name}`,
    taken: (result) => {
      close();
      return taken?.(result);
    },
  });
  return (
    <FormProvider {...typed.form}>
      <Box
        component="form"
        noValidate
        aria-label={name}
        sx={{
          bgcolor: (t) => t.tones.pan,
          p: 2,
          borderRadius: 2,
          display: 'grid',
          gap: 1,
          gridTemplateColumns: { xs: '1fr', sm: columns },
          alignItems: 'start',
        }}
        onSubmit={(e) => {
          e.preventDefault();
          e.stopPropagation();
          typed.submit();
        }}>
        {typeof children === 'function' ? children(typed) : children}
        <Box sx={{ gridColumn: '1 / -1', display: 'grid', gap: 1 }}>
          <Trouble error={typed.act.error} />
          <Box sx={{ display: 'flex', gap: 1 }}>
            <Button type="submit" variant="contained" disabled={typed.act.isPending}>
              {typed.overtaken ? again : submit}
            </Button>
            <Button variant="text" onClick={close}>{t`Not now`}</Button>
          </Box>
        </Box>
      </Box>
    </FormProvider>
  );
}

/** ``again``: what is written on the button once somebody else's change was shown; ``shown``: open from the first. */
export function LittleForm<T extends FieldValues, R>(props: Props<T, R>) {
  const { open, of, small = false, strong = false } = props;
  const [shown, setShown] = useState(props.shown ?? false);
  const name = of ? `${open}: ${of}` : open; // what it is called begins with what is written on it
  if (shown) return <Opened {...props} name={name} close={() => setShown(false)} />;
  return (
    <Button
      variant={strong ? 'contained' : 'text'}
      size={small ? 'small' : 'medium'}
      aria-label={of ? name : undefined}
      onClick={() => setShown(true)}
      sx={{ justifySelf: 'start', ...(small ? { px: 0, minHeight: 32, fontSize: '1rem' } : {}) }}>
      {open}
    </Button>
  );
}
