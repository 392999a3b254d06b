/** A new oil on the list, and a container of one put on the shelf. */

import { t } from '@lingui/core/macro';
import { useNavigate, useSearchParams } from 'react-router';
import { ask, client, type Schemas } from '../../../app/api';
import { useMay } from '../../../app/session';
import { Amount, Line, OneOf, pairs, YesNo } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { useBack } from '../../../ui/There';
import { OilFields } from './OilFields';
import { blankOil, oilPath, oilRequest } from './oilDraft';

export function AddOil() {
  const back = useBack();
  const go = useNavigate();
  const [search] = useSearchParams();
  return (
    <LittleForm
      shown={search.get('add') === 'oil'}
      settled={() => back && go(back.to)}
      open={t`Add an oil`}
      submit={t`Add it`}
      start={blankOil()}
      pathOf={oilPath}
      send={(d) => ask(client.POST('/api/lubricants', { body: oilRequest(d) }))}>
      <OilFields />
    </LittleForm>
  );
}

const KINDS = ['bottle', 'can', 'drum'] as const;
type Request = Schemas['ContainerRequestRequest'];

export function Stock({ oil }: { oil: Pick<Schemas['LubricantView'], 'id' | 'name'> }) {
  const mayStock = useMay('technician');
  const back = useBack();
  const go = useNavigate();
  const [search] = useSearchParams();
  if (!mayStock) return null;
  return (
    <LittleForm
      small
      shown={search.get('stock') === String(oil.id)}
      settled={() => back && go(back.to)}
      open={t`Put one on the shelf`}
      of={oil.name}
      submit={t`Put it there`}
      columns="1fr"
      start={{ label: '', kind: 'bottle', size_ml: '', content_ml: '', graduated: true }}
      send={(d) => ask(client.POST('/api/containers', { body: { ...d, lubricant_id: oil.id, content_ml: d.content_ml || d.size_ml } as Request }))}>
      <Line name="label" autoFocus label={t`What it is called`} most={40} />
      <OneOf name="kind" label={t`It is a`} options={pairs(KINDS)} />
      <Amount name="size_ml" label={t`Its size`} kind="volume" />
      <Amount name="content_ml" label={t`What is in it`} kind="volume" hint={t`empty: full`} />
      <YesNo name="graduated" label={t`It has marks to read`} />
    </LittleForm>
  );
}
