/** A field for an amount: takes what people type, and says at once what was understood. */
import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { type Ref, useEffect, useState } from 'react';
import { ask, client, sentence, Unreachable } from '../app/api';
import { type Kind, useShow } from '../app/session';

const plain = (words: string) => words.replace(/\s/g, '').toLowerCase();

/** The value, once it has rested for a moment. */
export function useRested<T>(value: T, ms = 220): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return rested;
}

type Props = {
  label: string;
  kind: Kind;
  value: string;
  onChange: (text: string) => void;
  problem?: string;
  big?: boolean;
  autoFocus?: boolean;
  hint?: string;
  inputRef?: Ref<HTMLInputElement>;
};

export function QuantityField({ label, kind, value, onChange, problem = '', big = false, autoFocus = false, hint = '', inputRef }: Props) {
  const text = useRested(value.trim());
  const { label: unit } = useShow();
  const read = useQuery({
    queryKey: ['read', kind, text],
    queryFn: () => ask(client.POST('/api/bench/read', { body: { text, kind } })),
    enabled: text !== '',
    retry: false,
    staleTime: 600_000,
  });
  const settled = text === value.trim();
  const refused = settled && read.isError && text !== '' && !(read.error instanceof Unreachable) ? sentence(read.error) : '';
  const bare = /^[\d\s.,]+$/.test(text);
  const others = read.data?.systems.filter((shown) => plain(shown) !== plain(text)).slice(0, 2) ?? [];
  const understood = settled && text !== '' && others.length ? `= ${others.join(' · ')}` : '';
  return (
    <TextField
      label={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      error={Boolean(problem || refused)}
      helperText={problem || refused || understood || hint || ' '}
      autoFocus={autoFocus}
      inputRef={inputRef}
      slotProps={{
        input: {
          endAdornment: bare || text === '' ? <InputAdornment position="end">{unit(kind)}</InputAdornment> : null,
          inputProps: { inputMode: 'text', autoComplete: 'off', maxLength: 80 },
        },
      }}
      sx={big ? { '& input': { fontSize: 44, fontWeight: 600, fontFamily: (t) => t.typography.h1.fontFamily, height: 56, py: 1 } } : undefined}
    />
  );
}
