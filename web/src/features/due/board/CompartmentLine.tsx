/** A compartment being entered: name, place in the driveline, sheet. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';
import { rowKey } from '../../../app/typed';
import { Pick } from '../../../ui/Pick';

export type CompartmentDraft = { key: string; name: string; slot: Slot; sheet_id: string };
export type Slot = NonNullable<import('../../../app/schema').components['schemas']['CompartmentRequestRequest']['slot']>;

export const blank = (): CompartmentDraft => ({ key: rowKey(), name: '', slot: 'gearbox', sheet_id: '' });

type Props = { draft: CompartmentDraft; change: (draft: CompartmentDraft) => void; remove?: () => void; problem?: (field: string) => string };

export function CompartmentLine({ draft, change, remove, problem = () => '' }: Props) {
  const words = useQuery({ queryKey: ['words'], queryFn: () => ask(client.GET('/api/words')), staleTime: Number.POSITIVE_INFINITY });
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => ask(client.GET('/api/sheets')) });
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr 1.4fr auto' }, gap: 1, alignItems: 'start' }}>
      <TextField
        label={t`Compartment`}
        placeholder={t`Rear axle`}
        value={draft.name}
        onChange={(e) => change({ ...draft, name: e.target.value })}
        error={Boolean(problem('name'))}
        helperText={problem('name') || ' '}
        slotProps={{ htmlInput: { maxLength: 60 } }}
      />
      <Pick
        label={t`Place in the driveline`}
        value={draft.slot}
        options={(words.data?.slots ?? [draft.slot]).map((s) => [s, s])}
        onChange={(slot) => change({ ...draft, slot: slot as Slot })}
        problem={problem('slot')}
      />
      <Pick
        label={t`Spec sheet`}
        value={draft.sheet_id}
        options={(sheets.data ?? []).map((s) => [String(s.id), `${s.name} (${s.kind})`])}
        onChange={(sheet_id) => change({ ...draft, sheet_id })}
        problem={problem('sheet_id')}
        empty={t`choose`}
      />
      {remove && <Button variant="text" onClick={remove} aria-label={t`Take out ${draft.name || t`this compartment`}`}>{t`Take out`}</Button>}
    </Box>
  );
}
