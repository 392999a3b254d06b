/** What a service comes to, before its signature. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useShow } from '../../../app/session';
import type { Service } from './service';
import { Times } from './Times';

/** ``last``: what is still open is done with the signature. */
export function Summary({ service, last = false }: { service: Service; last?: boolean }) {
  const { show } = useShow();
  const required = service.steps.filter((s) => s.required && s.purpose !== 'sign' && s.status === 'open');
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      {service.ledgers.map((l) => (
        <Box key={l.compartment} sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}>
          <Trans>
            <b>{l.name}</b>: {l.drained_ml === null ? t`nothing measured` : t`${show(l.drained_ml, 'volume')} out`},{' '}
            {show(l.poured_ml - l.run_out_ml, 'volume')} of {l.oil} in
            {l.assessment?.level !== undefined && l.assessment?.level !== null
              ? t`, debris ${l.assessment.level} (${l.assessment.name})`
              : t`, debris not looked at`}
            {l.loss ? t`, loss: ${l.loss.band}` : ''}.
          </Trans>
        </Box>
      ))}
      {service.gaps.length > 0 ? (
        <Box>
          <b>{t`Gaps, explained:`}</b>
          <Box component="ul" sx={{ m: 0, pl: 3 }}>
            {service.gaps.map((g) => (
              <li key={g}>{g}</li>
            ))}
          </Box>
        </Box>
      ) : (
        !last && <span>{t`No gap: every step was done.`}</span>
      )}
      <Times times={service.times} />
      {!last && required.length > 0 && (
        <span>
          <Trans>Still open: {required.map((s) => s.title).join('; ')}.</Trans>
        </span>
      )}
    </Box>
  );
}
