/** The oil's colour from a strip of swatches: ASTM D1500 numbers beneath for undyed oil, tints of its own for dyed oil. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';
import { Pills } from './Tile';
import { type FindingDraft, FOREIGN, type Swatch } from './words';

export function useSwatches(family: string) {
  return useQuery({
    queryKey: ['swatches', family],
    queryFn: () => ask(client.GET('/api/swatches', { params: { query: { family } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Whole numbers are wide enough for a glove; a half that was measured joins them. */
export function shownSwatches(all: Swatch[], chosen: number | null | undefined): Swatch[] {
  return all.filter((s) => s.d1500 === null || s.d1500 === 0.5 || s.d1500 % 1 === 0 || s.d1500 === chosen);
}

type Props = { family: string; value: FindingDraft; set: (part: Partial<FindingDraft>) => void };

export function SwatchStrip({ family, value, set }: Props) {
  const all = useSwatches(family);
  const shown = shownSwatches(all.data ?? [], value.d1500);
  const on = (s: Swatch) => (s.d1500 === null ? value.colour === s.word : value.d1500 != null ? s.d1500 === value.d1500 : false);
  return (
    <Box sx={{ display: 'grid', gap: 0.25 }}>
      <Box sx={{ display: 'flex', gap: 0.25 }}>
        {shown.map((s) => (
          <Box
            key={`${s.word}${s.d1500}`}
            component="button"
            type="button"
            aria-pressed={on(s)}
            aria-label={t`colour: ${s.word}${s.d1500 === null ? '' : t`, ASTM D1500 ${s.d1500}`}`}
            onClick={() => set(on(s) ? { colour: null, d1500: null, delta_e: null } : { colour: s.word, d1500: s.d1500, delta_e: null })}
            sx={{
              flex: '1 1 0',
              minWidth: 40,
              p: 0,
              font: 'inherit',
              color: 'text.primary',
              cursor: 'pointer',
              border: 3,
              borderColor: on(s) ? 'text.primary' : 'transparent',
              borderRadius: 1.5,
              bgcolor: 'transparent',
              '&:hover': { borderColor: 'divider' },
            }}>
            <Box sx={{ height: 44, borderRadius: '4px 4px 0 0', bgcolor: s.hex, border: 1, borderColor: 'divider' }} />
            <Box sx={{ fontSize: 15, fontWeight: on(s) ? 700 : 400, lineHeight: 1.4 }}>{s.d1500 ?? s.word}</Box>
          </Box>
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
        <Pills
          label={t`Not by ageing`}
          value={value.colour}
          options={FOREIGN.filter(([word]) => family !== 'atf' || word !== 'reddish')}
          onChange={(colour) => set({ colour, d1500: null, delta_e: null })}
        />
        <Box sx={{ fontSize: 16, minHeight: 24 }}>
          {value.colour === null
            ? (shown[0]?.d1500 ?? null) === null
              ? t`Against fresh oil, on white paper.`
              : t`ASTM D1500 numbers, against fresh oil on white paper.`
            : `${value.colour[0]?.toUpperCase()}${value.colour.slice(1)}${value.d1500 == null ? '' : t`, D1500 about ${value.d1500}`}${
                value.delta_e == null ? '' : t`; ΔE ${value.delta_e.toFixed(1)} from fresh, by photo`
              }${FOREIGN.some(([word]) => word === value.colour) ? t`: not what this oil turns to by itself` : ''}.`}
        </Box>
      </Box>
    </Box>
  );
}
