/** One more compartment for a vehicle. */
import { t } from '@lingui/core/macro';
import { useController } from 'react-hook-form';
import { ask, client } from '../../../app/api';
import type { Typed } from '../../../ui/form/useTyped';
import { LittleForm } from '../../../ui/LittleForm';
import { CompartmentLine, type Slot } from '../board/CompartmentLine';

type Draft = { place: { key: string; name: string; slot: Slot; sheet_id: string } };
const START: Draft = { place: { key: 'new', name: '', slot: 'gearbox', sheet_id: '' } };

function Fields({ at }: Pick<Typed<Draft>, 'at'>) {
  const { field } = useController<Draft, 'place'>({ name: 'place' });
  return <CompartmentLine draft={field.value} change={field.onChange} problem={(name) => at(`place.${name}`)} />;
}

export function AddCompartment({ vehicle }: { vehicle: number }) {
  return (
    <LittleForm<Draft, unknown>
      open={t`Add a compartment`}
      submit={t`Add it`}
      columns="1fr"
      start={START}
      pathOf={(field) => `place.${field}`}
      send={({ place: { name, slot, sheet_id } }) =>
        ask(client.POST('/api/vehicles/{vehicle}/compartments', { params: { path: { vehicle } }, body: { name, slot, sheet_id: Number(sheet_id) } }))
      }>
      {(typed) => <Fields at={typed.at} />}
    </LittleForm>
  );
}
