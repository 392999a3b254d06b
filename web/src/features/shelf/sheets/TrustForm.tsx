import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { LittleForm } from '../../../ui/LittleForm';
import { Pick } from '../../../ui/Pick';
import { Words } from '../../../ui/Words';

export type Figure = Schemas['FigureView'];

export const TRUSTS = ['verified', 'remembered', 'guessed', 'unknown'] as const;

export const SOURCES = ['bulletin', 'plate', 'manual', 'oil maker', 'forum', 'memory', 'guess'] as const;

export type Source = (typeof SOURCES)[number];

export type Trust = (typeof TRUSTS)[number];

export const pairs = (names: readonly string[]) => names.map((n) => [n, n] as const);

export function TrustForm({ sheet }: { sheet: number }) {
  const [d, setD] = useState({ figure: 'capacity' as 'capacity' | 'oil' | 'interval' | 'torque', trust: 'verified' as Trust, how: '' });
  return (
    <LittleForm
      open="Verify or doubt a figure"
      submit="So it is from now on"
      columns="1fr 1fr 2fr"
      send={() => ask(client.POST('/api/sheets/{sheet}/trust', { params: { path: { sheet } }, body: d }))}
      taken={() => setD({ ...d, how: '' })}>
      {(at) => (
        <>
          <Pick
            label="Figure"
            value={d.figure}
            options={pairs(['capacity', 'oil', 'interval', 'torque'])}
            onChange={(figure) => setD({ ...d, figure: figure as typeof d.figure })}
            problem={at('figure')}
          />
          <Pick label="It is" value={d.trust} options={pairs(TRUSTS)} onChange={(trust) => setD({ ...d, trust: trust as Trust })} problem={at('trust')} />
          <Words
            label="How you know"
            value={d.how}
            onChange={(how) => setD({ ...d, how })}
            problem={at('how')}
            most={200}
            hint="measured, read on the plate, asked the maker"
          />
        </>
      )}
    </LittleForm>
  );
}
