/** In which bay a visit is done, by whom, and a note for it. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';
import { Pick } from '../../../ui/Pick';
import { Words } from '../../../ui/Words';
import type { Held } from './HorizonPicture';

export function VisitWays({ held, bays, change }: { held: Held; bays: number; change: (part: Partial<Held>) => void }) {
  const { visit, bay = null } = held;
  const people = useQuery({ queryKey: ['people'], queryFn: () => ask(client.GET('/api/people')) });
  const hands = people.data?.filter((p) => p.active && p.role !== 'viewer') ?? [];
  const who = held.technician === undefined ? visit.technician_id : held.technician;
  const planned = visit.id !== null;
  if (planned && bays < 2 && hands.length < 2) return null;
  return (
    <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', '& .MuiFormHelperText-root': { display: 'none' } }}>
      {bays > 1 && (
        <Pick
          label={t`Bay`}
          value={bay === null ? '' : String(bay)}
          options={Array.from({ length: bays }, (_, k) => [String(k + 1), t`bay ${k + 1}`] as const)}
          onChange={(text) => change({ bay: text ? Number(text) : null })}
          empty={t`any with room`}
        />
      )}
      {hands.length > 1 && (
        <Pick
          label={t`Done by`}
          value={who ? String(who) : ''}
          options={hands.map((p) => [String(p.id), p.name] as const)}
          onChange={(id) => change({ technician: id ? Number(id) : null })}
          empty={t`whoever is free`}
        />
      )}
      {!planned && <Words label={t`Note for the visit`} value={held.note ?? ''} onChange={(note) => change({ note })} most={200} />}
    </Box>
  );
}
