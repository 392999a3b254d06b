/** What the compartments on this sheet really take, by what went in and came out, and a revision when the evidence is strong. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useTheme } from '@mui/material/styles';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { useMay, useShow } from '../../../app/session';
import { How } from '../../../ui/How';
import { Trouble } from '../../../ui/Trouble';

type LearntView = Schemas['Learnt'];

/** Mean and spread of what went in and what came out, beside the sheet's figure, on one line. */
function Spread({ learnt, sheet }: { learnt: LearntView; sheet: number | null }) {
  const { tones } = useTheme();
  const { show } = useShow();
  const rows = [
    ['went in', learnt.went_in],
    ['came out', learnt.came_out],
  ] as const;
  const known = rows.flatMap(([name, s]) => (s ? [{ name, s }] : []));
  if (!known.length) return null;
  const ends = [...known.flatMap(({ s }) => [s.mean_ml - Math.max(s.sd_ml, 1) * 2, s.mean_ml + Math.max(s.sd_ml, 1) * 2]), ...(sheet === null ? [] : [sheet])];
  const pad = Math.max((Math.max(...ends) - Math.min(...ends)) * 0.15, 10);
  const [lo, hi] = [Math.min(...ends) - pad, Math.max(...ends) + pad];
  const x = (ml: number) => 84 + ((ml - lo) / (hi - lo)) * 330;
  const height = 34 + known.length * 30;
  return (
    <svg
      viewBox={`0 0 440 ${height + 22}`}
      width="100%"
      style={{ maxWidth: 520 }}
      role="img"
      aria-label={known.map(({ name, s }) => t`${name} ${show(s.mean_ml, 'volume')}, spread ${show(s.sd_ml, 'volume')}, ${s.count} measurements`).join('; ')}>
      {sheet !== null && (
        <g>
          <path d={`M${x(sheet)} 22V${height}`} stroke={tones.amberText} strokeWidth={2} strokeDasharray="4 4" />
          <text x={x(sheet)} y={15} textAnchor={x(sheet) > 340 ? 'end' : 'middle'} fontSize={14} fill={tones.amberText}>
            <Trans>sheet {show(sheet, 'volume')}</Trans>
          </text>
        </g>
      )}
      {known.map(({ name, s }, k) => (
        <g key={name}>
          <text x={76} y={46 + k * 30} textAnchor="end" fontSize={14} fill={tones.ink}>
            {name}
          </text>
          <path d={`M${x(s.mean_ml - s.sd_ml)} ${41 + k * 30}H${x(s.mean_ml + s.sd_ml)}`} stroke={tones.ink} strokeWidth={9} opacity={0.28} />
          <circle cx={x(s.mean_ml)} cy={41 + k * 30} r={6} fill={tones.ink} />
        </g>
      ))}
      <path d={`M84 ${height}H414`} stroke={tones.ink} />
      <text x={84} y={height + 17} fontSize={13} fill={tones.soft}>
        {show(lo, 'volume')}
      </text>
      <text x={414} y={height + 17} textAnchor="end" fontSize={13} fill={tones.soft}>
        {show(hi, 'volume')}
      </text>
    </svg>
  );
}

export function Learnt({ compartment, learnt, sheet, sheetId }: { compartment: number; learnt: LearntView; sheet: number | null; sheetId: number }) {
  const { show } = useShow();
  const lead = useMay('lead');
  const cache = useQueryClient();
  const take = useMutation({
    mutationFn: () => ask(client.POST('/api/book/{compartment}/learnt', { params: { path: { compartment } } })),
    onSuccess: () => cache.invalidateQueries(),
  });
  return (
    <Box sx={{ display: 'grid', gap: 1, justifyItems: 'start' }}>
      <span>
        {learnt.text} {learnt.copies > 0 && learnt.went_in && t`${learnt.copies} more were poured by the sheet’s figure and prove nothing. `}
        {learnt.working && <How working={learnt.working} title={t`What it really takes`} />}
      </span>
      <Spread learnt={learnt} sheet={sheet} />
      {learnt.proposes_ml !== null &&
        (lead ? (
          <Button variant="outlined" disabled={take.isPending} onClick={() => take.mutate()}>
            <Trans>Revise the sheet to {show(learnt.proposes_ml, 'volume')}</Trans>
          </Button>
        ) : (
          <span>
            <Trans>The lead can revise the sheet to {show(learnt.proposes_ml, 'volume')}.</Trans>
          </span>
        ))}
      {take.isSuccess && (
        <span role="status">
          <Trans>
            Revised. <Link to={`/shelf/sheets/${sheetId}`}>See the sheet</Link>
          </Trans>
        </span>
      )}
      <Trouble error={take.error} />
    </Box>
  );
}
