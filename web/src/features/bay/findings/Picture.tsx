/** The picture of the job now: pan, verdict, bottles, plug or wrench, as the step at hand wants it. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useShow } from '../../../app/session';
import { Bolts } from '../../../ui/Bolts';
import { oilColour } from '../../../ui/oil';
import { Bottles } from '../amounts/Bottles';
import { Cycles, Thermometer } from '../amounts/Thermometer';
import { usePourPlan } from '../amounts/usePourPlan';
import { useScan } from '../devices/scan';
import { text } from '../guide/Plain';
import type { Ledger, Step, Values } from '../guide/service';
import { Verdict } from './Verdict';

export function Pan({ ledger }: { ledger: Ledger }) {
  const { tones } = useTheme();
  const { show } = useShow();
  const expected = ledger.last_in_ml ?? ledger.capacity_ml;
  const came = ledger.drained_15_ml;
  const most = Math.max(expected ?? 0, came ?? 0, 1) * 1.25;
  const y = (ml: number) => 176 - (ml / most) * 150;
  const side = (at: number) => 6 + (20 * (at - 20)) / 150; // the inside of the pan's wall
  const used = oilColour(ledger.family, ledger.colour || 'brown');
  return (
    <svg viewBox="0 0 280 196" width="100%" role="img" aria-label={came === null ? t`The pan, empty` : t`The pan: ${show(came, 'volume')} came out`}>
      {came !== null && <path d={`M${side(y(came))} ${y(came)}L${280 - side(y(came))} ${y(came)}L${280 - side(172)} 174L${side(172)} 174z`} fill={used} />}
      <path d="M4 20L24 170q1 8 9 8H247q8 0 9 -8L276 20" fill="none" stroke={tones.ink} strokeWidth={4} />
      {expected !== null && (
        <g>
          <path d={`M${side(y(expected)) - 6} ${y(expected)}H${286 - side(y(expected))}`} stroke={tones.ink} strokeWidth={2} strokeDasharray="6 5" />
          <text x={140} y={y(expected) - 6} textAnchor="middle" fontSize={15} fontWeight={700} fill={tones.ink}>
            {ledger.last_in_ml === null ? t`sheet says` : t`went in last time`} {show(expected, 'volume')}
          </text>
        </g>
      )}
      {came !== null && (
        <text
          x={140}
          y={Math.min(168, y(came) + 34)}
          textAnchor="middle"
          fontSize={16}
          fontWeight={700}
          fill={ledger.colour === 'fresh' || ledger.colour === 'darker' ? '#18221F' : '#FFFFFF'}>
          <Trans>came out {show(came, 'volume')} at 15 °C</Trans>
        </text>
      )}
    </svg>
  );
}

function Wrench({ torque }: { torque: number | null }) {
  const { tones } = useTheme();
  return (
    <svg viewBox="0 0 280 170" width="100%" role="img" aria-label={torque === null ? t`Torque unknown` : t`${torque} newton metres`}>
      <path d="M70 120L238 62" stroke={tones.ink} strokeWidth={13} strokeLinecap="round" />
      <path d="M196 76L238 62" stroke={tones.amber} strokeWidth={15} strokeLinecap="round" />
      <path d="M70 92l24 14v28l-24 14l-24 -14v-28z" fill={tones.steel} stroke={tones.ink} strokeWidth={3} />
      <circle cx={70} cy={120} r={11} fill={tones.paper} stroke={tones.ink} strokeWidth={3} />
      <path d="M112 40A92 92 0 0 1 168 128" fill="none" stroke={tones.ink} strokeWidth={3} strokeDasharray="2 6" />
      <path d="M160 118l8 12l8 -11" fill="none" stroke={tones.ink} strokeWidth={3} />
    </svg>
  );
}

function Hole({ ledger }: { ledger: Ledger }) {
  const { tones } = useTheme();
  const fresh = oilColour(ledger.family, 'fresh');
  const share = ledger.work === 'top-up' ? 1 : ledger.target_ml ? Math.min(1.12, (ledger.poured_ml - ledger.run_out_ml) / ledger.target_ml) : 0.5;
  const top = 150 - share * 80;
  return (
    <svg viewBox="0 0 280 190" width="100%" role="img" aria-label={t`Oil against the plug hole`}>
      <path d="M30 20H226V62H246V82H226V160H30z" fill={tones.glass} stroke={tones.ink} strokeWidth={4} />
      <rect x={33} y={Math.max(top, 24)} width={190} height={157 - Math.max(top, 24)} fill={fresh} />
      <path d="M224 62h22M224 82h22" stroke={tones.ink} strokeWidth={4} />
      {share >= 0.98 && <path d="M246 78q14 6 12 40" stroke={fresh} strokeWidth={5} fill="none" strokeLinecap="round" />}
      <path d="M30 82H222" stroke={tones.ink} strokeDasharray="5 5" strokeWidth={1.5} />
      <text x={40} y={76} fontSize={14} fill={tones.ink}>{t`lower lip`}</text>
    </svg>
  );
}

type Props = { id: number; step: Step; ledger: Ledger; many: boolean; draft: Values; meter: string };

export function Picture({ id, step, ledger, many, draft, meter }: Props) {
  const { show } = useShow();
  const plan = usePourPlan(id, ['pour', 'level'].includes(step.kind) || step.purpose === 'oil' ? step.compartment : '', {
    pump: text(draft, 'pump'),
    stroke: text(draft, 'stroke'),
  });
  const live = useScan(id, step.compartment, step.kind === 'level' && ledger.window_low_c !== null).scan.data;
  const name = many ? `${ledger.name}: ` : '';
  const torque = step.fields.find((f) => f.name === 'torque_nm')?.default_number ?? null;
  if (step.kind === 'inspect')
    return <Verdict assessment={ledger.assessment} promise={ledger.promise} before={name} compartment={step.compartment} meter={meter} />;
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      {step.kind === 'torque' && text(draft, 'bolts').trim() ? (
        <Bolts count={text(draft, 'bolts')} torque={torque === null ? '' : `${torque} N·m`} narrow />
      ) : step.kind === 'torque' ? (
        <>
          <Typography variant="h3">{name ? t`${name}the wrench` : t`The wrench`}</Typography>
          <Wrench torque={torque} />
        </>
      ) : step.kind === 'pour' || step.purpose === 'oil' ? (
        <>
          <Typography variant="h3">
            {name}
            {ledger.oil}
          </Typography>
          {plan.data && <Bottles plan={plan.data} ledger={ledger} />}
          {ledger.work === 'top-up' && ledger.fill_method === 'to the lip' && <Hole ledger={ledger} />}
        </>
      ) : step.kind === 'level' && ledger.window_low_c !== null ? (
        <>
          <Typography variant="h3">{name ? t`${name}the oil, now` : t`The oil, now`}</Typography>
          <Thermometer ledger={ledger} live={live?.samples ?? []} />
        </>
      ) : step.phase === 'exchange' && ledger.cycles.length > 0 ? (
        <>
          <Typography variant="h3">{name ? t`${name}the exchange` : t`The exchange`}</Typography>
          <Cycles ledger={ledger} />
        </>
      ) : step.kind === 'level' && ledger.fill_method === 'to the lip' ? (
        <>
          <Typography variant="h3">{name ? t`${name}at the lip` : t`At the lip`}</Typography>
          <Hole ledger={ledger} />
        </>
      ) : (
        <>
          <Typography variant="h3">{name ? t`${name}the pan, now` : t`The pan, now`}</Typography>
          <Pan ledger={ledger} />
        </>
      )}
      <Box
        component="dl"
        sx={{
          m: 0,
          display: 'grid',
          gridTemplateColumns: 'auto 1fr',
          columnGap: 2,
          rowGap: 0.5,
          fontSize: '1rem',
          '& dd': { m: 0, textAlign: 'right', fontWeight: 700 },
        }}>
        <dt>{t`Takes`}</dt>
        <dd>{ledger.capacity_ml === null ? t`unknown` : show(ledger.capacity_ml, 'volume')}</dd>
        <dt>{t`Oil`}</dt>
        <dd>{ledger.oil}</dd>
        {ledger.fresh !== null && (
          <>
            <dt>{t`Fresh`}</dt>
            <dd>{Math.round(ledger.fresh * 100)} %</dd>
          </>
        )}
        {ledger.poured_ml > 0 && (
          <>
            <dt>{t`Poured`}</dt>
            <dd>{show(ledger.poured_ml, 'volume')}</dd>
          </>
        )}
      </Box>
    </Box>
  );
}
