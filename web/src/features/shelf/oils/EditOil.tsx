/** What an oil says of itself, and changing it. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { ask, client, type Schemas, standing } from '../../../app/api';
import { useMay } from '../../../app/session';
import { LittleForm } from '../../../ui/LittleForm';
import { OilFields } from './OilFields';
import { type OilDraft, oilDraft, oilRequest } from './oilDraft';

export type Oil = Schemas['LubricantView'];

export function Facts({ oil }: { oil: Oil }) {
  const t = oil.thickness;
  const stated = (value: string | number | null, unit = '') => (value === null || value === '' ? 'not stated' : `${value}${unit}`);
  const rows: [string, string][] = [
    ['Grade and class', [oil.grade, oil.categories].filter(Boolean).join(' · ') || 'not stated'],
    ['Viscosity', t ? `${t.kv40.toFixed(1)} mm²/s at 40 °C, ${t.kv100.toFixed(2)} at 100 °C` : 'not known'],
    ['', t?.estimated ? `estimated: ${t.basis}` : oil.viscosity_index === null ? '' : `viscosity index ${Math.round(oil.viscosity_index)} (ASTM D2270)`],
    ['Density at 15 °C', stated(oil.density15, ' kg/m³')],
    ['Copper strip (ASTM D130)', oil.copper_strip || (oil.safe_for_yellow_metal ? 'declared safe for yellow metal' : 'not stated')],
    ['Base', stated(oil.base)],
    ['Claims', oil.approvals.join(', ') || 'no approval'],
    ['In it', [oil.friction_modifier ? 'friction modifier' : '', oil.detergent ? 'detergent' : ''].filter(Boolean).join(', ') || 'nothing stated'],
  ];
  return (
    <Box component="dl" sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 2, rowGap: 0.5, m: 0, '& dd': { m: 0 } }}>
      {rows
        .filter(([, value]) => value)
        .map(([name, value]) => (
          <Box key={name + value} sx={{ display: 'contents' }}>
            <Box component="dt" sx={{ color: 'text.secondary' }}>
              {name}
            </Box>
            <Box component="dd" sx={{ color: /^estimated|not (stated|known)/.test(value) ? (th) => th.tones.amberText : 'text.primary' }}>
              {value}
            </Box>
          </Box>
        ))}
    </Box>
  );
}

export function Edit({ oil }: { oil: Oil }) {
  const lead = useMay('lead');
  const may = useMay('technician');
  const cache = useQueryClient();
  const stands = useMemo(() => oilDraft(oil), [oil]);
  const [typed, setTyped] = useState<{ d: OilDraft; from: number } | null>(null);
  const [overtaken, setOvertaken] = useState(false);
  if (!may) return null;
  const { d, from } = typed ?? { d: stands, from: oil.version };
  const send = async () => {
    const path = { params: { path: { lubricant: oil.id }, header: { 'If-Match': String(from) } } };
    try {
      return await ask(client.PUT('/api/lubricants/{lubricant}', { ...path, body: oilRequest(d) }));
    } catch (error) {
      if (standing(error)) {
        setOvertaken(true);
        setTyped({ d, from: standing(error) });
        void cache.invalidateQueries({ queryKey: ['lubricants'] });
      }
      throw error;
    }
  };
  const settle = () => {
    setTyped(null);
    setOvertaken(false);
  };
  return (
    <LittleForm
      open={lead ? 'Correct it from the data sheet' : 'Fill in what is missing'}
      submit={overtaken ? 'Keep mine over theirs' : 'Keep it'}
      send={send}
      taken={settle}>
      {(at) => (
        <>
          <OilFields d={d} set={(part) => setTyped({ d: { ...d, ...part }, from })} at={at} />
          {overtaken && (
            <Button variant="outlined" onClick={settle} sx={{ gridColumn: '1 / -1', justifySelf: 'start' }}>
              Take what stands there
            </Button>
          )}
        </>
      )}
    </LittleForm>
  );
}
