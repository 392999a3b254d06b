/** A button by which a file is chosen; the same one may be chosen again. */
import Button from '@mui/material/Button';
import { type ReactNode, useRef } from 'react';

type Props = { label: string; accept: string; take: (file: File) => void; busy?: boolean; plain?: boolean; children: ReactNode };

export function FileButton({ label, accept, take, busy = false, plain = false, children }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const chosen = () => {
    const file = input.current?.files?.[0];
    if (file && !busy) take(file);
    if (input.current) input.current.value = '';
  };
  return (
    <>
      <input ref={input} type="file" accept={accept} aria-label={label} hidden onChange={chosen} />
      <Button variant={plain ? 'outlined' : 'contained'} disabled={busy} onClick={() => input.current?.click()} sx={{ justifySelf: 'start' }}>
        {children}
      </Button>
    </>
  );
}
