/** A part of a long form that is folded: its title, what is filled in so far, and, opened, its fields. It opens by itself where one is wrong. */
import { t } from '@lingui/core/macro';
import Accordion from '@mui/material/Accordion';
import AccordionDetails from '@mui/material/AccordionDetails';
import AccordionSummary from '@mui/material/AccordionSummary';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { type ReactNode, useState } from 'react';

export function Layer({ title, said, wrong = false, children }: { title: string; said: string[]; wrong?: boolean; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  const shown = open || wrong;
  return (
    <Accordion
      expanded={shown}
      onChange={(_, next) => setOpen(next)}
      disableGutters
      square
      elevation={0}
      sx={{ bgcolor: 'transparent', borderTop: 1, borderColor: 'divider', '&::before': { display: 'none' } }}>
      <AccordionSummary sx={{ px: 0, minHeight: 48, '& .MuiAccordionSummary-content': { my: 1, columnGap: 2, alignItems: 'baseline', flexWrap: 'wrap' } }}>
        <Typography variant="h3" component="span">
          {title}
        </Typography>
        <Box component="span" sx={{ typography: 'body1', color: said.length ? 'text.primary' : 'text.secondary', overflowWrap: 'anywhere' }}>
          {said.length ? said.join(' · ') : t`nothing stated`}
        </Box>
        <Box component="span" aria-hidden sx={{ typography: 'body1', ml: 'auto', textDecoration: 'underline', textUnderlineOffset: '0.2em' }}>
          {shown ? t`Fold` : t`Unfold`}
        </Box>
      </AccordionSummary>
      <AccordionDetails sx={{ px: 0, pt: 0.5, pb: 2, display: 'grid', gap: 1.5 }}>{children}</AccordionDetails>
    </Accordion>
  );
}
