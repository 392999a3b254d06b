/** A new vehicle with its compartments; the strip is drawn as it is entered. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { ask, client, Refused } from '../../../app/api';
import { share as inPercent } from '../../../app/typed';
import { DrivelineStrip } from '../../../ui/DrivelineStrip';
import { Page, Section } from '../../../ui/Page';
import { There } from '../../../ui/There';
import { Trouble } from '../../../ui/Trouble';
import { blank, CompartmentLine } from '../board/CompartmentLine';
import { VehicleHead } from './VehicleHead';
import { type Draft, KEPT, kept, withSheet } from './vehicleDraft';

export function AddVehiclePage() {
  // The sheet that was written for it on the way stands in the first compartment that has none.
  const made = (useLocation().state as { made?: number } | null)?.made;
  const [draft, setDraft] = useState<Draft>(() => withSheet(kept(), made));
  const go = useNavigate();
  const cache = useQueryClient();
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
        <VehicleHead draft={draft} set={set} at={at} />
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
