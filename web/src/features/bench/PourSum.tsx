import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../app/api';
import { useShow } from '../../app/session';
import { QuantityField, useRested } from '../../ui/QuantityField';
import { Sum } from './Sum';

const WHOLE = /^\s*(?:\d|1\d|20)\s*$/;

/** Which bottles to empty, and where to stop the last one. */
export function PourSum() {
  const { show } = useShow();
  const [d, setD] = useState({ need_ml: '2 300 mL', size: '1 L', count: '3', opened: '', dead_volume_ml: '', stroke_ml: '' });
  const r = useRested(d);
  const count = Math.max(0, Math.min(20, Math.round(Number(r.count)) || 0));
  const containers = [
    ...(r.opened.trim() ? [{ label: t`the opened one`, size_ml: r.size, content_ml: r.opened, graduated: true }] : []),
    ...Array.from({ length: count }, (_, k) => ({ label: t`bottle ${k + 1}`, size_ml: r.size, content_ml: r.size, graduated: true })),
  ];
  const sum = useQuery({
    queryKey: ['bench-pour', r],
    queryFn: () => ask(client.POST('/api/bench/pour', { body: { need_ml: r.need_ml, dead_volume_ml: r.dead_volume_ml, stroke_ml: r.stroke_ml, containers } })),
    enabled: Boolean(r.need_ml.trim() && r.size.trim()),
    retry: false,
  });
  const field = (label: string, key: Exclude<keyof typeof d, 'count'>, hint = '') => (
    <QuantityField label={label} kind="volume" value={d[key]} onChange={(v) => setD({ ...d, [key]: v })} hint={hint} />
  );
  return (
    <Sum
      title={t`Pour plan`}
      error={sum.error}
      working={sum.data?.working}
      answer={
        sum.data && (
          <>
            {sum.data.actions.map((a) => a.text).join(', ') || t`Nothing to pour`}
            {sum.data.shortage_ml > 0.5 && (
              <Box sx={{ color: 'error.main' }}>
                <Trans>{show(sum.data.shortage_ml, 'volume')} short</Trans>
              </Box>
            )}
          </>
        )
      }>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 1 }}>
        {field('Needed', 'need_ml')}
        {field(t`Bottles of`, 'size')}
        <TextField
          label={t`How many full`}
          value={d.count}
          error={!WHOLE.test(d.count)}
          onChange={(e) => setD({ ...d, count: e.target.value })}
          slotProps={{ htmlInput: { inputMode: 'numeric', maxLength: 3 } }}
        />
        {field(t`Opened holds`, 'opened', t`empty: none`)}
        {field(t`Left in pump`, 'dead_volume_ml', t`empty: no pump`)}
        {field(t`Syringe stroke`, 'stroke_ml', t`empty: none`)}
      </Box>
    </Sum>
  );
}
