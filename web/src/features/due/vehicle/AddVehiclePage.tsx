/** A new vehicle with its compartments; the strip is drawn as it is entered. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { ask, client, Refused } from '../../../app/api';
import { share as inPercent } from '../../../app/typed';
import { Choice } from '../../../ui/Choice';
import { DrivelineStrip } from '../../../ui/DrivelineStrip';
import { Page, Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { There } from '../../../ui/There';
import { Trouble } from '../../../ui/Trouble';
import { blank, CompartmentLine } from '../board/CompartmentLine';
import { type Draft, KEPT, kept, withSheet } from './vehicleDraft';

export function AddVehiclePage() {
  // The sheet that was written for it on the way stands in the first compartment that has none.
  const made = (useLocation().state as { made?: number } | null)?.made;
  const [draft, setDraft] = useState<Draft>(() => withSheet(kept(), made));
  const go = useNavigate();
  const cache = useQueryClient();
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  useEffect(() => sessionStorage.setItem(KEPT, JSON.stringify(draft)), [draft]);
  const add = useMutation({
    mutationFn: () => {
      const { compartments, off_road, ...rest } = draft;
      const share = inPercent(off_road) ?? 0;
      return ask(
        client.POST('/api/vehicles', {
          body: { ...rest, off_road_share: share, compartments: compartments.map((c) => ({ name: c.name, slot: c.slot, sheet_id: Number(c.sheet_id) })) },
        }),
      );
    },
    onSuccess: async (made) => {
      sessionStorage.removeItem(KEPT);
      await cache.invalidateQueries();
      go(`/due/vehicle/${made.id}`);
    },
  });
  const at = (field: string) => (add.error instanceof Refused ? add.error.at(field) : '');
  const set = (part: Partial<Draft>) => setDraft({ ...draft, ...part });
  const named = draft.compartments.filter((c) => c.name.trim());
  return (
    <Page title="Add a vehicle" note={<Link to="/due">back to Due</Link>}>
      <Box
        component="form"
        sx={{ display: 'grid', gap: 2, maxWidth: 980 }}
        onSubmit={(e) => {
          e.preventDefault();
          add.mutate();
        }}>
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
        <Section title="Oil compartments, front to rear">
          <DrivelineStrip
            layout={draft.layout}
            to={() => '#'}
            compartments={named.map((c, k) => ({
              id: k,
              name: c.name,
              slot: c.slot,
              state: 'unknown',
              used: 1,
              family: 'gear',
              colour: '',
              level: null,
              note: '',
            }))}
          />
          {draft.compartments.map((c, k) => (
            <CompartmentLine
              key={c.key}
              draft={c}
              change={(next) => set({ compartments: draft.compartments.map((o) => (o.key === c.key ? next : o)) })}
              remove={draft.compartments.length > 1 ? () => set({ compartments: draft.compartments.filter((o) => o.key !== c.key) }) : undefined}
              problem={(field) => at(`compartments.${k}.${field}`)}
            />
          ))}
          <Box sx={{ display: 'flex', gap: 2 }}>
            <Button variant="outlined" onClick={() => set({ compartments: [...draft.compartments, blank()] })}>
              One more compartment
            </Button>
            <Box sx={{ alignSelf: 'center' }}>
              <There to="/shelf/new" from="the new vehicle">
                Its sheet is not on the shelf: write it
              </There>
            </Box>
          </Box>
        </Section>
        <Trouble error={add.error} />
        <Button type="submit" variant="contained" disabled={add.isPending} sx={{ justifySelf: 'start' }}>
          Add the vehicle
        </Button>
      </Box>
    </Page>
  );
}
