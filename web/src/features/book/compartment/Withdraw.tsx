/** A record that should not stand here: moved to where it belongs with all that it says, or declared void. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, askAll, client, type Schemas } from '../../../app/api';
import { date } from '../../../app/session';
import { Line } from '../../../ui/form/fields';
import { OneOfMany } from '../../../ui/form/OneOfMany';
import { LittleForm } from '../../../ui/LittleForm';

type Props = { r: Schemas['RecordView']; here: number; kind: string };

/** The compartments of its kind, of every vehicle; asked for once somebody wants to move. */
function Fields({ here, kind }: { here: number; kind: string }) {
  const board = useQuery({ queryKey: ['due', 'all'], queryFn: askAll });
  const options = (board.data?.vehicles ?? []).flatMap((v) =>
    v.compartments.filter((c) => c.kind === kind && c.id !== here).map((c) => [String(c.id), `${v.name}, ${c.name.toLowerCase()}`] as const),
  );
  return (
    <>
      <OneOfMany name="compartment_id" label={t`It is of`} options={options} hint={`a ${kind}`} />
      <Line name="meter_value" label={t`Meter there that day`} most={60} hint={t`empty: as it stands, if it is the same vehicle`} />
      <Line name="reason" label={t`Why it was in the wrong place`} most={200} />
    </>
  );
}

const START = { compartment_id: '', meter_value: '', reason: '' };

export function Withdraw({ r, here, kind }: Props) {
  const path = { record: r.id };
  return (
    <Box sx={{ display: 'flex', columnGap: 2, flexWrap: 'wrap' }}>
      <LittleForm
        small
        open={t`It belongs elsewhere`}
        of={date(r.on)}
        submit={t`Move it there`}
        start={START}
        send={(d) => ask(client.POST('/api/records/{record}/move', { params: { path }, body: { ...d, compartment_id: Number(d.compartment_id) || 0 } }))}>
        <Fields here={here} kind={kind} />
      </LittleForm>
      <LittleForm
        small
        open={t`Declare it void`}
        of={date(r.on)}
        submit={t`Declare it void`}
        columns="1fr"
        start={{ reason: '' }}
        send={(body) => ask(client.POST('/api/records/{record}/void', { params: { path }, body }))}>
        <Line
          name="reason"
          label={t`Why it is void`}
          most={300}
          autoFocus
          hint={t`due, trend and looks go on without it; oil that was drawn for it stays drawn`}
        />
      </LittleForm>
    </Box>
  );
}
