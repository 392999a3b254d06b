/** What a new vehicle is called, what it is, and what its meter shows. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { useController, useFormContext } from 'react-hook-form';
import { ask, client } from '../../../app/api';
import { Amount, Line, OneOf, OneOfFew, pairs } from '../../../ui/form/fields';
import { Pick } from '../../../ui/Pick';
import type { Draft } from './vehicleDraft';

/** Its kind brings the layout and the meter that are usual for it. */
function Kind() {
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  const { setValue } = useFormContext<Draft>();
  const { field, fieldState } = useController<Draft, 'kind'>({ name: 'kind' });
  const take = (kind: string) => {
    field.onChange(kind);
    const usual = words.data?.vehicles.find((v) => v.name === kind);
    if (!usual) return;
    setValue('layout', usual.layout as Draft['layout']);
    setValue('meter', usual.meter as Draft['meter']);
  };
  return (
    <Pick label={t`Kind`} value={field.value} options={pairs(words.data?.vehicle_kinds ?? ['car'])} onChange={take} problem={fieldState.error?.message ?? ''} />
  );
}

export function VehicleHead() {
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  const hours = useFormContext<Draft>().watch('meter') === 'h';
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '2fr 1fr 1fr 1fr' }, gap: 1 }}>
        <Line<Draft> name="name" autoFocus label={t`What people call it`} most={60} />
        <Line<Draft> name="plate" label={t`Plate`} most={20} />
        <Kind />
        <OneOf<Draft> name="layout" label={t`Layout`} options={pairs(words.data?.layouts ?? ['front-wheel'])} />
      </Box>
      <Box sx={{ display: 'flex', gap: 4, flexWrap: 'wrap', alignItems: 'start' }}>
        <OneOfFew<Draft>
          name="meter"
          label={t`Its meter counts`}
          options={[
            { value: 'km', label: t`distance` },
            { value: 'h', label: t`engine hours` },
          ]}
        />
        <Box sx={{ mt: 3.5, width: 230 }}>
          <Amount<Draft>
            name="meter_value"
            label={hours ? t`Engine hours now` : t`Odometer now`}
            kind={hours ? 'engine_hours' : 'distance'}
            hint={t`from it everything is reckoned; empty: unknown`}
          />
        </Box>
        <Box sx={{ mt: 3.5, width: 230 }}>
          <Line<Draft> name="off_road" label={t`Share off the road, %`} most={12} hint={t`shortens the intervals`} />
        </Box>
      </Box>
    </>
  );
}
