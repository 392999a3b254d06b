/** A large button with a drawing, pressed or not; and the heading of a group that says when nothing of it was looked at. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { UNSEEN } from '../../../ui/unseen';

type TileProps = { on: boolean; onClick: () => void; children: ReactNode; label: string; edited?: boolean };

export function Tile({ on, onClick, children, label, edited = false }: TileProps) {
  return (
    <Box
      component="button"
      type="button"
      aria-pressed={on}
      onClick={onClick}
      sx={{
        border: 3,
        borderColor: on ? 'text.primary' : 'divider',
        borderRadius: 2,
        borderBottomLeftRadius: edited ? 0 : undefined,
        borderBottomRightRadius: edited ? 0 : undefined,
        bgcolor: edited ? (t) => t.tones.amberWash : 'background.paper',
        color: 'text.primary',
        font: 'inherit',
        fontSize: { xs: 13, lg: 15 },
        lineHeight: 1.15,
        p: 0.25,
        cursor: 'pointer',
        position: 'relative',
        display: 'grid',
        justifyItems: 'center',
        alignContent: 'space-between',
        fontWeight: on ? 700 : 400,
        minHeight: 56,
        minWidth: 0,
        '& small': { color: 'text.secondary', fontWeight: 400, fontSize: 13, whiteSpace: 'nowrap' },
      }}>
      <span style={UNSEEN}>{label}</span>
      <Box component="span" aria-hidden="true" sx={{ display: 'contents' }}>
        {children}
      </Box>
    </Box>
  );
}

export function Group({ title, looked, right, children }: { title: string; looked: boolean; right?: ReactNode; children: ReactNode }) {
  return (
    <Box role="group" aria-label={title} sx={{ display: 'grid', gap: 0.5 }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', minHeight: 30 }}>
        <Box component="h3" sx={{ typography: 'h4', m: 0 }}>
          {title}
        </Box>
        {!looked && (
          <Box
            component="span"
            sx={{ border: 1, borderStyle: 'dashed', borderRadius: 4, px: 1.25, fontSize: 14, color: 'text.secondary' }}>{t`not looked at`}</Box>
        )}
        <Box sx={{ ml: 'auto' }}>{right}</Box>
      </Box>
      {children}
    </Box>
  );
}

/** Small buttons in a row, one of them on; a second press takes it back. */
export function Pills({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string | null;
  options: readonly (readonly [string, string])[];
  onChange: (v: string | null) => void;
}) {
  return (
    <Box role="group" aria-label={label} sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }}>
      {options.map(([key, name]) => (
        <Box
          key={key}
          component="button"
          type="button"
          aria-pressed={value === key}
          onClick={() => onChange(value === key ? null : key)}
          sx={{
            font: 'inherit',
            fontSize: 16,
            minHeight: 48,
            minWidth: 44,
            px: 1.5,
            border: 2,
            borderRadius: 6,
            cursor: 'pointer',
            color: 'text.primary',
            bgcolor: 'background.paper',
            borderColor: value === key ? 'text.primary' : 'divider',
            boxShadow: (t) => (value === key ? `inset 0 0 0 1px ${t.tones.ink}` : 'none'),
            fontWeight: value === key ? 700 : 400,
          }}>
          {name}
        </Box>
      ))}
    </Box>
  );
}
