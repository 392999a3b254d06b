import { t } from '@lingui/core/macro';
import { ask, client, type Schemas } from '../../../app/api';
import { Line, OneOf, pairs } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { useSheetWords } from './useSheetForm';

export type Figure = Schemas['FigureView'];
type Request = Schemas['TrustRequestRequest'];

export function TrustForm({ sheet }: { sheet: number }) {
  const words = useSheetWords().words?.sheet;
  return (
    <LittleForm
      open={t`Verify or doubt a figure`}
      submit={t`So it is from now on`}
      columns="1fr 1fr 2fr"
      start={{ figure: 'capacity', trust: 'verified', how: '' }}
      send={(d) => ask(client.POST('/api/sheets/{sheet}/trust', { params: { path: { sheet } }, body: d as Request }))}>
      <OneOf name="figure" label={t`Figure`} options={pairs(words?.backed ?? ['capacity'])} />
      <OneOf name="trust" label={t`It is`} options={pairs(words?.trusts ?? ['verified'])} />
      <Line name="how" label={t`How you know`} most={200} hint={t`measured, read on the plate, asked the maker`} />
    </LittleForm>
  );
}
