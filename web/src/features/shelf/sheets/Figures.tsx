/** The figures of a revision, and what changed since the one before. */
import Box from '@mui/material/Box';
import type { Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';

export type Revision = Schemas['RevisionView'];

export const YES = (value: boolean | null) => (value === null ? 'unknown' : value ? 'yes' : 'no');

/** Every figure of a revision as words, so that two revisions can be compared line by line. */
/** Where a figure is from; `doubt`: nobody has verified it. */
type Source = { words: string; doubt: boolean };
type Figure = [name: string, value: string, source: Source];
const NONE: Source = { words: '', doubt: false };

export function figuresOf(r: Revision, show: ReturnType<typeof useShow>['show']): Figure[] {
  const from = (figure: string): Source => {
    const source = r.sources.find((s) => s.figure === figure);
    const words = source ? `${source.source}, ${source.trust}${source.note ? `: ${source.note}` : ''}; ${source.by}, ${date(source.at)}` : 'no source noted';
    return { words, doubt: source?.trust !== 'verified' };
  };
  const part = (name: string, value: number | null) => (value === null ? '' : `${name} ${show(value, 'volume')}`);
  const amounts = [
    part('dry', r.total_ml),
    part('stays inside', r.residual_ml),
    part('rinse', r.rinse_ml),
    part('surplus', r.surplus_ml),
    r.exchange_cycles > 1 ? `${r.exchange_cycles} cycles` : '',
  ]
    .filter(Boolean)
    .join(', ');
  const oil = [
    r.approvals.length ? `approval ${r.approvals.join(' or ')}` : '',
    r.also.length ? `or ${r.also.join(', ')}` : '',
    r.no_ep ? 'no extreme pressure' : '',
    r.non_detergent ? 'non-detergent' : '',
    r.wet_clutch ? 'wet clutches run in it' : '',
    part('friction modifier', r.modifier_ml),
  ]
    .filter(Boolean)
    .join(', ');
  const level = [
    r.window_low_c === null ? '' : `${show(r.window_low_c, 'temperature')} to ${show(r.window_high_c, 'temperature')}`,
    r.level_engine && `engine ${r.level_engine}`,
    r.selector && `selector in ${r.selector}`,
    r.thermostat_c === null ? '' : `cooler opens at ${show(r.thermostat_c, 'temperature')}`,
    r.below_lip_mm === null ? '' : `${show(r.below_lip_mm, 'length')} below the hole`,
  ]
    .filter(Boolean)
    .join(', ');
  const interval = [
    r.interval_km === null ? '' : show(r.interval_km, 'distance'),
    r.interval_h === null ? '' : show(r.interval_h, 'engine_hours'),
    r.interval_months === null ? '' : `${r.interval_months} months`,
    r.for_life ? 'filled for life, says its maker' : '',
  ]
    .filter(Boolean)
    .join(' or ');
  return [
    ['Takes', r.capacity_ml === null ? 'unknown' : `${show(r.capacity_ml, 'volume')}${amounts ? ` (${amounts})` : ''}`, from('capacity')],
    ['Oil', [r.family, r.grade, r.categories, r.base && `${r.base} base`].filter(Boolean).join(' '), from('oil')],
    ...(oil ? [['', oil, NONE] as Figure] : []),
    ['Change every', interval || 'not stated: common practice counts', from('interval')],
    ['Filled', `${r.fill_method}${r.level_note ? `. ${r.level_note}` : ''}`, NONE],
    ...(level ? [['Level at', level, NONE] as Figure] : []),
    ...(r.resets.length ? [['Resets', r.resets.join(', '), NONE] as Figure] : []),
    ['Drained', `by ${r.drain_method}${r.drain_minutes === null ? '' : `, about ${r.drain_minutes} min`}`, NONE],
    ['Case', r.case_material, NONE],
    ['Hypoid gears', YES(r.hypoid), NONE],
    ['Brass or bronze inside', YES(r.yellow_metal), NONE],
    ['Clutch-type limited slip', YES(r.limited_slip), NONE],
  ];
}

export function Figures({ r, before }: { r: Revision; before?: Revision }) {
  const { show } = useShow();
  const old = before ? figuresOf(before, show) : [];
  const torque = r.sources.find((s) => s.figure === 'torque');
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      <Box
        component="table"
        sx={{ borderCollapse: 'collapse', maxWidth: 900, '& td': { borderTop: 1, borderColor: 'divider', py: 0.75, pr: 3, verticalAlign: 'top' } }}>
        <tbody>
          {figuresOf(r, show).map(([name, value, source], k) => (
            <tr key={name + value}>
              <td>{name}</td>
              <td>
                <b>{value}</b>
                {old[k] && old[k][1] !== value && <Box sx={{ color: 'text.secondary' }}>before: {old[k][1]}</Box>}
              </td>
              <Box component="td" sx={{ color: source.doubt ? (t) => t.tones.amberText : 'text.secondary' }}>
                {source.words}
              </Box>
            </tr>
          ))}
        </tbody>
      </Box>
      <Box
        component="table"
        sx={{ borderCollapse: 'collapse', maxWidth: 900, '& td, & th': { borderTop: 1, borderColor: 'divider', py: 0.75, pr: 3, textAlign: 'left' } }}>
        <thead>
          <tr>
            <th>Plug</th>
            <th>Key</th>
            <th>Seal</th>
            <th>Torque</th>
            <th>Magnet</th>
          </tr>
        </thead>
        <tbody>
          {r.plugs.map((p) => (
            <tr key={p.role + p.label}>
              <td>
                {p.label} ({p.role})
              </td>
              <td>{p.size_mm === null ? p.drive : `${p.size_mm} mm ${p.drive}`}</td>
              <td>{p.seal}</td>
              <td>
                <b>{p.torque_nm === null ? 'unknown' : show(p.torque_nm, 'torque')}</b>
              </td>
              <td>{p.magnet ? 'yes' : 'no'}</td>
            </tr>
          ))}
        </tbody>
      </Box>
      {torque && (
        <Box sx={{ color: torque.trust === 'verified' ? 'text.secondary' : (t) => t.tones.amberText }}>
          Torques from {torque.source}, {torque.trust}.
        </Box>
      )}
      {r.cautions.map((c) => (
        <Box key={c} sx={{ borderLeft: 6, borderColor: 'primary.main', bgcolor: (t) => t.tones.amberWash, p: 1.25, maxWidth: 900 }}>
          {c}
        </Box>
      ))}
    </Box>
  );
}
