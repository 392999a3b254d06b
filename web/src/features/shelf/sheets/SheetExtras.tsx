/** What a sheet says beside its figures: variants, what to read on the casing, the kit, grades by weather. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import type { Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { Section } from '../../../ui/Page';

type Revision = Schemas['RevisionView'];
const table = {
  borderCollapse: 'collapse',
  maxWidth: 900,
  '& td, & th': { borderTop: 1, borderColor: 'divider', py: 0.5, pr: 3, textAlign: 'left', verticalAlign: 'top' },
};

export function headWords(h: Schemas['Head'], show: ReturnType<typeof useShow>['show']): string {
  return `${h.plug}: ${h.size_mm === null ? h.drive : `${h.size_mm} mm ${h.drive}`}, ${h.torque_nm === null ? t`torque unknown` : show(h.torque_nm, 'torque')}`;
}

/** The marks to look for, ticked as they are read; what is ticked is not kept. */
export function CasingMarks({ marks }: { marks: Schemas['CasingMark'][] }) {
  const [seen, setSeen] = useState<string[]>([]);
  return (
    <Box sx={{ display: 'grid' }}>
      {marks.map((m) => (
        <FormControlLabel
          key={m.where}
          control={
            <Checkbox checked={seen.includes(m.where)} onChange={(e) => setSeen(e.target.checked ? [...seen, m.where] : seen.filter((w) => w !== m.where))} />
          }
          label={
            <span>
              <b>{m.where}</b>: {m.reads} {m.tells && <Box component="span" sx={{ color: 'text.secondary' }}>{`(${m.tells})`}</Box>}
            </span>
          }
        />
      ))}
    </Box>
  );
}

function range(a: Schemas['AmbientGrade'], show: ReturnType<typeof useShow>['show']): string {
  if (a.min_c === null && a.max_c === null) return t`in all weathers`;
  if (a.min_c === null) return t`below ${show(a.max_c, 'temperature')}`;
  if (a.max_c === null) return t`above ${show(a.min_c, 'temperature')}`;
  return t`${show(a.min_c, 'temperature')} to ${show(a.max_c, 'temperature')}`;
}

export function SheetExtras({ r }: { r: Revision }) {
  const { show } = useShow();
  return (
    <>
      {r.ambient.length > 0 && (
        <Section title={t`Grade by air temperature`}>
          {r.ambient.map((a) => (
            <Box key={a.grade}>
              <b>{a.grade}</b> {range(a, show)}
            </Box>
          ))}
        </Section>
      )}
      {r.variants.length > 0 && (
        <Section title={t`It may be one of these`}>
          <Table sx={table}>
            <TableHead>
              <TableRow>
                <TableCell>{t`Variant`}</TableCell>
                <TableCell>{t`Marked`}</TableCell>
                <TableCell>{t`Takes`}</TableCell>
                <TableCell>{t`Oil`}</TableCell>
                <TableCell>{t`Plug head and torque`}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {r.variants.map((v) => (
                <TableRow key={v.name}>
                  <TableCell>
                    <b>{v.name}</b>
                  </TableCell>
                  <TableCell>{v.mark || t`no mark known`}</TableCell>
                  <TableCell>{v.capacity_ml === null ? t`as the sheet` : show(v.capacity_ml, 'volume')}</TableCell>
                  <TableCell>{[v.grade, v.categories].filter(Boolean).join(' ') || t`as the sheet`}</TableCell>
                  <TableCell>{v.heads.map((h) => headWords(h, show)).join('; ') || t`as the sheet`}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
          <Box
            sx={{
              color: 'text.secondary',
              typography: 'body2',
            }}>{t`Until it is known which one it is, buy for the largest; the torque goes by the head that is really fitted.`}</Box>
        </Section>
      )}
      {r.casing_marks.length > 0 && (
        <Section title={t`Read on the casing`}>
          <CasingMarks marks={r.casing_marks} />
        </Section>
      )}
      {(r.kit.length > 0 || r.hose) && (
        <Section title={t`Kit beside the plugs' seals and keys`}>
          {r.kit.map((k) => (
            <Box key={k.name}>
              {k.count} × <b>{k.name}</b> ({k.kind}, {k.mandatory ? t`mandatory` : t`if wanted`}){k.use ? `: ${k.use}` : ''}
            </Box>
          ))}
          {r.hose && (
            <Box>
              <Trans>Hose: {r.hose}</Trans>
            </Box>
          )}
        </Section>
      )}
    </>
  );
}
