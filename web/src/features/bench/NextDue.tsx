import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../app/api';
import { date, useSession } from '../../app/session';
import { figure } from '../../app/typed';
import { DateField } from '../../ui/DateField';
import { STATE_WORDS } from '../../ui/oil';
import { QuantityField, useRested } from '../../ui/QuantityField';
import { Sum } from './Sum';

/** When the next change falls, with mixed duty. */
export function NextDue() {
  const { data: session } = useSession();
  const [d, setD] = useState({
    last_on: `${Number(session?.today.slice(0, 4)) - 2}${session?.today.slice(4) ?? ''}`.replace('02-29', '02-28'),
    road_km: '20 000 km',
    off_road_km: '5 000 km',
    per_day_km: '40 km',
    interval_km: '60 000 km',
    off_road_interval_km: '36 000 km',
    interval_months: '48',
  });
  const r = useRested(d);
  const sum = useQuery({
    queryKey: ['bench-due', r],
    queryFn: () => ask(client.POST('/api/bench/next-due', { body: { ...r, interval_months: figure(r.interval_months) } })),
    enabled: Boolean(r.last_on),
    retry: false,
  });
  const field = (label: string, key: Exclude<keyof typeof d, 'last_on' | 'interval_months'>, hint = '') => (
    <QuantityField label={label} kind="distance" value={d[key]} onChange={(v) => setD({ ...d, [key]: v })} hint={hint} />
  );
  const due = sum.data?.due;
  return (
    <Sum
      title={t`Next due`}
      error={sum.error}
      working={sum.data?.working}
      answer={
        due && (
          <Trans>
            {Math.round(due.used * 100)} % of life used, {STATE_WORDS[due.state]}
            {due.on ? t`: by ${due.limit}, ${date(due.on)}` : ''}
          </Trans>
        )
      }>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 1 }}>
        <DateField label={t`Last change`} value={d.last_on} onChange={(last_on) => setD({ ...d, last_on })} />
        {field(t`Road since`, 'road_km')}
        {field(t`Off the road since`, 'off_road_km')}
        {field(t`A day`, 'per_day_km', t`empty: no date by distance`)}
        {field(t`Interval, road`, 'interval_km')}
        {field(t`Interval, off-road`, 'off_road_interval_km')}
        <TextField
          label={t`Months`}
          value={d.interval_months}
          onChange={(e) => setD({ ...d, interval_months: e.target.value })}
          helperText=" "
          slotProps={{ htmlInput: { inputMode: 'numeric', maxLength: 4 } }}
        />
      </Box>
    </Sum>
  );
}
