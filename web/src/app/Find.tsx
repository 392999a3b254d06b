/** Find a vehicle by name or plate, or a compartment, from anywhere. */
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { Panel } from '../ui/Panel';
import { useRested } from '../ui/QuantityField';
import { SightGlass } from '../ui/SightGlass';
import { ask, client, type Schemas } from './api';

type Hit = { key: string; to: string; title: string; note: string; glass: Schemas['CompartmentDue'] };

export function hits(board: Schemas['DueBoard'], query: string): Hit[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.length) return [];
  const matches = (text: string) => words.every((w) => text.toLowerCase().includes(w));
  const found: Hit[] = [];
  for (const v of board.vehicles) {
    const [first] = v.compartments;
    if (first && matches(`${v.name} ${v.plate} ${v.plate.replace(/\s/g, '')}`))
      found.push({ key: `v${v.id}`, to: `/due/vehicle/${v.id}`, title: v.name, note: v.plate || v.kind, glass: first });
    for (const c of v.compartments)
      if (matches(`${v.name} ${v.plate} ${c.name} ${c.kind}`))
        found.push({ key: `c${c.id}`, to: `/book/${c.id}`, title: `${v.name}, ${c.name}`, note: c.oil || 'no record', glass: c });
  }
  return found.slice(0, 9);
}

export function Find({ open, close }: { open: boolean; close: () => void }) {
  const [query, setQuery] = useState('');
  const [at, setAt] = useState(0);
  const go = useNavigate();
  const asked = useRested(query.trim());
  const board = useQuery({
    queryKey: ['due', 'find', asked],
    queryFn: () => ask(client.GET('/api/due', { params: { query: { find: asked, limit: 12 } } })),
    enabled: open && asked.length > 0,
    placeholderData: (old) => old,
  });
  const found = board.data && query.trim() ? hits(board.data, query) : [];
  const choose = (hit: Hit | undefined) => {
    if (!hit) return;
    close();
    setQuery('');
    go(hit.to);
  };
  return (
    <Panel label="Find" open={open} close={close} wide top>
      <Box sx={{ p: 2, display: 'grid', gap: 1 }}>
        <TextField
          autoFocus
          label="Vehicle, plate or compartment"
          value={query}
          onChange={(e) => {
            setQuery(e.target.value);
            setAt(0);
          }}
          onKeyDown={(e) => {
            if (e.key === 'ArrowDown') setAt((n) => Math.min(found.length - 1, n + 1));
            else if (e.key === 'ArrowUp') setAt((n) => Math.max(0, n - 1));
            else if (e.key === 'Enter') choose(found[at]);
            else return;
            e.preventDefault();
          }}
        />
        {query.trim() && asked === query.trim() && !found.length && board.isSuccess && !board.isPlaceholderData && <span>Nothing by that name.</span>}
        {found.map((hit, k) => (
          <Box
            key={hit.key}
            component="button"
            onClick={() => choose(hit)}
            sx={{
              display: 'flex',
              gap: 1.5,
              alignItems: 'center',
              p: 1,
              minHeight: 48,
              border: 2,
              borderColor: k === at ? 'text.primary' : 'transparent',
              borderRadius: 1,
              bgcolor: 'transparent',
              color: 'inherit',
              font: 'inherit',
              textAlign: 'left',
              cursor: 'pointer',
            }}>
            <SightGlass state={hit.glass.state} used={hit.glass.used} family={hit.glass.family} colour={hit.glass.colour} level={hit.glass.level} size={20} />
            <b>{hit.title}</b>
            <Box component="span" sx={{ color: 'text.secondary' }}>
              {hit.note}
            </Box>
          </Box>
        ))}
      </Box>
    </Panel>
  );
}
