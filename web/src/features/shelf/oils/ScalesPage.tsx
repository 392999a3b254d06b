/** Gear, engine and industrial grades side by side by viscosity at 100 °C: 30 is not 30. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../../app/api';
import { Bones } from '../../../ui/Bones';
import { Choice } from '../../../ui/Choice';
import { FailedPage } from '../../../ui/FailedPage';
import { Page } from '../../../ui/Page';
import { Nav } from '../Nav';
import { beside, lanes } from './scales';

const [H, TOP, FLOOR, LEFT, COLUMN, GAP] = [560, 46, 530, 60, 150, 46];
const up = (y: number) => FLOOR - y * (FLOOR - TOP);

export function ScalesPage() {
  const { tones } = useTheme();
  const [edition, setEdition] = useState<'2005' | '2019'>('2005');
  const [chosen, setChosen] = useState({ scale: 'engine', band: 'SAE 30' });
  const view = useQuery({
    queryKey: ['scales', edition],
    queryFn: () => ask(client.GET('/api/lubricants/scales', { params: { query: { edition } } })),
    placeholderData: (before) => before,
  });
  if (view.isPending) return <Bones lines={6} />;
  if (view.isError) return <FailedPage error={view.error} />;
  const { scales, ticks } = view.data;
  const band = scales.find((s) => s.name === chosen.scale)?.bands.find((b) => b.name === chosen.band);
  const width = LEFT + scales.length * (COLUMN + GAP);
  return (
    <Page title={t`Grades`} note={t`three scales, one thickness: choose a grade and see what lies beside it`}>
      <Nav />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: `minmax(0, ${width}px) 1fr` }, gap: 4 }}>
        <svg viewBox={`0 0 ${width} ${H}`} width="100%" role="group" aria-label={t`Gear, engine and industrial grades by viscosity at 100 °C`}>
          {band && (
            <rect x={LEFT} y={up(band.top)} width={width - LEFT} height={Math.max(2, up(band.bottom) - up(band.top))} fill={tones.amber} fillOpacity={0.3} />
          )}
          {ticks.map((t) => (
            <g key={t.value}>
              <path d={`M${LEFT - 6} ${up(t.at)}H${width}`} stroke={tones.line} strokeDasharray="2 4" />
              <text x={LEFT - 10} y={up(t.at) + 4} fontSize={13} textAnchor="end" fill={tones.soft}>
                {t.value}
              </text>
            </g>
          ))}
          {scales.map((s, k) => {
            const left = LEFT + 10 + k * (COLUMN + GAP);
            const at = lanes(s.bands);
            return (
              <g key={s.name}>
                <text x={left} y={20} fontSize={19} fontWeight={600} fontFamily="Barlow Condensed" fill={tones.ink}>
                  {s.name}
                </text>
                <text x={left} y={36} fontSize={12} fill={tones.soft}>
                  {s.standard}
                </text>
                {s.bands.map((b) => {
                  const on = s.name === chosen.scale && b.name === chosen.band;
                  const [from, share] = at[b.name] ?? [0, 1];
                  const x = left + from * COLUMN;
                  const tall = Math.max(3, up(b.bottom) - up(b.top));
                  const choose = () => setChosen({ scale: s.name, band: b.name });
                  return (
                    <g
                      key={b.name}
                      role="button"
                      tabIndex={0}
                      aria-pressed={on}
                      aria-label={t`${s.name} ${b.name}: ${b.low.toFixed(1)} to ${b.high === null ? t`no upper limit` : b.high.toFixed(1)} mm²/s at 100 °C`}
                      onClick={choose}
                      onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && choose()}
                      style={{ cursor: 'pointer' }}>
                      <rect
                        x={x}
                        y={up(b.top) + 1}
                        width={share * COLUMN - (share < 1 ? 2 : 0)}
                        height={tall - 2}
                        rx={4}
                        fill={on ? tones.amber : tones.sheet}
                        stroke={tones.ink}
                        strokeWidth={on ? 3 : 1.4}
                        strokeDasharray={s.name === 'industrial' ? '5 3' : undefined}
                      />
                      <text
                        x={x + 10}
                        y={(up(b.top) + up(b.bottom)) / 2 + 5}
                        fontSize={Math.min(16, Math.max(11, tall - 4))}
                        fill={on ? tones.amberInk : tones.ink}>
                        {b.name}
                      </text>
                    </g>
                  );
                })}
              </g>
            );
          })}
          <text x={LEFT - 10} y={H - 8} fontSize={12} fill={tones.soft}>{t`mm²/s at 100 °C`}</text>
        </svg>
        <Box sx={{ display: 'grid', gap: 2, alignContent: 'start', maxWidth: 420 }}>
          {band && (
            <Box role="status">
              <Typography variant="h2">
                {chosen.scale === 'industrial' ? '' : `${chosen.scale} `}
                {band.name}
              </Typography>
              <Typography sx={{ fontSize: '1.2rem' }}>
                <Trans>
                  {band.low.toFixed(1)} to {band.high === null ? t`no upper limit` : t`below ${band.high.toFixed(1)}`} mm²/s at 100 °C
                </Trans>
              </Typography>
              <Typography>
                <Trans>Beside it lie {beside(scales, chosen.scale, band).join(', ') || t`no grade of the other scales`}.</Trans>
              </Typography>
            </Box>
          )}
          <Typography>{t`A straight SAE 30 engine oil is about as thick as an SAE 80 to 85 gear oil; a gear 90 is about an engine 40 to 50. The numbers belong to their scale: read the word beside them.`}</Typography>
          {scales.map((s) => (
            <Typography key={s.name} variant="body2" color="text.secondary">
              {s.name}: {s.standard}, {s.note}.
            </Typography>
          ))}
          <Choice
            label={t`Edition of SAE J306`}
            value={edition}
            options={[
              { value: '2005', label: '2005' },
              { value: '2019', label: t`2019 (from memory)` },
            ]}
            onChange={setEdition}
          />
        </Box>
      </Box>
    </Page>
  );
}
