/** An earlier change, written in from paper, paint on the case or memory. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { Refused } from '../../../app/api';
import { Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import { Finding } from '../../bay/findings/Finding';
import { useEarlierRecord } from './useEarlierRecord';

const RATED = ['bad', 'poor', 'fair', 'good', 'very good'].map((word, k) => [String(k + 1), `${k + 1} ${word}`] as const);

type Props = { compartment: number; meter: string; family: string; today: string; close: () => void };

export function EnterRecord({ compartment, meter, family, today, close }: Props) {
  const { d, set, finding, setFinding, looking, setLooking, oils, send, at } = useEarlierRecord(compartment, close);
  return (
    <Section title="An earlier change">
      <Box
        component="form"
        sx={{ display: 'grid', gap: 1.5, bgcolor: (t) => t.tones.pan, p: 2, borderRadius: 2 }}
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate();
        }}>
        <Box sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr', sm: 'repeat(3, 1fr)' } }}>
          <TextField
            autoFocus
            label="Date"
            type="date"
            value={d.on}
            onChange={(e) => set({ on: e.target.value })}
            error={Boolean(at('on'))}
            helperText={at('on') || ' '}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { max: today } }}
          />
          <QuantityField
            label={meter === 'h' ? 'Engine hours then' : 'Odometer then'}
            kind={meter === 'h' ? 'engine_hours' : 'distance'}
            value={d.meter_value}
            onChange={(meter_value) => set({ meter_value })}
            problem={at('meter_value') || at('value')}
            hint="empty: unknown"
          />
          <Pick
            label="Oil"
            value={d.lubricant}
            options={(oils.data ?? []).map((o) => [String(o.id), o.name])}
            onChange={(lubricant) => set({ lubricant })}
            empty="unknown"
          />
          <QuantityField
            label="Came out"
            kind="volume"
            value={d.drained_ml}
            onChange={(drained_ml) => set({ drained_ml })}
            problem={at('drained_ml')}
            hint="empty: unknown"
          />
          <QuantityField
            label="at"
            kind="temperature"
            value={d.drained_c}
            onChange={(drained_c) => set({ drained_c })}
            problem={at('drained_c')}
            hint="empty: not taken"
          />
          <QuantityField
            label="Went in"
            kind="volume"
            value={d.poured_ml}
            onChange={(poured_ml) => set({ poured_ml })}
            problem={at('poured_ml')}
            hint="empty: unknown"
          />
        </Box>
        <Box sx={{ display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } }}>
          <Pick label="How it shifted after" value={d.shift} options={RATED} onChange={(shift) => set({ shift })} empty="nobody said" problem={at('shift')} />
          <Pick label="How quiet it was after" value={d.noise} options={RATED} onChange={(noise) => set({ noise })} empty="nobody said" problem={at('noise')} />
        </Box>
        <TextField label="Note" value={d.note} onChange={(e) => set({ note: e.target.value })} slotProps={{ htmlInput: { maxLength: 500 } }} />
        <FormControlLabel control={<Checkbox checked={d.factory} onChange={(e) => set({ factory: e.target.checked })} />} label="This was the factory fill" />
        {looking ? (
          <Finding value={finding} onChange={setFinding} family={family} />
        ) : (
          <Button variant="text" onClick={() => setLooking(true)} sx={{ justifySelf: 'start' }}>
            It says what was found, too
          </Button>
        )}
        {(d.reason || (send.error instanceof Refused && send.error.kind === 'needs-reason')) && (
          <TextField
            autoFocus
            label="Why it is so all the same"
            value={d.reason}
            onChange={(e) => set({ reason: e.target.value })}
            helperText="goes on the record"
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
        )}
        <Trouble error={send.error} />
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button type="submit" variant="contained" disabled={send.isPending || !d.on}>
            Write it in
          </Button>
          <Button variant="text" onClick={close}>
            Not now
          </Button>
        </Box>
      </Box>
    </Section>
  );
}
