/** The months ahead: visits, bay hours, and litres by oil, so that oil is bought and hours are kept before they are needed. */

import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { How } from '../../../ui/How';
import { Section } from '../../../ui/Page';

type Month = Schemas['Month'];
const NAME = new Intl.DateTimeFormat('en-GB', { month: 'short', year: '2-digit' });

/** Oils of all months, those of which most is needed first, each with its sum. */
export function oilsOf(months: readonly Month[]): [string, number][] {
  const sums = new Map<string, number>();
  for (const m of months) for (const o of m.oils) sums.set(o.oil, (sums.get(o.oil) ?? 0) + o.litres);
  return [...sums].sort((a, b) => b[1] - a[1]);
}

type YearOil = Schemas['Horizon']['oils'][number];

/** A drum against smaller packs, in a sentence; empty where no drum is on offer. */
export function drumSentence(o: YearOil, show: ReturnType<typeof useShow>['show']): string {
  if (!o.drum) return '';
  const d = o.drum;
  const which = t`${o.oil}: a drum of ${show(d.pack.size_ml, 'volume')}`;
  const n = d.break_even_services;
  if (d.pays) return t`${which} pays: ${d.drum_cost.toFixed(2)} against ${d.packs_cost.toFixed(2)} in bottles for a year's ${show(d.year_ml, 'volume')}.`;
  return t`${which} does not pay yet: ${d.packs_cost.toFixed(2)} in bottles for a year's ${show(d.year_ml, 'volume')}, the drum from ${n} changes on.`;
}

export function YearTable({ months, oils: year }: { months: readonly Month[]; oils: readonly YearOil[] }) {
  const { show } = useShow();
  const oils = oilsOf(months);
  const most = Math.max(...months.map((m) => m.hours), 1);
  if (!oils.length) return null;
  return (
    <Section title={t`Oil and hours by month`}>
      <Box sx={{ overflowX: 'auto' }}>
        <Table
          sx={{
            borderCollapse: 'collapse',
            width: '100%',
            '& th, & td': { borderBottom: 1, borderColor: 'divider', px: 0.5, py: 0.5, textAlign: 'right', whiteSpace: 'nowrap', typography: 'body2' },
            '& th:first-of-type': { textAlign: 'left' },
            '& thead th': { color: 'text.secondary', fontWeight: 400 },
          }}>
          <TableHead>
            <TableRow>
              <TableCell scope="col">{t`Oil`}</TableCell>
              <TableCell scope="col">{t`in all`}</TableCell>
              {months.map((m) => (
                <TableCell scope="col" key={m.first}>
                  {NAME.format(new Date(m.first))}
                </TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {oils.map(([oil, sum]) => (
              <TableRow key={oil}>
                <TableCell component="th" scope="row">
                  {oil || t`not known yet`}
                </TableCell>
                <TableCell>
                  <b>{show(sum * 1000, 'volume')}</b>
                </TableCell>
                {months.map((m) => {
                  const need = m.oils.find((o) => o.oil === oil);
                  return <TableCell key={m.first}>{need ? show(need.litres * 1000, 'volume') : ''}</TableCell>;
                })}
              </TableRow>
            ))}
            <TableRow>
              <TableCell component="th" scope="row">{t`bay hours`}</TableCell>
              <TableCell>
                <b>{months.reduce((sum, m) => sum + m.hours, 0).toFixed(1)} h</b>
              </TableCell>
              {months.map((m) => (
                <TableCell key={m.first}>
                  {m.hours > 0 && (
                    <>
                      <Box aria-hidden="true" sx={{ height: 8, bgcolor: 'text.primary', width: `${(m.hours / most) * 100}%`, ml: 'auto' }} />
                      {m.hours.toFixed(1)} h
                    </>
                  )}
                </TableCell>
              ))}
            </TableRow>
          </TableBody>
        </Table>
      </Box>
      {year.map((o) => {
        const text = drumSentence(o, show);
        return text && o.drum ? (
          <span key={o.oil}>
            {text} <How working={o.drum.working} title={t`Drum or bottles`} />
          </span>
        ) : null;
      })}
    </Section>
  );
}
