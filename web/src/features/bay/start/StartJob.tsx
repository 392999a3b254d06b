/** One compartment of the start page: its questions, its oil and why, what to fetch or buy, its additives. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useEffect } from 'react';
import { Refused, type Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { Choice as Choices } from '../../../ui/Choice';
import { SLIP } from '../../../ui/oil';
import { Pick } from '../../../ui/Pick';
import { Reasons, VERDICTS, VerdictDrop } from '../../../ui/Reasons';
import { There } from '../../../ui/There';
import { Trouble } from '../../../ui/Trouble';
import { Additives } from './Additives';
import { type Choice, firstOil, type Slip } from './startChoice';
import { type Job, useOffers, type Weather } from './useOffers';
import { Work } from './Work';

type Props = { job: Job; choice: Choice; change: (c: Choice) => void; at: (field: string) => string; weather: Weather; additives: Schemas['AdditiveView'][] };

function Fetch({ offer, job, topUp }: { offer: Schemas['OilOffer']; job: Job; topUp: boolean }) {
  const { show } = useShow();
  return (
    <Box sx={{ typography: 'body2' }}>
      <Trans>
        <b>{show(offer.on_hand_ml, 'volume')}</b> on the shelf
      </Trans>
      {offer.short_ml > 0 && (
        <>
          ,{' '}
          <b>
            <Trans>{show(offer.short_ml, 'volume')} short</Trans>
          </b>
          {offer.buy.length
            ? t`: buy ${offer.buy.map((b) => `${b.count} × ${show(b.size_ml, 'volume')}`).join(' and ')}, ${offer.buy_cost.toFixed(2)}`
            : t`: no pack is on offer`}
        </>
      )}
      {topUp
        ? t`, enough for a top-up as far as it goes`
        : job.need_ml === null
          ? t` (the need is unknown)`
          : job.need_ml === job.capacity_ml
            ? ''
            : t` for ${show(job.need_ml, 'volume')} with margins`}
    </Box>
  );
}

export function StartJob({ job, choice, change, at, weather, additives }: Props) {
  const { show } = useShow();
  const { offers, error } = useOffers(job, choice, weather);
  const open = job.ask_limited_slip && !choice.slip;
  const offer = offers.find((o) => o.lubricant === choice.oil);
  const best = firstOil(offers, job.last_oil);
  useEffect(() => {
    if (!choice.picked && best && choice.oil !== best) change({ ...choice, oil: best });
  }, [best, choice, change]);
  const capacity = job.variants.find((v) => v.name === choice.variant)?.capacity_ml;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Work job={job} work={choice.work} change={(work) => change({ ...choice, work })} at={at} />
      {job.variants.length > 0 && (
        <Box>
          <Pick
            label={t`Which ${job.name.toLowerCase()} is it?`}
            value={choice.variant}
            empty={t`nobody knows yet`}
            options={job.variants.map((v) => [
              v.name,
              `${v.name}${v.mark ? t`, marked ${v.mark}` : ''}${v.capacity_ml === null ? '' : `: ${show(v.capacity_ml, 'volume')}`}`,
            ])}
            onChange={(variant) => change({ ...choice, variant })}
            problem={at('variant')}
            hint={
              capacity != null
                ? t`Takes ${show(capacity, 'volume')}; kept for next time.`
                : job.casing_marks.map((m) => `${m.where}: ${m.reads}`).join('; ') || t`Until it is known, buy for the largest.`
            }
          />
        </Box>
      )}
      {job.ask_limited_slip && (
        <Box sx={{ borderLeft: 6, borderColor: 'primary.main', bgcolor: (t) => t.tones.amberWash, p: 1.25 }}>
          <Choices
            label={t`Limited slip in the ${job.name.toLowerCase()}?`}
            value={choice.slip}
            options={SLIP}
            onChange={(slip: Slip) => change({ ...choice, slip })}
          />
          {(open || at('slip')) && <Box sx={{ mt: 0.5 }}>{at('slip') || t`Answer before an axle oil is chosen.`}</Box>}
        </Box>
      )}
      {!open && (
        <>
          <Pick
            label={t`Oil for ${job.name}`}
            value={String(choice.oil)}
            options={offers.map((o) => [String(o.lubricant), `${o.name}: ${VERDICTS[o.verdict]}`])}
            onChange={(oil) => change({ ...choice, oil: Number(oil), picked: true })}
            problem={at('lubricant_id') || at('compartment_id')}
          />
          {offer && (
            <Box
              sx={{
                display: 'grid',
                gridTemplateColumns: '34px minmax(0, 1fr)',
                gap: 1,
                ...(offer.verdict === 'reject' ? { bgcolor: (t) => t.tones.redWash, border: 3, borderColor: 'error.main', borderRadius: 2, p: 1.5 } : {}),
              }}>
              <VerdictDrop verdict={offer.verdict} size={30} />
              <Box>
                {offer.verdict === 'reject' && (
                  <Box sx={{ typography: 'h3', color: 'error.main' }}>
                    <Trans>
                      Not this oil: {offer.name} must not go into the {job.name.toLowerCase()}.
                    </Trans>
                  </Box>
                )}
                <Reasons reasons={offer.reasons} />
                {offer.locked && (
                  <Box>
                    <b>{t`Locked until its data sheet is entered.`}</b> <There to={`/shelf/oils/${offer.lubricant}`} from={t`the start`}>{t`Enter it`}</There>
                  </Box>
                )}
                {offer.rinse && <b>{t`Another family of oil stays inside: rinse or flush before the final fill.`}</b>}
              </Box>
            </Box>
          )}
          {offer?.verdict === 'reject' && (
            <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: '1fr auto' }, alignItems: 'start' }}>
              <TextField
                label={t`Reason to use it all the same (goes on the record)`}
                value={choice.override}
                onChange={(e) => change({ ...choice, override: e.target.value })}
                slotProps={{ htmlInput: { maxLength: 300 } }}
              />
              <Button
                variant="outlined"
                onClick={() => change({ ...choice, oil: firstOil(offers, ''), picked: false, override: '' })}>{t`Take the best one instead`}</Button>
            </Box>
          )}
          {!offers.length && (
            <Box>
              <b>{t`No oil is on the list yet.`}</b> <There to="/shelf?add=oil" from={t`the start`}>{t`Add the oil`}</There>
            </Box>
          )}
          {offer && <Fetch offer={offer} job={job} topUp={choice.work.kind === 'top-up'} />}
          <Additives choice={choice} change={change} at={at} additives={additives} />
        </>
      )}
      {error instanceof Refused && <Trouble error={error} />}
    </Box>
  );
}
