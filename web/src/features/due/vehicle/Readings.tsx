/** The readings of a vehicle, and a field for the next one. A lower one asks: slip or meter swap? */

import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import { FormProvider } from 'react-hook-form';
import { ask, client, Refused, type Schemas } from '../../../app/api';
import { date, useMay, useSession, useShow } from '../../../app/session';
import { share as inPercent, needed } from '../../../app/typed';
import { Empty } from '../../../ui/Empty';
import { Amount, Day, Line, OneOf, YesNo } from '../../../ui/form/fields';
import { type Typed, useTyped } from '../../../ui/form/useTyped';
import { LittleForm } from '../../../ui/LittleForm';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';

/** A slip of the finger: declared void with its reason, it stays in the list and counts for nothing. */
function VoidReading({ id, of }: { id: number; of: string }) {
  return (
    <LittleForm
      small
      open={t`It is wrong`}
      of={of}
      submit={t`Declare it void`}
      columns="1fr"
      start={{ reason: '' }}
      send={(body) => ask(client.POST('/api/readings/{reading}/void', { params: { path: { reading: id } }, body }))}>
      <Line name="reason" label={t`Why it is wrong`} most={300} autoFocus hint={t`it stays in the list`} />
    </LittleForm>
  );
}

/** A reading that was mistyped is set right; records of that day that say the same follow. */
function PutRight({ r, meter }: { r: Schemas['ReadingView']; meter: string }) {
  const { show } = useShow();
  const today = useSession().data?.today;
  const kind = meter === 'h' ? 'engine_hours' : 'distance';
  const of = `${date(r.on)}, ${show(r.value, kind)}`;
  return (
    <LittleForm
      small
      open={t`Set it right`}
      of={of}
      submit={t`Set it right`}
      columns="1fr"
      start={{ value: show(r.value, kind), on: r.on, swap: r.swap, reason: '' }}
      send={(body) => ask(client.POST('/api/readings/{reading}/correct', { params: { path: { reading: r.id } }, body }))}>
      <Amount name="value" label={t`It was`} kind={kind} />
      <Day name="on" label={t`On`} latest={today} />
      <Line name="reason" label={t`What was wrong`} most={300} hint={t`a change of that day with the same meter value follows`} />
    </LittleForm>
  );
}

/** The next reading; a lower one asks whether the meter was swapped. */
function Write({ vehicle, meter }: { vehicle: number; meter: string }) {
  const kind = meter === 'h' ? 'engine_hours' : 'distance';
  const { data: session } = useSession();
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  const start = { value: '', on: session?.today ?? '', swap: false, duty: '', share: '100' };
  const { form, act, submit, startAgain }: Typed<typeof start> = useTyped<typeof start, unknown>({
    start,
    keep: `barodex.reading ${vehicle}`,
    pathOf: (field) => (field.startsWith('duty.') || field in (words.data?.duties ?? {}) ? 'share' : field),
    send: ({ value, on, swap, duty, share }) =>
      ask(
        client.POST('/api/vehicles/{vehicle}/readings', {
          params: { path: { vehicle } },
          body: { value, on, swap, duty: duty ? { [duty]: needed(inPercent(share)) } : null },
        }),
      ),
    taken: (): void => startAgain(start),
  });
  const [value, duty, swap] = form.watch(['value', 'duty', 'swap']);
  const outOfLine = act.error instanceof Refused && act.error.kind === 'out-of-line';
  return (
    <FormProvider {...form}>
      <Box
        component="form"
        noValidate
        sx={{ display: 'grid', gap: 1 }}
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}>
        <Amount name="value" label={meter === 'h' ? t`Engine hours` : t`Odometer`} kind={kind} />
        <Day name="on" label={t`On`} latest={session?.today} />
        <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: duty ? '1fr 110px' : '1fr' }}>
          <OneOf name="duty" label={t`Since the last reading`} options={Object.entries(words.data?.duties ?? {})} empty={t`as usual`} />
          {duty && <Line name="share" label={t`share, %`} most={5} />}
        </Box>
        <Trouble error={act.error} />
        {(outOfLine || swap) && <YesNo name="swap" label={t`The meter was swapped or reset: it counts from this value`} />}
        <Button type="submit" variant="outlined" disabled={act.isPending || !value.trim()}>{t`Write it in`}</Button>
      </Box>
    </FormProvider>
  );
}

export function Readings({ vehicle, meter }: { vehicle: number; meter: string }) {
  const kind = meter === 'h' ? 'engine_hours' : 'distance';
  const { show } = useShow();
  const mayWrite = useMay('technician');
  const path = { params: { path: { vehicle } } };
  const list = useQuery({ queryKey: ['readings', vehicle], queryFn: () => ask(client.GET('/api/vehicles/{vehicle}/readings', path)) });
  return (
    <Section title={t`Readings`}>
      {mayWrite && <Write vehicle={vehicle} meter={meter} />}
      {list.data?.length === 0 && (
        <Empty title={t`No reading yet`}>
          <span>{t`Without a reading, distance counts for nothing: write in what the meter shows.`}</span>
        </Empty>
      )}
      <Table
        sx={{
          borderCollapse: 'collapse',
          '& td': { py: 0.5, borderTop: 1, borderColor: 'divider', typography: 'body2' },
          '& td:nth-of-type(2)': { textAlign: 'right', fontWeight: 700, pr: 2 },
        }}>
        <TableBody>
          {list.data?.slice(0, 12).map((r) => (
            <TableRow key={r.id}>
              <TableCell>{date(r.on)}</TableCell>
              <TableCell sx={r.void ? { textDecoration: 'line-through', color: 'text.secondary' } : undefined}>{show(r.value, kind)}</TableCell>
              <TableCell>
                <Box component="span" sx={{ mr: 1.5 }}>
                  {r.void || [r.swap ? 'meter swapped' : r.source, r.duty].filter(Boolean).join(' · ')}
                </Box>
                {mayWrite && !r.void && (
                  <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap' }}>
                    <PutRight r={r} meter={meter} />
                    <VoidReading id={r.id} of={`${date(r.on)}, ${show(r.value, kind)}`} />
                  </Box>
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Section>
  );
}
