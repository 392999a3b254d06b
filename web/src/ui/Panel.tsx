/** A sheet over the page, named for those who do not see it; Escape closes it. */
import Dialog from '@mui/material/Dialog';
import type { ComponentProps, ReactNode } from 'react';

type Props = { label: string; open: boolean; close: () => void; children: ReactNode; wide?: boolean; top?: boolean; roomy?: boolean };

export function Panel({ label, open, close, children, wide = false, top = false, roomy = false }: Props) {
  const paper = { 'aria-label': label } as NonNullable<ComponentProps<typeof Dialog>['slotProps']>['paper'];
  return (
    <Dialog
      open={open}
      onClose={close}
      fullWidth={wide}
      maxWidth={roomy ? 'md' : 'sm'}
      slotProps={{ paper }}
      sx={top ? { '& .MuiDialog-container': { alignItems: 'flex-start' } } : undefined}>
      {children}
    </Dialog>
  );
}
