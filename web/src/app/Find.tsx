/** Find anything by its name from anywhere: vehicles, plates, compartments, label codes, oils, sheets, people, records by date. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import useAutocomplete from '@mui/material/useAutocomplete';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { Panel } from '../ui/Panel';
import { useRested } from '../ui/QuantityField';
import { SightGlass } from '../ui/SightGlass';
import { Trouble } from '../ui/Trouble';
import { ask, client, type Schemas } from './api';

type Hit = Schemas['Hit'];

/** What a kind of hit is called as a heading, and where it leads. */
const KINDS: Record<string, { many: string; to: (h: Hit) => string }> = {
  vehicle: { many: 'Vehicles', to: (h) => `/due/vehicle/${h.id}` },
  compartment: { many: 'Compartments', to: (h) => `/book/${h.id}` },
  oil: { many: 'Oils', to: (h) => `/shelf/oils/${h.id}` },
  sheet: { many: 'Sheets', to: (h) => `/shelf/sheets/${h.id}` },
  part: { many: t`In the store`, to: () => '/shelf/store' },
  person: { many: 'People', to: () => '/settings/people' },
  record: { many: 'Records', to: (h) => `/book/${h.id}` },
};
export const leadsTo = (hit: Hit) => KINDS[hit.kind]?.to(hit) ?? '/due';

function Line({ hit }: { hit: Hit }) {
  return (
    <>
      {hit.glass && (
        <SightGlass state={hit.glass.state} used={hit.glass.used} family={hit.glass.family} colour={hit.glass.colour} level={hit.glass.level} size={20} />
      )}
      <b>{hit.title}</b>
      <Box component="span" sx={{ color: 'text.secondary' }}>
        {hit.note}
      </Box>
    </>
  );
}

const LINE = {
  display: 'flex',
  columnGap: 1.5,
  flexWrap: 'wrap',
  alignItems: 'center',
  px: 1,
  minHeight: 48,
  border: 2,
  borderColor: 'transparent',
  borderRadius: 1,
  cursor: 'pointer',
  listStyle: 'none',
  '&.Mui-focused': { borderColor: 'text.primary' },
} as const;

function Opened({ close }: { close: () => void }) {
  const [query, setQuery] = useState('');
  const go = useNavigate();
  const asked = useRested(query.trim());
  const found = useQuery({
    queryKey: ['search', asked],
    queryFn: () => ask(client.GET('/api/search', { params: { query: { find: asked } } })),
    enabled: asked.length > 0,
    placeholderData: (old) => old,
  });
  const hits = query.trim() ? (found.data?.hits ?? []) : [];
  const box = useAutocomplete<Hit, false, false, false>({
    id: 'find',
    open: true,
    options: hits,
    value: null,
    inputValue: query,
    autoHighlight: true,
    clearOnEscape: false,
    filterOptions: (all) => all,
    groupBy: (h) => h.kind,
    getOptionLabel: (h) => h.title,
    getOptionKey: (h) => `${h.kind} ${h.id} ${h.note}`,
    onInputChange: (_, text, reason) => reason === 'input' && setQuery(text),
    onChange: (_, hit) => {
      if (!hit) return;
      close();
      go(leadsTo(hit));
    },
  });
  const groups = box.groupedOptions as { key: number; index: number; group: string; options: Hit[] }[];
  const { ref, ...input } = box.getInputProps() as ReturnType<typeof box.getInputProps> & { ref: React.Ref<HTMLInputElement> };
  const settled = query.trim() && asked === query.trim() && found.isSuccess && !found.isPlaceholderData;
  return (
    <Box sx={{ p: 2, display: 'grid', gap: 1 }}>
      <Box {...box.getRootProps()}>
        <TextField
          autoFocus
          fullWidth
          label={t`Vehicle, plate, compartment, oil, sheet, day, code of a label`}
          inputRef={ref}
          slotProps={{ htmlInput: { ...input, maxLength: 60, inputMode: 'search', enterKeyHint: 'search' } }}
        />
      </Box>
      <Trouble error={found.error} again={() => found.refetch()} />
      {settled && hits.length === 0 && <Box role="status">{t`Nothing by that name.`}</Box>}
      {hits.length > 0 && found.data?.read_as && (
        <Box role="status">
          <Trans>
            Read as <b>{found.data.read_as}</b>: nothing is called as it was typed.
          </Trans>
        </Box>
      )}
      <Box component="ul" {...box.getListboxProps()} aria-label={t`Found`} sx={{ m: 0, p: 0, listStyle: 'none', maxHeight: '60vh', overflowY: 'auto' }}>
        {groups.map((g) => (
          <Box component="li" key={g.key} sx={{ listStyle: 'none' }}>
            <Box sx={{ typography: 'body2', color: 'text.secondary', px: 1, pt: 1 }}>{KINDS[g.group]?.many ?? g.group}</Box>
            <Box component="ul" sx={{ m: 0, p: 0 }}>
              {g.options.map((hit, k) => {
                const { key, ...option } = box.getOptionProps({ option: hit, index: g.index + k }) as Record<string, unknown> & { key: string };
                return (
                  <Box component="li" key={key} {...option} sx={LINE}>
                    <Line hit={hit} />
                  </Box>
                );
              })}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

export function Find({ open, close }: { open: boolean; close: () => void }) {
  return (
    <Panel label={t`Find`} open={open} close={close} wide top>
      {open && <Opened close={close} />}
    </Panel>
  );
}
