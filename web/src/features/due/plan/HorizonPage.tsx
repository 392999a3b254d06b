/** The due horizon: what falls due when, the visits that gather it, and the acts on them. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useMay, useShow } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { Empty } from '../../../ui/Empty';
import { FailedPage } from '../../../ui/FailedPage';
import { How } from '../../../ui/How';
import { oilColour } from '../../../ui/oil';
import { Page } from '../../../ui/Page';
import { BayHours } from './BayHours';
import { CalendarPanel } from './CalendarPanel';
import { ChosenVisit } from './ChosenVisit';
import { Picture } from './HorizonPicture';
import { useHorizon } from './useHorizon';
import { YearTable } from './YearTable';

/** Kept free above the picture, so that it does not jump under the hand when a visit is chosen. */
const STRIP = 128;
const ZOOMS: [number, string][] = [
  [7, t`Week`],
  [31, t`Month`],
  [92, t`Quarter`],
  [183, t`Half year`],
  [366, t`Year`],
];
const WORDS: Record<number, string> = {
  7: t`The next week`,
  31: t`The next month`,
  92: t`The next quarter`,
  183: t`The next half year`,
  366: t`The next year`,
};
export function HorizonPage() {
  const [span, setSpan] = useState(183);
  const [sheet, setSheet] = useState<'' | 'calendar' | 'bay'>('');
  const lead = useMay('lead');
  const { show } = useShow();
  const { horizon, held, choose, setHeld, agree, drop } = useHorizon(span);
  if (horizon.isPending) return <Bones lines={8} />;
  if (!horizon.data) return <FailedPage error={horizon.error} again={() => horizon.refetch()} />;
  const h = horizon.data;
  return (
    <Page
      title={WORDS[span] ?? t`The horizon`}
      note={
        <>
          <Trans>
            {h.text}; {show(h.savings.thrown_ml, 'volume')} thrown away early
          </Trans>{' '}
          <How working={h.savings.working} title={t`How the visits came about`} />
        </>
      }
      right={
        <Box role="group" aria-label={t`How far ahead`} sx={{ display: 'flex', gap: 0.5 }}>
          {ZOOMS.map(([days, words]) => (
            <Button
              key={days}
              variant={span === days ? 'contained' : 'text'}
              aria-pressed={span === days}
              onClick={() => setSpan(days)}
              sx={{ px: 1.25, minWidth: 0 }}>
              {words}
            </Button>
          ))}
        </Box>
      }>
      <CalendarPanel open={sheet === 'calendar'} close={() => setSheet('')} />
      <BayHours open={sheet === 'bay'} close={() => setSheet('')} today={h.today} />
      {!h.rows.length ? (
        <Empty title={t`Nothing falls due`}>
          <span>{t`Within this time nothing falls due. Look further ahead, or add vehicles and readings.`}</span>
        </Empty>
      ) : (
        <>
          <Box sx={{ minHeight: STRIP, display: 'grid', alignContent: 'center', '@media print': { display: 'none' } }}>
            {held ? (
              <ChosenVisit
                held={held}
                bays={h.bays}
                change={(part) => setHeld({ ...held, ...part })}
                today={h.today}
                agree={() => agree.mutate(held)}
                drop={() => held.visit.id !== null && drop.mutate(held.visit.id)}
                busy={agree.isPending || drop.isPending}
                error={agree.error ?? drop.error}
              />
            ) : (
              <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 1fr) auto' }, alignItems: 'center' }}>
                <Box sx={{ color: 'text.secondary' }}>
                  <Trans>
                    A dashed bracket is a proposed visit, a solid one is agreed. Drag it to a day, or choose it and use the arrow keys (with Shift a week);
                    Enter agrees.
                    <Box
                      component="span"
                      sx={{ display: 'inline-block', width: 14, height: 14, borderRadius: 7, bgcolor: oilColour('gear', 'brown'), ml: 2, mr: 0.5 }}
                    />{' '}
                    due, with its P10 and P90.
                  </Trans>
                </Box>
                <Box sx={{ display: 'flex', gap: 1 }}>
                  <Button variant="outlined" onClick={() => setSheet('calendar')}>{t`Calendar`}</Button>
                  {lead && <Button variant="outlined" onClick={() => setSheet('bay')}>{t`Bay hours`}</Button>}
                </Box>
              </Box>
            )}
          </Box>
          <Picture horizon={h} span={span} held={held} setHeld={choose} agree={(next) => agree.mutate(next)} />
          {h.matching > h.rows.length && (
            <Box sx={{ color: 'text.secondary' }}>
              <Trans>
                The {h.rows.length} soonest of {h.matching} vehicles are shown; visits and hours count all.
              </Trans>
            </Box>
          )}
          {span > 100 && <YearTable months={h.months} oils={h.oils} />}
          {h.unfit.map((u) => (
            <Box key={u} sx={{ color: 'error.main' }}>
              {u}
            </Box>
          ))}
        </>
      )}
    </Page>
  );
}
