/** The readings of a vehicle, and a field for the next one. A lower one asks: slip or meter swap? */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, Refused } from '../../../app/api';
import { date, useMay, useSession, useShow } from '../../../app/session';
import { share as inPercent, needed } from '../../../app/typed';
import { Empty } from '../../../ui/Empty';
import { LittleForm, problemAt } from '../../../ui/LittleForm';
import { Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { Words } from '../../../ui/Words';

/** A slip of the finger: declared void with its reason, it stays in the list and counts for nothing. */
function VoidReading({ id, of }: { id: number; of: string }) {
  const [reason, setReason] = useState('');
  return (
    <LittleForm
      small
      open="It is wrong"
      of={of}
      submit="Declare it void"
      columns="1fr"
      send={() => ask(client.POST('/api/readings/{reading}/void', { params: { path: { reading: id } }, body: { reason } }))}>
      {(at) => <Words label="Why it is wrong" value={reason} onChange={setReason} problem={at('reason')} most={300} autoFocus hint="it stays in the list" />}
    </LittleForm>
  );
}

export function Readings({ vehicle, meter }: { vehicle: number; meter: string }) {
  const kind = meter === 'h' ? 'engine_hours' : 'distance';
  const { show } = useShow();
  const { data: session } = useSession();
  const mayWrite = useMay('technician');
  const cache = useQueryClient();
  const [value, setValue] = useState('');
  const [on, setOn] = useState(session?.today ?? '');
  const [swap, setSwap] = useState(false);
  const [duty, setDuty] = useState('');
  const [share, setShare] = useState('100');
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  const path = { params: { path: { vehicle } } };
  const list = useQuery({ queryKey: ['readings', vehicle], queryFn: () => ask(client.GET('/api/vehicles/{vehicle}/readings', path)) });
  const write = useMutation({
    mutationFn: () =>
      ask(client.POST('/api/vehicles/{vehicle}/readings', { ...path, body: { value, on, swap, duty: duty ? { [duty]: needed(inPercent(share)) } : null } })),
    onSuccess: () => {
      setValue('');
      setSwap(false);
      setDuty('');
      setShare('100');
      return cache.invalidateQueries();
    },
  });
  const problem = problemAt(write);
  const outOfLine = write.error instanceof Refused && write.error.kind === 'out-of-line';
  return (
    <Section title="Readings">
      {mayWrite && (
        <Box
          component="form"
          sx={{ display: 'grid', gap: 1 }}
          onSubmit={(e) => {
            e.preventDefault();
            write.mutate();
          }}>
          <QuantityField label={meter === 'h' ? 'Engine hours' : 'Odometer'} kind={kind} value={value} onChange={setValue} />
          <TextField
            label="On"
            type="date"
            value={on}
            onChange={(e) => setOn(e.target.value)}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { max: session?.today } }}
          />
          <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: duty ? '1fr 110px' : '1fr' }}>
            <Pick
              label="Since the last reading"
              value={duty}
              options={Object.entries(words.data?.duties ?? {})}
              onChange={setDuty}
              empty="as usual"
              problem={problem('duty')}
            />
            {duty && <Words label="share, %" value={share} onChange={setShare} problem={problem(duty) || problem(`duty.${duty}`)} most={5} />}
          </Box>
          <Trouble error={write.error} />
          {(outOfLine || swap) && (
            <FormControlLabel
              control={<Checkbox checked={swap} onChange={(e) => setSwap(e.target.checked)} />}
              label="The meter was swapped or reset: it counts from this value"
            />
          )}
          <Button type="submit" variant="outlined" disabled={write.isPending || !value.trim()}>
            Write it in
          </Button>
        </Box>
      )}
      {list.data?.length === 0 && (
        <Empty title="No reading yet">
          <span>Without a reading, distance counts for nothing: write in what the meter shows.</span>
        </Empty>
      )}
      <Box
        component="table"
        sx={{
          borderCollapse: 'collapse',
          '& td': { py: 0.5, borderTop: 1, borderColor: 'divider', typography: 'body2' },
          '& td:nth-of-type(2)': { textAlign: 'right', fontWeight: 700, pr: 2 },
        }}>
        <tbody>
          {list.data?.slice(0, 12).map((r) => (
            <tr key={r.id}>
              <td>{date(r.on)}</td>
              <Box component="td" sx={r.void ? { textDecoration: 'line-through', color: 'text.secondary' } : undefined}>
                {show(r.value, kind)}
              </Box>
              <td>
                <Box component="span" sx={{ mr: 1.5 }}>
                  {r.void || [r.swap ? 'meter swapped' : r.source, r.duty].filter(Boolean).join(' · ')}
                </Box>
                {mayWrite && !r.void && <VoidReading id={r.id} of={`${date(r.on)}, ${show(r.value, kind)}`} />}
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
    </Section>
  );
}
