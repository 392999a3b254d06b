/** One compartment of the start page: its questions, its oil and why, what to fetch or buy, its additives. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { Link } from 'react-router';
import { ask, client, Refused, type Schemas } from '../../../app/api';
import { useShow } from '../../../app/session';
import { Choice as Choices } from '../../../ui/Choice';
import { Pick } from '../../../ui/Pick';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { Reasons, VERDICTS, VerdictDrop } from '../../../ui/Reasons';
import { Trouble } from '../../../ui/Trouble';
import { blankDose, type Choice, dosesOf, firstOil, type Slip } from './startChoice';
import { Work } from './Work';

type Job = Schemas['StartJob'];
export type Weather = { coldest_c: string; warmest_c: string };
type Props = { job: Job; choice: Choice; change: (c: Choice) => void; at: (field: string) => string; weather: Weather; additives: Schemas['AdditiveView'][] };

const SLIP = [
  { value: 'yes', label: 'clutch-type' },
  { value: 'no', label: 'none, or gear-type' },
  { value: 'unknown', label: 'nobody knows' },
] as const;

/** The shelf judged for this compartment as its questions are answered; the page's own offers until something is asked. */
function useOffers(job: Job, choice: Choice, weather: Weather) {
  const { kind, cycles, school, target } = choice.work;
  const work = { work: kind, cycles, school, target_fresh: target };
  const asked = useRested({ slip: choice.slip, variant: choice.variant, doses: dosesOf(choice), ...weather, ...work });
  const usual = !asked.work && !asked.cycles && asked.school === 'drain and refill';
  const plain = usual && !asked.slip && asked.variant === job.variant && !asked.doses.length && !asked.coldest_c && !asked.warmest_c;
  const view = useQuery({
    queryKey: ['compartment-oils', job.compartment, asked],
    queryFn: () => ask(client.POST('/api/compartments/{compartment}/oils', { params: { path: { compartment: job.compartment } }, body: asked })),
    enabled: !plain && choice.on,
    retry: false,
    placeholderData: (before) => before,
  });
  return { offers: plain ? job.offers : (view.data?.offers ?? job.offers), error: plain ? null : view.error };
}

function Fetch({ offer, job, topUp }: { offer: Schemas['OilOffer']; job: Job; topUp: boolean }) {
  const { show } = useShow();
  return (
    <Box sx={{ typography: 'body2' }}>
      <b>{show(offer.on_hand_ml, 'volume')}</b> on the shelf
      {offer.short_ml > 0 && (
        <>
          , <b>{show(offer.short_ml, 'volume')} short</b>
          {offer.buy.length
            ? `: buy ${offer.buy.map((b) => `${b.count} × ${show(b.size_ml, 'volume')}`).join(' and ')}, ${offer.buy_cost.toFixed(2)}`
            : ': no pack is on offer'}
        </>
      )}
      {topUp
        ? ', enough for a top-up as far as it goes'
        : job.need_ml === null
          ? ' (the need is unknown)'
          : job.need_ml === job.capacity_ml
            ? ''
            : ` for ${show(job.need_ml, 'volume')} with margins`}
    </Box>
  );
}

function Additives({ choice, change, at, additives }: DoseProps) {
  if (!additives.length) return null;
  const wanted = choice.slip === 'yes' ? additives.find((a) => a.kind === 'friction modifier') : undefined;
  return (
    <Box sx={{ display: 'grid', gap: 0.5 }}>
      {choice.doses.map((d, k) => {
        const dose = (part: Partial<typeof d>) => change({ ...choice, doses: choice.doses.map((o) => (o.key === d.key ? { ...o, ...part } : o)) });
        return (
          <Box key={d.key} sx={{ display: 'grid', gridTemplateColumns: '1.4fr 1fr auto', gap: 1, alignItems: 'start' }}>
            <Pick
              label="Additive"
              value={String(d.additive)}
              options={additives.map((a) => [String(a.id), `${a.name} (${a.kind})`] as const)}
              onChange={(additive) => dose({ additive: Number(additive) })}
              problem={at(`doses.${k}.additive_id`)}
            />
            <QuantityField label="Dose" kind="volume" value={d.amount} onChange={(amount) => dose({ amount })} problem={at(`doses.${k}.volume_ml`)} />
            <Button variant="text" onClick={() => change({ ...choice, doses: choice.doses.filter((o) => o.key !== d.key) })}>
              Leave it out
            </Button>
          </Box>
        );
      })}
      <Button
        variant="text"
        size="small"
        sx={{ justifySelf: 'start', px: 0, minHeight: 32 }}
        onClick={() => change({ ...choice, doses: [...choice.doses, blankDose((wanted ?? additives[0])?.id ?? 0)] })}>
        Put an additive in
      </Button>
    </Box>
  );
}

type DoseProps = { choice: Choice; change: (c: Choice) => void; at: (field: string) => string; additives: Schemas['AdditiveView'][] };

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
            label={`Which ${job.name.toLowerCase()} is it?`}
            value={choice.variant}
            empty="nobody knows yet"
            options={job.variants.map((v) => [
              v.name,
              `${v.name}${v.mark ? `, marked ${v.mark}` : ''}${v.capacity_ml === null ? '' : `: ${show(v.capacity_ml, 'volume')}`}`,
            ])}
            onChange={(variant) => change({ ...choice, variant })}
            problem={at('variant')}
            hint={
              capacity != null
                ? `Takes ${show(capacity, 'volume')}; kept for next time.`
                : job.casing_marks.map((m) => `${m.where}: ${m.reads}`).join('; ') || 'Until it is known, buy for the largest.'
            }
          />
        </Box>
      )}
      {job.ask_limited_slip && (
        <Box sx={{ borderLeft: 6, borderColor: 'primary.main', bgcolor: (t) => t.tones.amberWash, p: 1.25 }}>
          <Choices
            label={`Limited slip in the ${job.name.toLowerCase()}?`}
            value={choice.slip}
            options={SLIP}
            onChange={(slip: Slip) => change({ ...choice, slip })}
          />
          {(open || at('slip')) && <Box sx={{ mt: 0.5 }}>{at('slip') || 'Answer before an axle oil is chosen.'}</Box>}
        </Box>
      )}
      {!open && (
        <>
          <Pick
            label={`Oil for ${job.name}`}
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
                    Not this oil: {offer.name} must not go into the {job.name.toLowerCase()}.
                  </Box>
                )}
                <Reasons reasons={offer.reasons} />
                {offer.locked && (
                  <Box>
                    <b>Locked until its data sheet is entered.</b> <Link to={`/shelf/oils/${offer.lubricant}`}>Enter it</Link>
                  </Box>
                )}
                {offer.rinse && <b>Another family of oil stays inside: rinse or flush before the final fill.</b>}
              </Box>
            </Box>
          )}
          {offer?.verdict === 'reject' && (
            <Box sx={{ display: 'grid', gap: 1, gridTemplateColumns: { xs: '1fr', sm: '1fr auto' }, alignItems: 'start' }}>
              <TextField
                label="Reason to use it all the same (goes on the record)"
                value={choice.override}
                onChange={(e) => change({ ...choice, override: e.target.value })}
                slotProps={{ htmlInput: { maxLength: 300 } }}
              />
              <Button variant="outlined" onClick={() => change({ ...choice, oil: firstOil(offers, ''), picked: false, override: '' })}>
                Take the best one instead
              </Button>
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
