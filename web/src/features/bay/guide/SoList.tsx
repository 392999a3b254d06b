/** A list that is so as it stands: what is not so is tapped, and says that it is missing. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { notSo } from './answered';
import type { Values } from './service';

type Props = { items: string[]; draft: Values; change: (part: Values) => void };

export function SoList({ items, draft, change }: Props) {
  const denied = notSo(draft);
  const tap = (item: string) => change({ not_so: denied.includes(item) ? denied.filter((d) => d !== item) : [...denied, item] });
  return (
    <Box sx={{ display: 'grid', gap: 0 }}>
      {items.map((item) => {
        const off = denied.includes(item);
        return (
          <Box
            key={item}
            component="button"
            type="button"
            aria-pressed={off}
            aria-label={off ? t`${item}: not so` : t`${item}, tap if it is not so`}
            onClick={() => tap(item)}
            sx={{
              display: 'grid',
              gridTemplateColumns: '26px minmax(0, 1fr) auto',
              gap: 1,
              alignItems: 'center',
              minHeight: 46,
              textAlign: 'left',
              font: 'inherit',
              fontSize: '1.125rem',
              color: 'text.primary',
              bgcolor: off ? (t) => t.tones.redWash : 'transparent',
              border: 0,
              borderTop: 1,
              borderColor: 'divider',
              cursor: 'pointer',
              px: 0.5,
              py: 0.5,
            }}>
            <svg width={24} height={24} viewBox="0 0 24 24" aria-hidden="true" fill="none" stroke="currentColor" strokeWidth={off ? 3.4 : 2}>
              {off ? <path d="M5 5l14 14M19 5L5 19" /> : <path d="M3 12h18" />}
            </svg>
            <span>{item}</span>
            <Box component="b" sx={{ color: 'error.main', fontSize: '1rem' }}>
              {off ? t`not so` : ''}
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
