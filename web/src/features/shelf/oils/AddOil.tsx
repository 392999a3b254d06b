/** A new oil on the list, and a container of one put on the shelf. */
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { useMay } from '../../../app/session';
import { LittleForm } from '../../../ui/LittleForm';
import { Pick as PickOne } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { Words } from '../../../ui/Words';
import { OilFields } from './OilFields';
import { blankOil, oilRequest } from './oilDraft';

export function AddOil() {
  const [d, setD] = useState(blankOil);
  return (
    <LittleForm open="Add an oil" submit="Add it" send={() => ask(client.POST('/api/lubricants', { body: oilRequest(d) }))} taken={() => setD(blankOil())}>
      {(at) => <OilFields d={d} set={(part) => setD({ ...d, ...part })} at={at} />}
    </LittleForm>
  );
}

const KINDS = ['bottle', 'can', 'drum'] as const;
const EMPTY = { label: '', size: '', content: '', graduated: true, kind: 'bottle' as (typeof KINDS)[number] };

export function Stock({ oil }: { oil: Pick<Schemas['LubricantView'], 'id' | 'name'> }) {
  const mayStock = useMay('technician');
  const [d, setD] = useState(EMPTY);
  if (!mayStock) return null;
  return (
    <LittleForm
      small
      open="Put one on the shelf"
      of={oil.name}
      submit="Put it there"
      columns="1fr"
      send={() =>
        ask(
          client.POST('/api/containers', {
            body: { lubricant_id: oil.id, label: d.label, size_ml: d.size, content_ml: d.content || d.size, graduated: d.graduated, kind: d.kind },
          }),
        )
      }
      taken={() => setD(EMPTY)}>
      {(at) => (
        <>
          <Words autoFocus label="What it is called" value={d.label} onChange={(label) => setD({ ...d, label })} problem={at('label')} most={40} />
          <PickOne label="It is a" value={d.kind} options={KINDS.map((k) => [k, k])} onChange={(kind) => setD({ ...d, kind: kind as typeof d.kind })} />
          <QuantityField label="Its size" kind="volume" value={d.size} onChange={(size) => setD({ ...d, size })} problem={at('size_ml')} />
          <QuantityField
            label="What is in it"
            kind="volume"
            value={d.content}
            onChange={(content) => setD({ ...d, content })}
            problem={at('content_ml')}
            hint="empty: full"
          />
          <FormControlLabel
            control={<Checkbox checked={d.graduated} onChange={(e) => setD({ ...d, graduated: e.target.checked })} />}
            label="It has marks to read"
          />
        </>
      )}
    </LittleForm>
  );
}
