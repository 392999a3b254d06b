/** One compartment of the start page: whether it is done, what it takes, and the choices for it. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import type { Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { STATE_WORDS } from '../../../ui/oil';
import { SightGlass } from '../../../ui/SightGlass';
import { There } from '../../../ui/There';
import { Words } from '../../../ui/Words';
import { StartJob } from './StartJob';
import type { Choice } from './startChoice';

export function StartRow({
  job,
  choice,
  change,
  at,
  weather,
  additives,
  due,
  goesAlong,
  note,
}: {
  due: Schemas['CompartmentDue'] | undefined;
  goesAlong: boolean;
  note: (c: Schemas['CompartmentDue']) => string;
  job: Schemas['StartJob'];
  choice: Choice;
  change: (next: Choice) => void;
  at: (field: string) => string;
  weather: { coldest_c: string; warmest_c: string };
  additives: Schemas['StartView']['additives'];
}) {
  const { show } = useShow();
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '300px minmax(0, 1fr)' }, gap: 2, borderTop: 1, borderColor: 'divider', pt: 1.5 }}>
      <Box>
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <FormControlLabel
            disabled={job.in_service}
            control={<Checkbox checked={choice.on} onChange={(e) => change({ ...choice, on: e.target.checked })} sx={{ '& svg': { fontSize: 32 } }} />}
            label={
              <Box component="b" sx={{ typography: 'h3' }}>
                {job.name}
              </Box>
            }
          />
          {due && (
            <SightGlass
              size={40}
              state={due.state}
              used={due.used}
              family={due.family}
              colour={due.colour}
              level={due.level}
              title={`${job.name}: ${STATE_WORDS[due.state as keyof typeof STATE_WORDS] ?? due.state}`}
            />
          )}
        </Box>
        {due && (
          <Box sx={{ pl: 5.5 }}>
            <b>{note(due)}</b>
            {goesAlong && t` · goes together now`}
          </Box>
        )}
        <Box sx={{ color: 'text.secondary', typography: 'body2', pl: 5.5 }}>
          {job.in_service ? t`in service already` : t`Takes ${job.capacity_ml === null ? t`an unknown amount` : show(job.capacity_ml, 'volume')} · ${job.asks}`}
          <Box>
            <Trans>
              <There to={`/shelf/sheets/${job.sheet_id}`} from={t`the start`}>
                {job.sheet}
              </There>
              , revision {job.revision}
            </Trans>
          </Box>
          {job.doubtful.length > 0 && (
            <Box sx={{ color: (t) => t.tones.amberText }}>
              <Trans>To confirm: {job.doubtful.join(', ')}</Trans>
            </Box>
          )}
        </Box>
      </Box>
      <Box sx={{ display: 'grid', gap: 2, minWidth: 0 }}>
        {choice.on && job.warranty && choice.work.kind !== 'top-up' && (
          <Box sx={{ borderLeft: 6, borderColor: (t) => t.tones.amberText, pl: 1.5, display: 'grid', gap: 1 }}>
            <Trans>{job.warranty} Opening it may cost the warranty.</Trans>
            <Words
              label={t`Why ${job.name.toLowerCase()} is opened all the same`}
              value={choice.warranty}
              onChange={(warranty) => change({ ...choice, warranty })}
              problem={at('warranty')}
              most={200}
              hint={t`goes on the record`}
            />
          </Box>
        )}
        {choice.on && <StartJob job={job} choice={choice} change={change} at={at} weather={weather} additives={additives} />}
      </Box>
    </Box>
  );
}
