/** Loss over the road: its rate, until when the level holds, and what a trip or a season will cost in oil. */

import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client, Refused, type Schemas } from '../../../app/api';
import { date } from '../../../app/session';
import { DateField } from '../../../ui/DateField';
import { How } from '../../../ui/How';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';

type Trend = Schemas['TrendView'];

export const trendKey = (compartment: number, ahead = '', until = '') => ['trend', compartment, ahead, until] as const;
export function askTrend(compartment: number, ahead = '', until = '') {
  const query = { ...(ahead ? { ahead } : {}), ...(until ? { until } : {}) };
  return ask(client.GET('/api/book/{compartment}/trend', { params: { path: { compartment }, query } }));
}

function inDays(days: number, today: string): string {
  return date(new Date(Date.parse(today) + days * 86_400_000).toISOString().slice(0, 10));
}

export function Outlook({ trend, today }: { trend: Trend; today: string }) {
  const [ahead, setAhead] = useState('');
  const [until, setUntil] = useState('');
  const rested = useRested({ ahead: ahead.trim(), until }, 300);
  const asked = rested.ahead !== '' || rested.until !== '';
  const trip = useQuery({
    queryKey: trendKey(trend.compartment_id, rested.ahead, rested.until),
    queryFn: () => askTrend(trend.compartment_id, rested.ahead, rested.until),
    enabled: asked,
    retry: false,
    placeholderData: (old) => old,
  });
  if (!trend.loss) return <span>{t`No loss can be reckoned yet: it takes a measured fill and, later, what came out or what a top-up took.`}</span>;
  const [early, middle, late] = trend.holds?.days ?? [];
  const refused = trip.error instanceof Refused ? trip.error : null;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <span>
        <Box component="b" sx={{ typography: 'h3' }}>
          {trend.loss.text}.
        </Box>{' '}
        <How working={trend.loss.working} title={t`How the rate came about`} />
      </span>
      {trend.holds && (
        <span>
          {trend.holds.text} {middle != null && trend.loss.real && t`At the present use: ${inDays(middle, today)}`}
          {early != null && trend.loss.real && t`, at the earliest ${inDays(early, today)}`}
          {late != null && trend.loss.real ? t`, at the latest ${inDays(late, today)}` : ''}
          {middle != null && trend.loss.real && '. '}
          <How working={trend.holds.working} title={t`Until when the level holds`} />
        </span>
      )}
      <Box sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', alignItems: 'start' }}>
        <QuantityField
          label={t`A trip of`}
          kind={trend.meter === 'h' ? 'engine_hours' : 'distance'}
          value={ahead}
          onChange={(v) => {
            setAhead(v);
            setUntil('');
          }}
          problem={refused?.at('ahead') ?? ''}
        />
        <DateField
          label={t`or until the season ends on`}
          value={until}
          onChange={(day) => {
            setUntil(day);
            setAhead('');
          }}
          problem={refused?.at('until') ?? ''}
          earliest={today}
        />
        {asked && trip.data?.trip && !trip.isError && (
          <Box role="status" sx={{ flex: 1, minWidth: 260, pt: 1, fontWeight: 700 }}>
            {trip.data.trip.text}
          </Box>
        )}
      </Box>
      {!refused?.at('ahead') && !refused?.at('until') && <Trouble error={trip.error} />}
    </Box>
  );
}
