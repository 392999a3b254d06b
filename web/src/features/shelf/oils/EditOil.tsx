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

/** `doubt`: nobody has stated it, or it is estimated. */
type Row = { name: string; value: string; doubt: boolean };

export function Facts({ oil }: { oil: Oil }) {
  const t = oil.thickness;
  const stated = (name: string, value: string | number | null, unit = ''): Row =>
    value === null || value === '' ? { name, value: 'not stated', doubt: true } : { name, value: `${value}${unit}`, doubt: false };
  const grade = [oil.grade, oil.categories].filter(Boolean).join(' · ');
  const strip = oil.copper_strip || (oil.safe_for_yellow_metal ? 'declared safe for yellow metal' : '');
  const rows: Row[] = [
    stated('Grade and class', grade),
    t
      ? { name: 'Viscosity', value: `${t.kv40.toFixed(1)} mm²/s at 40 °C, ${t.kv100.toFixed(2)} at 100 °C`, doubt: false }
      : { name: 'Viscosity', value: 'not known', doubt: true },
    {
      name: '',
      value: t?.estimated ? `estimated: ${t.basis}` : oil.viscosity_index === null ? '' : `viscosity index ${Math.round(oil.viscosity_index)} (ASTM D2270)`,
      doubt: Boolean(t?.estimated),
    },
    stated('Density at 15 °C', oil.density15, ' kg/m³'),
    stated('Copper strip (ASTM D130)', strip),
    stated('Base', oil.base),
    { name: 'Claims', value: oil.approvals.join(', ') || 'no approval', doubt: false },
    {
      name: 'In it',
      value: [oil.friction_modifier ? 'friction modifier' : '', oil.detergent ? 'detergent' : ''].filter(Boolean).join(', ') || 'nothing stated',
      doubt: false,
    },
  ];
  return (
    <Box component="dl" sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 2, rowGap: 0.5, m: 0, '& dd': { m: 0 } }}>
      {rows
        .filter((r) => r.value)
        .map(({ name, value, doubt }) => (
          <Box key={name + value} sx={{ display: 'contents' }}>
            <Box component="dt" sx={{ color: 'text.secondary' }}>
              {name}
            </Box>
            <Box component="dd" sx={{ color: doubt ? (th) => th.tones.amberText : 'text.primary' }}>
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
