/** One sum: what goes in, the answer large, its working in plain sight. */
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import type { Schemas } from '../../app/api';
import { Section } from '../../ui/Page';
import { Trouble } from '../../ui/Trouble';

type Props = { title: string; children: ReactNode; answer?: ReactNode; working?: Schemas['Working']; error?: unknown };

export function Sum({ title, children, answer, working, error }: Props) {
  return (
    <Section title={title}>
      <Box sx={{ borderTop: 3, borderColor: 'text.primary', pt: 1.5, display: 'grid', gap: 1 }}>
        {children}
        <Trouble error={error} />
        {answer && !error ? (
          <Box role="status" sx={{ bgcolor: (t) => t.tones.pan, p: 1.5, borderRadius: 2, display: 'grid', gap: 0.5 }}>
            <Box sx={{ typography: 'h2' }}>{answer}</Box>
            {working && (
              <Box sx={{ typography: 'body2', color: 'text.secondary' }}>
                <Trans>
                  {working.formula}; {working.inputs.map(([n, v]) => `${n} = ${v}`).join(', ')}. Source: {working.source}.
                </Trans>
              </Box>
            )}
          </Box>
        ) : null}
      </Box>
    </Section>
  );
}
