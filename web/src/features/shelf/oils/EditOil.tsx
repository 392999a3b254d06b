/** What an oil says of itself, and changing it. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { useMay } from '../../../app/session';
import { LittleForm } from '../../../ui/LittleForm';
import { OilFields } from './OilFields';
import { oilDraft, oilPath, oilRequest } from './oilDraft';

export type Oil = Schemas['LubricantView'];

/** `doubt`: nobody has stated it, or it is estimated. */
type Row = { name: string; value: string; doubt: boolean };

export function Facts({ oil }: { oil: Oil }) {
  const thick = oil.thickness;
  const stated = (name: string, value: string | number | null, unit = ''): Row =>
    value === null || value === '' ? { name, value: t`not stated`, doubt: true } : { name, value: `${value}${unit}`, doubt: false };
  const grade = [oil.grade, oil.categories].filter(Boolean).join(' · ');
  const strip = oil.copper_strip || (oil.safe_for_yellow_metal ? t`declared safe for yellow metal` : '');
  const rows: Row[] = [
    stated(t`Grade and class`, grade),
    thick
      ? { name: t`Viscosity`, value: t`${thick.kv40.toFixed(1)} mm²/s at 40 °C, ${thick.kv100.toFixed(2)} at 100 °C`, doubt: false }
      : { name: t`Viscosity`, value: t`not known`, doubt: true },
    {
      name: '',
      value: thick?.estimated
        ? t`estimated: ${thick.basis}`
        : oil.viscosity_index === null
          ? ''
          : t`viscosity index ${Math.round(oil.viscosity_index)} (ASTM D2270)`,
      doubt: Boolean(thick?.estimated),
    },
    stated(t`Density at 15 °C`, oil.density15, t` kg/m³`),
    stated(t`Copper strip (ASTM D130)`, strip),
    stated('Base', oil.base),
    { name: 'Claims', value: oil.approvals.join(', ') || t`no approval`, doubt: false },
    {
      name: t`In it`,
      value: [oil.friction_modifier ? 'friction modifier' : '', oil.detergent ? 'detergent' : ''].filter(Boolean).join(', ') || t`nothing stated`,
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
  if (!may) return null;
  const takeTheirs = async () => {
    const now = await cache.fetchQuery({ queryKey: ['lubricants'], queryFn: () => ask(client.GET('/api/lubricants')), staleTime: 0 });
    return oilDraft(now.find((o) => o.id === oil.id) ?? oil);
  };
  return (
    <LittleForm
      open={lead ? t`Correct it from the data sheet` : t`Fill in what is missing`}
      submit={t`Keep it`}
      again={t`Keep mine over theirs`}
      start={oilDraft(oil)}
      version={oil.version}
      pathOf={oilPath}
      send={(d, version) => {
        const params = { path: { lubricant: oil.id }, header: { 'If-Match': String(version) } };
        return ask(client.PUT('/api/lubricants/{lubricant}', { params, body: oilRequest(d) }));
      }}>
      {(typed) => (
        <>
          <OilFields />
          {typed.overtaken && (
            <Button
              variant="outlined"
              onClick={async () => typed.startAgain(await takeTheirs())}
              sx={{ gridColumn: '1 / -1', justifySelf: 'start' }}>{t`Take what stands there`}</Button>
          )}
        </>
      )}
    </LittleForm>
  );
}
