/** The figures of a revision, and what changed since the one before. */

import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { Schemas } from '../../../app/api';
import { date, type Kind, useShow } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { summedUp } from './layers';
import { type FigureWords, typed, type Value } from './sheetDraft';
import { useSheetWords } from './useSheetForm';

export type Revision = Schemas['RevisionView'];

/** Where a figure is from; `doubt`: nobody has verified it. */
type Source = { words: string; doubt: boolean };
type Row = [name: string, value: string, source: Source];
const NONE: Source = { words: '', doubt: false };

/** The rows in which a revision is read: their groups, what joins the figures, and what stands where none is stated. */
const READ = [
  { name: 'Takes', groups: ['amount', 'inside'], between: ', ', otherwise: 'unknown' },
  { name: 'Oil', groups: ['oil'], between: ' ', otherwise: '' },
  { name: t`More of the oil`, groups: ['oil more'], between: ', ', otherwise: '' },
  { name: t`Change every`, groups: ['interval'], between: t` or `, otherwise: t`not stated: common practice counts` },
  { name: 'Opened', groups: ['ways'], between: ', ', otherwise: '' },
  { name: t`Level and warmth`, groups: ['level'], between: ', ', otherwise: '' },
] as const;

/** Every figure of a revision as words, so that two revisions can be compared line by line. */
export function figuresOf(r: Revision, figures: FigureWords[], show: ReturnType<typeof useShow>['show']): Row[] {
  const values = r as unknown as Record<string, Value>;
  const from = (group: string | undefined): Source => {
    if (!group) return NONE;
    const source = r.sources.find((s) => s.figure === group);
    const words = source ? `${source.source}, ${source.trust}${source.note ? `: ${source.note}` : ''}; ${source.by}, ${date(source.at)}` : t`no source noted`;
    return { words, doubt: source?.trust !== 'verified' };
  };
  const said = (f: FigureWords) => {
    const value = values[f.name] ?? null;
    const measured = typeof value === 'number' && !['minutes', 'months', 'count'].includes(f.kind);
    if (f.kind === 'three') return f.said.replace('{}', typed(f, value)); // that it is unknown is worth knowing here
    return measured ? f.said.replace('{}', show(value, f.kind as Kind)) : summedUp(f, typed(f, value));
  };
  return READ.flatMap(({ name, groups, between, otherwise }): Row[] => {
    const mine = figures.filter((f) => (groups as readonly string[]).includes(f.group));
    const value = mine.map(said).filter(Boolean).join(between) || otherwise;
    return value ? [[name, value, from(mine.find((f) => f.backed)?.backed)]] : [];
  });
}

export function Figures({ r, before }: { r: Revision; before?: Revision }) {
  const { show } = useShow();
  const { words } = useSheetWords();
  if (!words) return <Bones lines={6} />;
  const { figures } = words.sheet;
  const old = new Map((before ? figuresOf(before, figures, show) : []).map(([name, value]) => [name, value]));
  const torque = r.sources.find((s) => s.figure === 'torque');
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      <Table sx={{ borderCollapse: 'collapse', maxWidth: 900, '& td': { borderTop: 1, borderColor: 'divider', py: 0.75, pr: 3, verticalAlign: 'top' } }}>
        <TableBody>
          {figuresOf(r, figures, show).map(([name, value, source]) => (
            <TableRow key={name}>
              <TableCell>{name}</TableCell>
              <TableCell>
                <b>{value}</b>
                {before && old.get(name) !== value && (
                  <Box sx={{ color: 'text.secondary' }}>
                    <Trans>before: {old.get(name) ?? t`not stated`}</Trans>
                  </Box>
                )}
              </TableCell>
              <TableCell sx={{ color: source.doubt ? (t) => t.tones.amberText : 'text.secondary' }}>{source.words}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Table sx={{ borderCollapse: 'collapse', maxWidth: 900, '& td, & th': { borderTop: 1, borderColor: 'divider', py: 0.75, pr: 3, textAlign: 'left' } }}>
        <TableHead>
          <TableRow>
            <TableCell>{t`Plug`}</TableCell>
            <TableCell>{t`Key`}</TableCell>
            <TableCell>{t`Seal`}</TableCell>
            <TableCell>{t`Torque`}</TableCell>
            <TableCell>{t`Magnet`}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {r.plugs.map((p) => (
            <TableRow key={p.role + p.label}>
              <TableCell>
                {p.label} ({p.role})
              </TableCell>
              <TableCell>{p.size_mm === null ? p.drive : `${p.size_mm} mm ${p.drive}`}</TableCell>
              <TableCell>{p.seal}</TableCell>
              <TableCell>
                <b>{p.torque_nm === null ? t`unknown` : show(p.torque_nm, 'torque')}</b>
              </TableCell>
              <TableCell>{p.magnet ? t`yes` : t`no`}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {torque && (
        <Box sx={{ color: torque.trust === 'verified' ? 'text.secondary' : (t) => t.tones.amberText }}>
          <Trans>
            Torques from {torque.source}, {torque.trust}.
          </Trans>
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
