/** Oils on the axes of ASTM D341: straight lines, the asked grade's band, the weather. The server places every point. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { Schemas } from '../../../app/api';

type Chart = Schemas['ViscosityChart'];
const [W, H, LEFT, RIGHT, TOP, FLOOR] = [720, 430, 62, 560, 14, 388];
const DASHES = ['', '9 4', '2 4', '12 4 2 4'];
const across = (x: number) => LEFT + x * (RIGHT - LEFT);
const up = (y: number) => FLOOR - y * (FLOOR - TOP);
const path = (points: Schemas['Point'][]) => points.map((p, k) => `${k ? 'L' : 'M'}${across(p.x).toFixed(1)} ${up(p.y).toFixed(1)}`).join('');
const figure = (kv: number) => (kv >= 1000 ? Math.round(kv).toLocaleString('en-GB').replace(/,/g, '\u00a0') : kv >= 100 ? kv.toFixed(0) : kv.toFixed(1));

/** Labels at the right end, pushed apart so that none covers another. */
export function apart(wanted: number[], gap = 17): number[] {
  const order = wanted.map((y, k) => [y, k] as const).sort((a, b) => a[0] - b[0]);
  const placed: number[] = [...wanted];
  let last = Number.NEGATIVE_INFINITY;
  for (const [y, k] of order) {
    last = Math.max(y, last + gap);
    placed[k] = last;
  }
  return placed;
}

export function ViscosityChart({ chart }: { chart: Chart }) {
  const { tones } = useTheme();
  const colours = [tones.ink, tones.amberText, tones.red, tones.soft];
  const ends = chart.lines.map((l) => l.points.at(-1)).map((p) => (p ? up(p.y) : FLOOR));
  const labels = apart(ends);
  const band = chart.band;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ overflowX: 'auto' }}>
        <svg
          viewBox={`0 0 ${W} ${H}`}
          width="100%"
          style={{ minWidth: 520, maxWidth: 800 }}
          role="img"
          aria-label={t`Viscosity over temperature: ${chart.lines.map((l) => l.name).join(', ') || t`no oil chosen`}${band ? t`; band of ${band.name}` : ''}`}>
          <clipPath id="paper">
            <rect x={LEFT} y={TOP} width={RIGHT - LEFT} height={FLOOR - TOP} />
          </clipPath>
          {chart.ambient && (
            <g>
              <rect
                x={across(chart.ambient[0] ?? 0) - 2}
                y={TOP}
                width={Math.max(4, across(chart.ambient[1] ?? 0) - across(chart.ambient[0] ?? 0) + 4)}
                height={FLOOR - TOP}
                fill={tones.pan}
              />
              <text x={across(chart.ambient[0] ?? 0) + 4} y={FLOOR - 6} fontSize={12} fill={tones.soft}>{t`air expected`}</text>
            </g>
          )}
          {chart.t_ticks.map((t) => (
            <g key={t.value}>
              <path d={`M${across(t.at)} ${TOP}V${FLOOR}`} stroke={tones.line} />
              <text x={across(t.at)} y={FLOOR + 17} fontSize={12} textAnchor="middle" fill={tones.soft}>
                {String(t.value).replace('-', '−')}
              </text>
            </g>
          ))}
          {chart.kv_ticks.map((t) => (
            <g key={t.value}>
              <path d={`M${LEFT} ${up(t.at)}H${RIGHT}`} stroke={tones.line} />
              <text x={LEFT - 6} y={up(t.at) + 4} fontSize={12} textAnchor="end" fill={tones.soft}>
                {figure(t.value).replace('.0', '')}
              </text>
            </g>
          ))}
          <g clipPath="url(#paper)">
            {band && (
              <path
                d={`${path(band.thick)}${path([...band.thin].reverse()).replace('M', 'L')}Z`}
                fill={tones.amber}
                fillOpacity={0.32}
                stroke={tones.amberText}
                strokeWidth={1}
              />
            )}
            {chart.lines.map((l, k) => (
              <path key={l.name} d={path(l.points)} fill="none" stroke={colours[k]} strokeWidth={3} strokeDasharray={DASHES[k]} />
            ))}
          </g>
          <path d={`M${LEFT} ${TOP}V${FLOOR}H${RIGHT}`} fill="none" stroke={tones.ink} strokeWidth={2} />
          {chart.lines.map((l, k) => (
            <text key={l.name} x={RIGHT + 8} y={(labels[k] ?? 0) + 4} fontSize={13} fontWeight={700} fill={colours[k]}>
              {l.name.length > 20 ? `${l.name.slice(0, 19)}…` : l.name}
            </text>
          ))}
          {band && band.thick.length > 0 && (
            <text x={across(0.62)} y={up(band.thick.find((p) => p.x > 0.6)?.y ?? 0.5) - 8} fontSize={13} fill={tones.amberText}>
              {band.name}
            </text>
          )}
          <text x={RIGHT} y={H - 6} fontSize={12} textAnchor="end" fill={tones.soft}>{t`°C; mm²/s on the left; axes of ASTM D341`}</text>
        </svg>
      </Box>
      {chart.lines.length > 0 && (
        <Table
          sx={{
            borderCollapse: 'collapse',
            maxWidth: 680,
            typography: 'body2',
            '& th, & td': { textAlign: 'right', py: 0.25, pl: 2 },
            '& th:first-of-type, & td:first-of-type': { textAlign: 'left', pl: 0 },
          }}>
          <TableHead>
            <TableRow>
              <TableCell>{t`mm²/s at`}</TableCell>
              {chart.lines[0]?.shown.map((p) => (
                <TableCell key={p.temperature_c}>{String(p.temperature_c).replace('-', '−')} °C</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {chart.lines.map((l) => (
              <TableRow key={l.name}>
                <TableCell>
                  {l.name}
                  {l.estimated && (
                    <Box component="span" sx={{ color: (t) => t.tones.amberText }} title={l.basis}>
                      {' '}
                      <Trans>estimated</Trans>
                    </Box>
                  )}
                </TableCell>
                {l.shown.map((p) => (
                  <TableCell key={p.temperature_c}>{figure(p.kv)}</TableCell>
                ))}
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Box>
  );
}
