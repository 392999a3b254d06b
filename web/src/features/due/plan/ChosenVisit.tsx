/** The visit that is chosen on the horizon. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask, client } from '../../../app/api';
import { date, useMay, useShow } from '../../../app/session';
import { Trouble } from '../../../ui/Trouble';
import type { Held } from './HorizonPicture';
import { dayAfter } from './horizonScale';
import { VisitWays } from './VisitWays';

/** What the chosen day means, and the acts on the visit. */
export function ChosenVisit({
  held,
  bays,
  change,
  today,
  agree,
  drop,
  busy,
  error,
}: {
  held: Held;
  bays: number;
  change: (part: Partial<Held>) => void;
  today: string;
  agree: () => void;
  drop: () => void;
  busy: boolean;
  error: unknown;
}) {
  const { show } = useShow();
  const lead = useMay('lead');
  const mayWork = useMay('technician');
  const { visit, day, bay = null } = held;
  const on = dayAfter(today, day);
  const body = { vehicle_id: visit.vehicle_id, on, compartments: visit.compartments, visit_id: visit.id, note: '', bay };
  const trial = useQuery({
    queryKey: ['visit-trial', body],
    queryFn: () => ask(client.POST('/api/plan/visits/trial', { body })),
    placeholderData: (old) => old,
    retry: false,
  });
  const told = trial.data;
  const asking = trial.isPending || trial.isPlaceholderData; // what stands there is of the day before it
  const who = held.technician === undefined ? visit.technician_id : held.technician;
  const moved = on !== visit.on || (bay !== null && bay !== visit.bay) || who !== visit.technician_id;
  const planned = visit.id !== null;
  return (
    <Box
      role="status"
      aria-label={t`The chosen visit`}
      aria-busy={asking}
      sx={{
        bgcolor: (theme) => theme.tones.pan,
        borderRadius: 2,
        px: 2,
        py: 1,
        display: 'grid',
        gap: 1,
        gridTemplateColumns: { xs: '1fr', md: '1fr auto' },
        alignItems: 'start',
      }}>
      <Box sx={{ display: 'grid', gap: 0.5 }}>
        <Box>
          <Box component="b" sx={{ typography: 'h3' }}>
            {visit.vehicle}, {date(on)}
          </Box>{' '}
          {planned ? (visit.done ? t`done` : t`agreed`) : t`proposed`} · {told ? `${told.hours.toFixed(1)} h` : ''}
          {told?.bay ? t` in bay ${told.bay}` : ''} · {visit.oils.join(', ')}
          {visit.technician ? ` · ${visit.technician}` : ''}
          {visit.note ? ` · ${visit.note}` : ''}
        </Box>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 3 }}>
          {told?.effects.map((e) => (
            <span key={e.compartment_id}>
              {e.name}:{' '}
              {e.over ? (
                <b>
                  <Trans>
                    {-e.early_days} {e.early_days === -1 ? t`day` : t`days`} over
                  </Trans>
                </b>
              ) : e.early_days === 0 ? (
                t`as it falls due`
              ) : (
                t`${e.early_days} ${plural(e.early_days, { one: 'day', other: 'days' })} early, throws away ${Math.round(e.thrown_share * 100)} %, ${show(e.thrown_ml, 'volume')}`
              )}
            </span>
          ))}
          {told?.looks.map((x) => (
            <span key={x.id}>
              <Trans>
                Rides along: {x.compartment.toLowerCase()}, {x.what}
              </Trans>
            </span>
          ))}
        </Box>
        {told?.problem && <Box sx={{ color: 'error.main', fontWeight: 700 }}>{told.problem}</Box>}
        <Trouble error={error ?? trial.error} />
      </Box>
      <Box sx={{ display: 'grid', gap: 1, justifyItems: 'end' }}>
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', justifyContent: 'end' }}>
          {lead && !visit.done && (!planned || moved) && (
            <Button variant="contained" disabled={busy || asking || Boolean(told?.problem)} onClick={agree}>
              {planned ? (on === visit.on ? t`Change it` : t`Move it here`) : t`Agree this visit`}
            </Button>
          )}
          {lead && planned && !visit.done && <Button variant="text" disabled={busy} onClick={drop}>{t`Drop it`}</Button>}
          {mayWork && !visit.done && (
            <Button variant="outlined" component={Link} to={`/bay/start/${visit.vehicle_id}?c=${visit.compartments.join(',')}`}>{t`Start it now`}</Button>
          )}
          {!visit.done && <Button variant="text" component={Link} to={`/shelf/shopping?c=${visit.compartments.join(',')}`}>{t`What to buy`}</Button>}
        </Box>
        {lead && !visit.done && <VisitWays held={held} bays={bays} change={change} />}
      </Box>
    </Box>
  );
}
