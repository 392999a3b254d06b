/** The months ahead: visits, bay hours, and litres by oil, so that oil is bought and hours are kept before they are needed. */
import Box from '@mui/material/Box';
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
  const which = `${o.oil}: a drum of ${show(d.pack.size_ml, 'volume')}`;
  const n = d.break_even_services;
  if (d.pays) return `${which} pays: ${d.drum_cost.toFixed(2)} against ${d.packs_cost.toFixed(2)} in bottles for a year's ${show(d.year_ml, 'volume')}.`;
  return `${which} does not pay yet: ${d.packs_cost.toFixed(2)} in bottles for a year's ${show(d.year_ml, 'volume')}, the drum from ${n} changes on.`;
}

export function YearTable({ months, oils: year }: { months: readonly Month[]; oils: readonly YearOil[] }) {
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
            '& th, & td': { borderBottom: 1, borderColor: 'divider', px: 0.5, py: 0.5, textAlign: 'right', whiteSpace: 'nowrap', typography: 'body2' },
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
      {year.map((o) => {
        const text = drumSentence(o, show);
        return text && o.drum ? (
          <span key={o.oil}>
            {text} <How working={o.drum.working} title="Drum or bottles" />
          </span>
        ) : null;
      })}
    </Section>
  );
}
