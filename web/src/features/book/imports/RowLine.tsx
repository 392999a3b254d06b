/** A row of the file: its cells, what it becomes, what is wrong with it, and the ways to answer. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Pick } from '../../../ui/Pick';
import { Words } from '../../../ui/Words';
import type { Importing } from './useImport';
import { type Row, STATES, type View } from './words';

type Props = { row: Row; view: View; repair: Importing['repair']; several: boolean };

/** Put one cell right: the one that is wrong, or another. */
function Mend({ row, view, repair, close }: Props & { close: () => void }) {
  const wrong = row.problems[0]?.field ?? row.doubts[0]?.field ?? '';
  const [figure, setFigure] = useState(wrong || row.cells[0]?.figure || 'vehicle');
  const now = (name: string) => row.cells.find((c) => c.figure === name)?.text ?? '';
  const [text, setText] = useState(now(figure));
  const send = () => repair.mutate({ rows: { [row.key]: { cells: { [figure]: text } } } }, { onSuccess: close });
  return (
    <Box
      component="form"
      noValidate
      aria-label={t`Repair line ${row.line}`}
      onSubmit={(e) => {
        e.preventDefault();
        if (!repair.isPending) send();
      }}
      sx={{ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: '220px 1fr auto auto' }, alignItems: 'start', mt: 0.5 }}>
      <Pick
        label={t`Which cell`}
        value={figure}
        options={view.wanted.map((w) => [w.name, w.label] as const)}
        onChange={(name) => {
          setFigure(name);
          setText(now(name));
        }}
      />
      <Words label={t`What should stand there`} value={text} onChange={setText} most={500} hint={t`empty: nothing`} autoFocus />
      <Button type="submit" variant="contained" disabled={repair.isPending}>{t`So it is`}</Button>
      <Button variant="text" onClick={close}>{t`Not now`}</Button>
    </Box>
  );
}

function Explain({ row, repair, close }: Pick<Props, 'row' | 'repair'> & { close: () => void }) {
  const [reason, setReason] = useState(row.reason);
  return (
    <Box
      component="form"
      noValidate
      aria-label={t`Explain line ${row.line}`}
      onSubmit={(e) => {
        e.preventDefault();
        if (!repair.isPending) repair.mutate({ rows: { [row.key]: { reason } } }, { onSuccess: close });
      }}
      sx={{ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: '1fr auto auto' }, alignItems: 'start', mt: 0.5 }}>
      <Words label={t`Why it is so all the same`} value={reason} onChange={setReason} most={200} hint={t`goes on the record`} autoFocus />
      <Button type="submit" variant="contained" disabled={repair.isPending || reason.trim().length < 4}>{t`Take it so`}</Button>
      <Button variant="text" onClick={close}>{t`Not now`}</Button>
    </Box>
  );
}

export function RowLine({ row, view, repair, several }: Props) {
  const [doing, setDoing] = useState<'' | 'mend' | 'explain'>('');
  const waits = STATES[row.state]?.waits ?? false;
  const issues = [...row.problems, ...row.doubts];
  const draft = view.state === 'draft';
  const close = () => setDoing('');
  const set = (fix: { skip?: boolean }) => repair.mutate({ rows: { [row.key]: fix } });
  return (
    <Box
      component="li"
      aria-label={t`Line ${row.line}`}
      sx={{
        borderTop: 1,
        borderColor: 'divider',
        py: 1,
        pl: 1.5,
        borderLeft: 6,
        borderLeftColor: row.state === 'problem' ? 'error.main' : row.state === 'doubt' ? 'primary.main' : 'transparent',
      }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '64px minmax(0, 1fr) auto', gap: 1.5, alignItems: 'baseline' }}>
        <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
          {several ? `${view.tables[row.table]?.name.slice(0, 8)} ` : ''}
          {row.line}
        </Box>
        <Box sx={{ minWidth: 0 }}>
          <Box sx={{ overflowWrap: 'anywhere' }}>
            {row.cells.map((c, k) => (
              <span key={c.figure}>
                {k > 0 && (
                  <Box component="span" sx={{ color: 'text.secondary' }}>
                    {' · '}
                  </Box>
                )}
                <Box
                  component="span"
                  title={c.label}
                  sx={
                    issues.some((i) => i.field === c.figure)
                      ? { fontWeight: 700, color: row.state === 'problem' ? 'error.main' : 'text.primary', textDecoration: 'underline' }
                      : {}
                  }>
                  {c.text}
                </Box>
              </span>
            ))}
            {!row.cells.length && <i>{t`a line with nothing that is wanted`}</i>}
          </Box>
          {issues.map((i) => (
            <Box key={i.field + i.message} sx={{ color: row.problems.includes(i) ? 'error.main' : 'text.primary' }}>
              {i.message}
            </Box>
          ))}
          {row.reason && <Box>“{row.reason}”</Box>}
          {!waits && (
            <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
              {row.state === 'new' ? row.adds.join('; ') : [STATES[row.state]?.one, ...row.adds].filter(Boolean).join(': ')}
            </Box>
          )}
        </Box>
        {draft && (
          <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap', justifyContent: 'end' }}>
            {row.state !== 'skipped' && (
              <Button size="small" variant="text" onClick={() => setDoing('mend')} aria-label={t`Repair: line ${row.line}`}>{t`Repair`}</Button>
            )}
            {row.state === 'doubt' && (
              <Button size="small" variant="text" onClick={() => setDoing('explain')} aria-label={t`It is so: line ${row.line}`}>{t`It is so`}</Button>
            )}
            {row.state === 'skipped' ? (
              <Button
                size="small"
                variant="text"
                disabled={repair.isPending}
                onClick={() => set({ skip: false })}
                aria-label={t`Take it after all: line ${row.line}`}>{t`Take it after all`}</Button>
            ) : (
              ['problem', 'doubt', 'new'].includes(row.state) && (
                <Button
                  size="small"
                  variant="text"
                  disabled={repair.isPending}
                  onClick={() => set({ skip: true })}
                  aria-label={t`Skip: line ${row.line}`}>{t`Skip`}</Button>
              )
            )}
          </Box>
        )}
      </Box>
      {doing === 'mend' && <Mend row={row} view={view} repair={repair} several={several} close={close} />}
      {doing === 'explain' && <Explain row={row} repair={repair} close={close} />}
    </Box>
  );
}
