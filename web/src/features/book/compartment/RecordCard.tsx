/** One record: what was done and found, its corrections, its paper; a correction is an entry with who, when, why. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import type { Schemas } from '../../../app/api';
import { date, type Kind, useMay, useShow } from '../../../app/session';
import { CloseIt } from '../../../ui/Closing';
import { Follows } from '../../../ui/Follows';
import { Labels } from '../../../ui/Labels';
import { LEVEL_WORDS } from '../../../ui/oil';
import { PhotoRow } from '../../../ui/PhotoRow';
import { LevelMarks } from '../LevelMarks';
import { Correct, NAMES } from './Correct';
import { Withdraw } from './Withdraw';

type Record = Schemas['RecordView'];
/** Every amount in the order of the work, and their sums. */
function Entries({ r }: { r: Record }) {
  const { show } = useShow();
  const [open, setOpen] = useState(false);
  if (r.entries.length === 0) return null;
  const sums = [
    r.net_in_15_ml === null ? '' : t`${show(r.net_in_15_ml, 'volume')} of the fill stay at 15 °C`,
    r.inside_15_ml === null || r.inside_15_ml === r.net_in_15_ml ? '' : t`${show(r.inside_15_ml, 'volume')} inside in all`,
    r.fresh_share === null ? '' : t`${Math.round(r.fresh_share * 100)} % fresh`,
    r.used_ml ? t`${show(r.used_ml, 'volume')} of used oil` : '',
  ].filter(Boolean);
  return (
    <Box component="span" sx={{ display: 'grid', gap: 0.5, justifyItems: 'start' }}>
      <span>
        {sums.join(' · ')}{' '}
        <Button variant="text" size="small" sx={{ px: 0, minHeight: 32 }} aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? t`Close the ledger` : t`Entry by entry`}
        </Button>
      </span>
      {open && (
        <Table size="small" aria-label={t`Ledger of ${date(r.on)}`} sx={{ maxWidth: 620, '& td': { borderTop: 1, borderColor: 'divider', py: 0.25, pr: 2 } }}>
          <TableBody>
            {r.entries.map((e, k) => (
              <TableRow key={k}>
                <TableCell>
                  {e.cycle > 0 && t`drain ${e.cycle}: `}
                  {e.words}
                </TableCell>
                <TableCell align="right">
                  <b>{show(e.volume_ml, 'volume')}</b>
                </TableCell>
                <TableCell>{e.temperature_c === null ? '' : `at ${show(e.temperature_c, 'temperature')}`}</TableCell>
                <TableCell>{e.container && t`from ${e.container}`}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Box>
  );
}

type Props = { r: Record; here: number; kind: string; meter: string; family: string; mayWork: boolean };

export function RecordCard({ r, here, kind, meter, family, mayWork }: Props) {
  const { show } = useShow();
  const [correcting, setCorrecting] = useState(false);
  const mayVoid = useMay('lead');
  const seen = [r.colour, r.clarity, r.magnet && t`magnet ${r.magnet === 'none' ? t`clean` : r.magnet}`, ...r.particles].filter(Boolean).join(', ');
  return (
    <Box component="article" aria-label={t`Record of ${date(r.on)}`} sx={{ borderTop: 1, borderColor: 'divider', pt: 1.25, display: 'grid', gap: 0.75 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '170px minmax(0, 1fr) auto' }, gap: 2 }}>
        <Box>
          <Box sx={{ typography: 'h3' }}>{date(r.on)}</Box>
          <Box sx={{ color: 'text.secondary' }}>
            {r.meter_value === null ? t`meter not recorded` : show(r.meter_value, meter === 'h' ? 'engine_hours' : 'distance')}
          </Box>
        </Box>
        <Box sx={{ display: 'grid', gap: 0.25 }}>
          <span>
            {r.work !== 'change' && <b>{r.work.charAt(0).toUpperCase() + r.work.slice(1)}: </b>}
            <b>{r.drained_ml === null ? (r.work === 'top-up' ? t`nothing drained` : t`Nothing measured`) : t`${show(r.drained_ml, 'volume')} out`}</b>
            {r.drained_c !== null && ` at ${show(r.drained_c, 'temperature')}`},{' '}
            <b>{r.poured_ml === null ? t`fill not recorded` : t`${show(r.poured_ml, 'volume')} in`}</b> · {r.oil || t`oil not recorded`}
            {r.revision ? t` · sheet revision ${r.revision}` : ''}
          </span>
          {r.loss_15_ml !== null && (
            <span>
              {show(Math.abs(r.loss_15_ml), 'volume')} {r.loss_15_ml < 0 ? t`more than went in` : t`lost`} ± {show(r.loss_within_ml, 'volume')} (2σ):{' '}
              {r.loss_text}
            </span>
          )}
          {r.loss_15_ml === null && r.loss_text && <span>{r.loss_text}</span>}
          <Entries r={r} />
          <Box component="span" sx={{ display: 'inline-flex', gap: 1, alignItems: 'center' }}>
            <LevelMarks level={r.level} />
            {r.level === null ? t`debris not looked at` : `${r.level}, ${LEVEL_WORDS[r.level]}: ${seen}`}
          </Box>
          <Follows list={r.follows} meter={meter} act={(f) => (f.kind === 'due-cap' && !f.closed ? <CloseIt c={f} of={t`record of ${date(r.on)}`} /> : null)} />
          {r.torques.length > 0 && (
            <span>
              {r.torques
                .map((torque) => torque.as_written || `${torque.plug}: ${torque.torque_nm === null ? t`no figure` : show(torque.torque_nm, 'torque')}`)
                .join(' · ')}
            </span>
          )}
          {r.details.length > 0 && (
            <span>{r.details.map((d) => `${d.label.toLowerCase()}: ${d.value === null ? d.words : show(d.value, d.kind as Kind)}`).join(' · ')}</span>
          )}
          {r.note && <span>“{r.note}”</span>}
          <PhotoRow photos={r.photos} />
          {r.gaps.map((g) => (
            <Box component="span" key={g} sx={{ color: (t) => t.tones.amberText }}>
              {g}
            </Box>
          ))}
          {r.corrections.map((c) => (
            <Box component="span" key={c.at} sx={{ color: 'text.secondary' }}>
              <Trans>
                Corrected {date(c.at)} by {c.by}: {NAMES[c.field]} {c.before} → {c.after}. {c.reason}
              </Trans>
            </Box>
          ))}
        </Box>
        <Box sx={{ display: 'grid', gap: 0.5, alignContent: 'start', justifyItems: 'end' }}>
          <Button variant="outlined" size="small" href={`/api/records/${r.id}/paper`} target="_blank">{t`Job paper`}</Button>
          <Labels records={[r.id]} small />
          {mayWork && !correcting && <Button variant="text" size="small" onClick={() => setCorrecting(true)}>{t`Correct`}</Button>}
          <Box sx={{ color: 'text.secondary', typography: 'body2' }}>{r.by}</Box>
        </Box>
      </Box>
      {correcting && (
        <Correct
          record={r.id}
          family={family}
          seen={r.seen}
          plugs={r.torques.map((torque) => torque.plug).filter(Boolean)}
          close={() => setCorrecting(false)}
        />
      )}
      {mayVoid && <Withdraw r={r} here={here} kind={kind} />}
    </Box>
  );
}
