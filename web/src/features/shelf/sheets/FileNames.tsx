/** Names of somebody else that are no names of ours. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, type Schemas } from '../../../app/api';
import { Section } from '../../../ui/Page';
import { Pick } from '../../../ui/Pick';
import { Trouble } from '../../../ui/Trouble';

export const read = (text: string) => ask(client.POST('/api/sheets/file', { body: { text } }));

export type Report = Schemas['FileReport'];

export function Names({ report, again }: { report: Report; again: () => void }) {
  const [ours, setOurs] = useState<Record<string, string>>(Object.fromEntries(report.foreign.map((f) => [`${f.place}.${f.name}`, f.ours])));
  const keep = useMutation({
    mutationFn: () =>
      ask(
        client.POST('/api/sheets/file/names', {
          body: { names: report.foreign.map((f) => ({ name: f.name, place: f.place as 'sheet' | 'plug', ours: ours[`${f.place}.${f.name}`] ?? '' })) },
        }),
      ),
    onSuccess: again,
  });
  return (
    <Section title={t`Names that are not ours`}>
      <Box sx={{ color: 'text.secondary' }}>{t`Say once what each means; it is kept for the next file.`}</Box>
      {report.foreign.map((f) => (
        <Box key={f.place + f.name} sx={{ display: 'grid', gridTemplateColumns: '1fr 240px', gap: 2, alignItems: 'center' }}>
          <Box>
            <b>{f.name}</b> {f.place === 'plug' ? t`(on a plug)` : ''}: {f.sample}{' '}
            {f.known && (
              <Box component="span" sx={{ color: 'text.secondary' }}>
                {f.ours ? t`known as ${f.ours}` : t`known: left out`}
              </Box>
            )}
          </Box>
          <Pick
            label={t`${f.name} means`}
            value={ours[`${f.place}.${f.name}`] ?? ''}
            empty={t`leave it out`}
            options={(f.place === 'plug' ? report.plug_targets : report.targets).map((t) => [t, t.replace(/_/g, ' ')] as const)}
            onChange={(value) => setOurs({ ...ours, [`${f.place}.${f.name}`]: value })}
          />
        </Box>
      ))}
      <Trouble error={keep.error} />
      <Button
        variant="outlined"
        onClick={() => keep.mutate()}
        disabled={keep.isPending}
        sx={{ justifySelf: 'start' }}>{t`Keep these meanings and read again`}</Button>
    </Section>
  );
}
