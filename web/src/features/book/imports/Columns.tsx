/** How a table is read: each column with what stands in it and what it is, units, order of day and month, mark before decimals. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { Choice } from '../../../ui/Choice';
import { Line } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { Pick } from '../../../ui/Pick';
import { Tick } from '../../../ui/Tick';
import type { Importing } from './useImport';
import type { View } from './words';

type Table = Schemas['TableView'];
const ORDERS = [
  { value: 'day first', label: t`day first: 3/4 is 3 April` },
  { value: 'month first', label: t`month first: 3/4 is 4 March` },
] as const;
const MARKS = [
  { value: '', label: t`as found` },
  { value: ',', label: '2,3 L' },
  { value: '.', label: '2.3 L' },
] as const;

function Column({ table, column, view, map }: { table: Table; column: Table['columns'][number]; view: View; map: Importing['map'] }) {
  const figure = view.wanted.find((w) => w.name === column.figure);
  const set = (name: string) =>
    map.mutate({ table: table.number, mapping: { ...(column.figure ? { [column.figure]: '' } : {}), ...(name ? { [name]: column.heading } : {}) } });
  return (
    <Box sx={{ display: 'grid', gap: 1, minWidth: 0, alignContent: 'start' }}>
      <Pick
        label={column.heading}
        value={column.figure}
        empty={t`not wanted`}
        options={view.wanted.map((w) => [w.name, w.label] as const)}
        onChange={set}
        hint={column.samples.join(' · ').slice(0, 60) || 'empty'}
      />
      {figure && figure.units.length > 0 && (
        <Pick
          label={t`Unit of ${figure.label.toLowerCase()}`}
          value={table.units[figure.name] ?? ''}
          empty={figure.name === 'meter' || figure.units.includes('km') ? t`km, or as a cell says` : t`as each cell says`}
          options={figure.units.map((u) => [u, u] as const)}
          onChange={(unit) => map.mutate({ table: table.number, units: { [figure.name]: unit } })}
        />
      )}
    </Box>
  );
}

export function Columns({ table, view, run, map }: { table: Table; view: View; run: number; map: Importing['map'] }) {
  const unread = table.columns.filter((c) => c.figure).length === 0;
  const [open, setOpen] = useState(unread || table.asks.length > 0);
  const several = view.tables.length > 1;
  return (
    <Box component="section" aria-label={t`Columns of ${table.name}`} sx={{ bgcolor: (t) => t.tones.pan, borderRadius: 2, p: 2, display: 'grid', gap: 1.5 }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Box component="b" sx={{ typography: 'h4' }}>
          <Trans>
            {table.name}, {table.rows} rows
          </Trans>
        </Box>
        {several && <Tick label={t`Take this table in`} on={table.use} change={(use) => map.mutate({ table: table.number, use })} />}
        <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? t`Fold the columns` : t`How its columns are read`}
        </Button>
        {!open && (
          <span>
            {table.columns
              .filter((c) => c.figure)
              .map((c) => c.heading)
              .join(', ')}
          </span>
        )}
      </Box>
      {table.asks.includes('order') && (
        <Box sx={{ borderLeft: 6, borderColor: 'primary.main', pl: 1.5 }}>
          <Choice label={t`Its days can be read both ways`} value="" options={ORDERS} onChange={(order) => map.mutate({ table: table.number, order })} />
        </Box>
      )}
      {open && (
        <>
          <Box sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr', md: 'repeat(4, minmax(0, 1fr))' } }}>
            {table.columns.map((c) => (
              <Column key={c.heading} table={table} column={c} view={view} map={map} />
            ))}
          </Box>
          <Box sx={{ display: 'flex', gap: 3, flexWrap: 'wrap', alignItems: 'end' }}>
            {table.order && (
              <Choice label={t`Day or month first`} value={table.order} options={ORDERS} onChange={(order) => map.mutate({ table: table.number, order })} />
            )}
            <Choice
              label={t`Decimals are written`}
              value={table.decimal}
              options={MARKS}
              onChange={(decimal) => map.mutate({ table: table.number, decimal })}
            />
            {view.mappings.length > 0 && (
              <Pick
                label={t`Read it as kept`}
                value=""
                empty={t`choose`}
                options={view.mappings.map((m) => [m, m] as const)}
                onChange={(kept) => kept && map.mutate({ table: table.number, kept })}
              />
            )}
            <LittleForm
              small
              open={t`Keep this mapping by a name`}
              submit={t`Keep it`}
              columns="1fr"
              start={{ name: '' }}
              send={({ name }) => ask(client.POST('/api/imports/{run}/mapping', { params: { path: { run } }, body: { table: table.number, name } }))}>
              <Line name="name" autoFocus label={t`Name of the mapping`} />
            </LittleForm>
          </Box>
        </>
      )}
    </Box>
  );
}
