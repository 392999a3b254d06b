/** A vehicle that is twice in the book: the other one is chosen, then both are shown side by side; merges that stand may be taken back. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { ask, askAll, client, type Schemas } from '../../../app/api';
import { date } from '../../../app/session';
import { FindOne } from '../../../ui/form/OneOfMany';
import { Trouble } from '../../../ui/Trouble';

function Merged({ m }: { m: Schemas['MergedView'] }) {
  const cache = useQueryClient();
  const back = useMutation({
    mutationFn: () => ask(client.DELETE('/api/merges/{merge}', { params: { path: { merge: m.id } } })),
    onSuccess: () => cache.invalidateQueries(),
  });
  return (
    <Box>
      <Trans>
        <b>{m.other}</b> went into it on {date(m.at)}, by {m.by}.
      </Trans>{' '}
      <Button size="small" variant="text" disabled={back.isPending} onClick={() => back.mutate()}>{t`Take them apart again`}</Button>
      <Trouble error={back.error} />
    </Box>
  );
}

export function Twice({ vehicle }: { vehicle: number }) {
  const go = useNavigate();
  const [open, setOpen] = useState(false);
  const merges = useQuery({
    queryKey: ['merges', vehicle],
    queryFn: () => ask(client.GET('/api/vehicles/{vehicle}/merges', { params: { path: { vehicle } } })),
  });
  const board = useQuery({ queryKey: ['due', 'all'], queryFn: askAll, enabled: open });
  const others = (board.data?.vehicles ?? []).filter((v) => v.id !== vehicle);
  return (
    <>
      {merges.data?.map((m) => (
        <Merged key={m.id} m={m} />
      ))}
      {open ? (
        <Box sx={{ maxWidth: 420 }}>
          <FindOne
            label={t`The other one`}
            value=""
            options={others.map((v) => [String(v.id), [v.name, v.plate].filter(Boolean).join(', ')] as const)}
            onChange={(other) => other && go(`/due/vehicle/${vehicle}/merge/${other}`)}
            hint={t`it goes into this one; first both are shown side by side`}
          />
        </Box>
      ) : (
        <Button variant="text" onClick={() => setOpen(true)} sx={{ justifySelf: 'start' }}>{t`It is twice in the book`}</Button>
      )}
    </>
  );
}
