/** What a new vehicle is called, what it is, and what its meter shows. */
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';
import { Choice } from '../../../ui/Choice';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import type { Draft } from './vehicleDraft';

type Props = { draft: Draft; set: (part: Partial<Draft>) => void; at: (field: string) => string };

export function VehicleHead({ draft, set, at }: Props) {
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '2fr 1fr 1fr 1fr' }, gap: 1 }}>
        <TextField
          autoFocus
          label="What people call it"
          value={draft.name}
          onChange={(e) => set({ name: e.target.value })}
          error={Boolean(at('name'))}
          helperText={at('name') || ' '}
          slotProps={{ htmlInput: { maxLength: 60 } }}
        />
        <TextField
          label="Plate"
          value={draft.plate}
          onChange={(e) => set({ plate: e.target.value })}
          error={Boolean(at('plate'))}
          helperText={at('plate') || ' '}
          slotProps={{ htmlInput: { maxLength: 20 } }}
        />
        <Pick
          label="Kind"
          value={draft.kind}
          options={(words.data?.vehicle_kinds ?? ['car']).map((k) => [k, k])}
          onChange={(kind) => {
            const usual = words.data?.vehicles.find((v) => v.name === kind);
            set({ kind: kind as Draft['kind'], ...(usual ? { layout: usual.layout as Draft['layout'], meter: usual.meter as Draft['meter'] } : {}) });
          }}
          problem={at('kind')}
        />
        <Pick
          label="Layout"
          value={draft.layout}
          options={(words.data?.layouts ?? ['front-wheel']).map((k) => [k, k])}
          onChange={(layout) => set({ layout: layout as Draft['layout'] })}
          problem={at('layout')}
        />
      </Box>
      <Box sx={{ display: 'flex', gap: 4, flexWrap: 'wrap', alignItems: 'start' }}>
        <Choice
          label="Its meter counts"
          value={draft.meter}
          options={[
            { value: 'km', label: 'distance' },
            { value: 'h', label: 'engine hours' },
          ]}
          onChange={(meter) => set({ meter })}
        />
        <Box sx={{ mt: 3.5, width: 230 }}>
          <QuantityField
            label={draft.meter === 'h' ? 'Engine hours now' : 'Odometer now'}
            kind={draft.meter === 'h' ? 'engine_hours' : 'distance'}
            value={draft.meter_value}
            onChange={(meter_value) => set({ meter_value })}
            problem={at('meter_value')}
            hint="from it everything is reckoned; empty: unknown"
          />
        </Box>
        <TextField
          label="Share off the road, %"
          value={draft.off_road}
          onChange={(e) => set({ off_road: e.target.value })}
          error={Boolean(at('off_road_share'))}
          helperText={at('off_road_share') || 'shortens the intervals'}
          sx={{ mt: 3.5 }}
        />
      </Box>
    </>
  );
}
