/** How what follows from a record is closed: by saying what was found or mended, or by taking over what it offers. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { ask, client } from '../app/api';
import { useMay, useShow } from '../app/session';
import { Line, OneOfFew } from './form/fields';
import { LittleForm } from './LittleForm';
import { Trouble } from './Trouble';

type Open = { id: number; kind: string; what: string; offer?: string; offer_ml?: number | null; offer_nm?: number | null };

const CLOSE: Record<string, string> = {
  stop: t`Clear the stop`,
  repair: t`Mended`,
  'look-again': t`Looked at`,
  ask: t`Answered`,
  adopt: t`Leave it`,
  'due-cap': t`Give the interval back`,
};
const ASKED: Record<string, string> = {
  stop: t`What was found, and what was mended?`,
  repair: t`What was found, and what was mended?`,
  ask: t`What was the answer?`,
  adopt: t`Why is it not taken over?`,
  'due-cap': t`Why is the usual interval right again?`,
};
const AGAIN = [
  { value: 'no', label: t`No more looks` },
  { value: 'yes', label: t`Look again` },
];

/** A stop and a shortened interval are the lead's to close. */
export function CloseIt({ c, of }: { c: Open; of: string }) {
  const may = useMay(c.kind === 'stop' || c.kind === 'due-cap' ? 'lead' : 'technician');
  if (!may) return null;
  return (
    <LittleForm
      small={c.kind !== 'stop'}
      strong={c.kind === 'stop'}
      open={CLOSE[c.kind] ?? t`Close it`}
      of={`${of}, ${c.what}`}
      submit={t`Note it`}
      columns="1fr"
      start={{ outcome: '', again: c.kind === 'stop' || c.kind === 'repair' ? 'yes' : 'no' }}
      send={({ outcome, again }) =>
        ask(client.POST('/api/consequences/{consequence}', { params: { path: { consequence: c.id } }, body: { outcome, again: again === 'yes' } }))
      }>
      <Line name="outcome" autoFocus label={ASKED[c.kind] ?? t`What did it show?`} most={300} />
      {c.kind !== 'adopt' && c.kind !== 'due-cap' && <OneOfFew name="again" label={t`And then`} options={AGAIN} />}
    </LittleForm>
  );
}

/** What a record offers, by one press: the capacity that its fill found, the torque that was used; a variant with its casing code. */
export function TakeOver({ c, of }: { c: Open; of: string }) {
  const { show } = useShow();
  const lead = useMay('lead');
  const may = useMay('technician');
  const cache = useQueryClient();
  const path = { params: { path: { consequence: c.id } } };
  const take = useMutation({
    mutationFn: () => ask(client.POST('/api/consequences/{consequence}/take', { ...path, body: { outcome: '' } })),
    onSuccess: () => cache.invalidateQueries(),
  });
  const figure = c.offer_ml != null ? show(c.offer_ml, 'volume') : c.offer_nm != null ? show(c.offer_nm, 'torque') : '';
  if (figure) {
    if (take.isSuccess)
      return (
        <Box role="status">
          <Trans>The sheet says {figure} from now on.</Trans>
        </Box>
      );
    return lead ? (
      <Box>
        <Button
          variant="outlined"
          size="small"
          disabled={take.isPending}
          onClick={() => take.mutate()}
          aria-label={t`Make ${figure} the sheet's figure: ${of}`}>
          <Trans>Make {figure} the sheet's figure</Trans>
        </Button>
        <Trouble error={take.error} />
      </Box>
    ) : null;
  }
  if (!c.offer || !may) return null;
  return (
    <LittleForm
      small
      open={t`It is the ${c.offer}`}
      of={of}
      submit={t`Take it over`}
      columns="1fr"
      start={{ outcome: '' }}
      send={({ outcome }) => ask(client.POST('/api/consequences/{consequence}/take', { ...path, body: { outcome } }))}>
      <Line name="outcome" autoFocus label={t`What the casing reads, or how you know`} most={300} />
    </LittleForm>
  );
}
