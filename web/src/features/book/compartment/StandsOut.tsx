/** What stands out of a compartment's past: rises, sisters, surprises with their causes, a wrong oil run on. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import type { Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { How } from '../../../ui/How';

type Trend = Schemas['TrendView'];

function Item({ strong, children }: { strong: ReactNode; children?: ReactNode }) {
  return (
    <Box component="li" sx={{ borderLeft: 5, borderColor: 'primary.main', pl: 1.5, display: 'grid', gap: 0.25 }}>
      <b>{strong}</b>
      {children}
    </Box>
  );
}

export function StandsOut({ trend }: { trend: Trend }) {
  const { show } = useShow();
  const unit = trend.meter === 'h' ? 'engine_hours' : 'distance';
  const quiet = !trend.rises.length && !trend.surprises.length && !trend.exposures.length && !trend.lost && !trend.loss?.rising && !trend.against?.above;
  return (
    <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1.25 }}>
      {trend.rises.map((r) => (
        <Item key={r.rule + r.text} strong={r.text} />
      ))}
      {trend.lost && <Item strong={t`Oil is lost.`}>{trend.lost}</Item>}
      {trend.loss?.rising && <Item strong={t`It loses more than it used to.`}>{trend.loss.text}</Item>}
      {trend.against && (
        <Box component="li" sx={{ listStyle: 'none' }}>
          {trend.against.above ? <b>{trend.against.text}</b> : trend.against.text} <How working={trend.against.working} title={t`How its sisters compare`} />
        </Box>
      )}
      {trend.surprises.map((s) => (
        <Item key={s.rule} strong={s.text}>
          <span>
            <Trans>May be: {s.causes.join('; ').toLowerCase()}.</Trans>
          </span>
          <span>
            {s.do} <Box component="small">({s.basis})</Box>
          </span>
        </Item>
      ))}
      {trend.exposures.map((e) => (
        <Item
          key={e.since + e.oil}
          strong={
            <Trans>
              Wrong oil: {e.oil}, from {date(e.since)} {e.until ? t`to ${date(e.until)}` : t`on, still inside`}
              {e.run === null ? '' : t`, ${show(e.run, unit)} run on it`}.
            </Trans>
          }>
          <span>{e.why}</span>
          <span>
            <Trans>
              Look for: {e.look_for.join('; ').toLowerCase()}. {e.follow_up}
            </Trans>
          </span>
        </Item>
      ))}
      {quiet && <li>{t`Nothing stands out: no rise, no surprise, no loss, no wrong oil.`}</li>}
    </Box>
  );
}
