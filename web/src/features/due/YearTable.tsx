/** The months ahead: visits, bay hours, and litres by oil, so that oil is bought and hours are kept before they are needed. */
import Box from '@mui/material/Box';
import type { Schemas } from '../../app/api';
import { useShow } from '../../app/session';
import { Section } from '../../ui/Page';

type Month = Schemas['Month'];
const NAME = new Intl.DateTimeFormat('en-GB', { month: 'short', year: '2-digit' });

/** Oils of all months, those of which most is needed first, each with its sum. */
export function oilsOf(months: readonly Month[]): [string, number][] {
  const sums = new Map<string, number>();
  for (const m of months) for (const o of m.oils) sums.set(o.oil, (sums.get(o.oil) ?? 0) + o.litres);
  return [...sums].sort((a, b) => b[1] - a[1]);
}

export function YearTable({ months }: { months: readonly Month[] }) {
  const { show } = useShow();
  const oils = oilsOf(months);
  const most = Math.max(...months.map((m) => m.hours), 1);
  if (!oils.length) return null;
  return (
    <Section title="Oil and hours by month">
      <Box sx={{ overflowX: 'auto' }}>
        <Box
          component="table"
          sx={{
            borderCollapse: 'collapse',
            width: '100%',
            '& th, & td': { borderBottom: 1, borderColor: 'divider', px: 0.75, py: 0.5, textAlign: 'right', whiteSpace: 'nowrap' },
            '& th:first-of-type': { textAlign: 'left' },
            '& thead th': { color: 'text.secondary', fontWeight: 400 },
          }}>
          <thead>
            <tr>
              <th scope="col">Oil</th>
              <th scope="col">in all</th>
              {months.map((m) => (
                <th scope="col" key={m.first}>
                  {NAME.format(new Date(m.first))}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {oils.map(([oil, sum]) => (
              <tr key={oil}>
                <th scope="row">{oil || 'not known yet'}</th>
                <td>
                  <b>{show(sum * 1000, 'volume')}</b>
                </td>
                {months.map((m) => {
                  const need = m.oils.find((o) => o.oil === oil);
                  return <td key={m.first}>{need ? show(need.litres * 1000, 'volume') : ''}</td>;
                })}
              </tr>
            ))}
            <tr>
              <th scope="row">bay hours</th>
              <td>
                <b>{months.reduce((sum, m) => sum + m.hours, 0).toFixed(1)} h</b>
              </td>
              {months.map((m) => (
                <td key={m.first}>
                  {m.hours > 0 && (
                    <>
                      <Box aria-hidden="true" sx={{ height: 8, bgcolor: 'text.primary', width: `${(m.hours / most) * 100}%`, ml: 'auto' }} />
                      {m.hours.toFixed(1)} h
                    </>
                  )}
                </td>
              ))}
            </tr>
          </tbody>
        </Box>
      </Box>
    </Section>
  );
}
