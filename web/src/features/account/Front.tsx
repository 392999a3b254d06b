/** The page before anybody is signed in: the name of the book on the left, what is asked on the right. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { FormEvent, ReactNode } from 'react';
import { SightGlass } from '../../ui/SightGlass';
import { Title } from '../../ui/Title';

const SHOWN = [
  { state: 'fine', used: 0.1, colour: 'fresh', level: 0 },
  { state: 'fine', used: 0.5, colour: 'darker', level: 1 },
  { state: 'soon', used: 0.92, colour: 'brown', level: 1 },
  { state: 'overdue', used: 1.2, colour: 'dark brown', level: 2 },
] as const;

export function Front({ submit, children, wide = false }: { submit: () => void; children: ReactNode; wide?: boolean }) {
  const send = (e: FormEvent) => {
    e.preventDefault();
    submit();
  };
  return (
    <Box component="main" sx={{ minHeight: '100vh', display: 'grid', gridTemplateColumns: { xs: '1fr', md: wide ? '0.8fr 1.3fr' : '1.1fr 1fr' } }}>
      <Box sx={{ bgcolor: (t) => t.tones.spine, color: (t) => t.tones.spineInk, p: { xs: 4, md: 8 }, display: 'grid', alignContent: 'center', gap: 4 }}>
        <Title sx={{ color: 'primary.main', fontSize: { xs: '3.5rem', md: '5.5rem' } }}>{t`Ba·ro·dex`}</Title>
        <Typography
          sx={{
            fontSize: '1.35rem',
            maxWidth: '26em',
          }}>{t`Three things are read off oil: how much, what colour, what floats in it. This book does the sums.`}</Typography>
        <Box sx={{ display: 'flex', gap: 3, bgcolor: 'background.default', borderRadius: 3, p: 2, justifySelf: 'start' }} aria-hidden="true">
          {SHOWN.slice(0, wide ? 3 : 4).map((s) => (
            <SightGlass key={s.state + s.used} {...s} size={96} />
          ))}
        </Box>
      </Box>
      <Box
        component="form"
        noValidate
        onSubmit={send}
        sx={{ p: { xs: 4, md: 8 }, display: 'grid', gap: 2, alignContent: 'center', maxWidth: wide ? 760 : 480 }}>
        {children}
      </Box>
    </Box>
  );
}
