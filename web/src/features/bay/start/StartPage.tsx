/** Before a service: which compartments, which oil and why, what to fetch or buy, seals and tools, the meter, the weather. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Link } from 'react-router';
import { useShow } from '../../../app/session';
import { Barred } from '../../../ui/Barred';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { glassNote } from '../../../ui/glassNote';
import { Page } from '../../../ui/Page';
import { QuantityField } from '../../../ui/QuantityField';
import { There } from '../../../ui/There';
import { Trouble } from '../../../ui/Trouble';
import { Feed } from './Feed';
import { Kit, OilShort } from './Lacking';
import { StartRow } from './StartRow';
import { useStart } from './useStart';

export function StartPage() {
  const { show } = useShow();
  const s = useStart();
  if (s.view.isPending) return <Bones />;
  if (s.view.isError) return <FailedPage error={s.view.error} again={() => s.view.refetch()} />;
  const { chosen, day: d, at } = s;
  const v = s.view.data;
  const kind = v.meter === 'h' ? 'engine_hours' : 'distance';
  const asking = chosen.filter((j) => j.ask_limited_slip && !s.choiceOf(j).slip);
  const words = !chosen.length
    ? t`Choose a compartment`
    : asking.length
      ? t`Answer for the ${asking[0]?.name.toLowerCase() ?? ''} first`
      : t`Start on ${chosen.map((j) => j.name.toLowerCase()).join(', ')}`;
  return (
    <Page
      title={v.vehicle}
      note={
        <Trans>
          start a service · <Link to={`/due/vehicle/${v.vehicle_id}`}>the vehicle</Link> ·{' '}
          <There to={`/shelf/shopping?c=${chosen.map((j) => j.compartment).join(',')}`} from={t`the start`}>
            what to fetch
          </There>
        </Trans>
      }>
      <Box
        component="form"
        aria-busy={s.asking}
        sx={{ display: 'grid', gap: 2, maxWidth: 1080 }}
        onSubmit={(e) => {
          e.preventDefault();
          s.begin();
        }}>
        <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr', md: '1.3fr 1fr 1fr 1fr auto' }, gap: 1.5, alignItems: 'start' }}>
          <Box>
            <QuantityField
              autoFocus
              label={v.meter === 'h' ? t`Engine hours now` : t`Odometer now`}
              kind={kind}
              value={d.meter}
              onChange={(meter) => s.setDay({ meter })}
              problem={at('day.meter')}
              hint={v.meter_now === null ? t`empty: unknown` : t`last ${show(v.meter_now, kind)}; empty: unknown`}
            />
            <Feed vehicle={s.vehicle} take={(value) => s.setDay({ meter: show(value, kind) })} />
          </Box>
          <QuantityField
            label={t`Air temperature`}
            kind="temperature"
            value={d.ambient}
            onChange={(ambient) => s.setDay({ ambient })}
            problem={at('day.ambient')}
            hint={t`empty: unknown`}
          />
          <QuantityField
            label={t`Coldest expected`}
            kind="temperature"
            value={d.coldest}
            onChange={(coldest) => s.setDay({ coldest })}
            problem={at('day.coldest')}
            hint={t`until the next change`}
          />
          <QuantityField label={t`Warmest`} kind="temperature" value={d.warmest} onChange={(warmest) => s.setDay({ warmest })} problem={at('day.warmest')} />
          <Button
            type="submit"
            variant="contained"
            disabled={s.act.isPending || !chosen.length || asking.length > 0}
            sx={{ justifySelf: 'start', minHeight: 56, fontSize: '1.4rem', px: 4 }}>
            {words}
          </Button>
        </Box>
        <Trouble error={s.act.error} />
        {v.vehicle_says.length > 0 && (
          <Barred>
            {v.vehicle_says.map((words) => (
              <Box key={words}>{words}</Box>
            ))}
          </Barred>
        )}
        <Kit lines={s.missing} there={s.there} change={s.setThere} />
        <OilShort lines={s.short} there={s.there} change={s.setThere} fetches={s.fetches} setFetches={s.setFetches} problem={at('fetches')} />
        {v.jobs.map((job) => (
          <StartRow
            key={job.compartment}
            job={job}
            due={s.due?.compartments.find((c) => c.id === job.compartment)}
            goesAlong={Boolean(s.due?.together.includes(job.compartment))}
            note={(c) => (s.due ? glassNote(c, s.due.meter, s.today, show) : '')}
            choice={s.choiceOf(job)}
            change={(next) => s.choose(job.compartment, next)}
            at={(field) => (s.chosen.includes(job) ? at(`jobs.${s.chosen.indexOf(job)}.${field}`) : '')}
            weather={{ coldest_c: d.coldest, warmest_c: d.warmest }}
            additives={v.additives}
          />
        ))}
      </Box>
    </Page>
  );
}
