/** Level ground: ticked, or measured by how much one end stands higher; and what a slope does to each plug level. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client } from '../../../app/api';
import { useShow } from '../../../app/session';
import { figure, needed } from '../../../app/typed';
import { How } from '../../../ui/How';
import { QuantityField, useRested } from '../../../ui/QuantityField';
import { Trouble } from '../../../ui/Trouble';
import type { BodyProps } from '../guide/body';
import { Plain, text, useTyped } from '../guide/Plain';

export function Slope({ draft, change, problem, service }: BodyProps) {
  const typed = useTyped(draft);
  const { show } = useShow();
  const lip = service.ledgers.find((l) => l.capacity_ml !== null && l.fill_method !== 'measured');
  const body = useRested({ lift_mm: typed('lift_mm', 'length'), wheelbase_mm: typed('wheelbase_mm', 'length') });
  const slope = useQuery({
    queryKey: ['slope', body, lip?.compartment],
    queryFn: () => ask(client.POST('/api/bench/slope', { body: { ...body, capacity_ml: (lip?.capacity_ml ?? null) as never } })),
    enabled: Boolean(body.lift_mm && body.wheelbase_mm),
    retry: false,
  });
  return (
    <Box sx={{ display: 'grid', gap: 1, maxWidth: 640 }}>
      <span>{t`Checked by spirit level: go on. Or measured:`}</span>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.5 }}>
        <QuantityField label={t`One end stands higher by`} kind="length" value={typed('lift_mm', 'length')} onChange={(lift_mm) => change({ lift_mm })} />
        <QuantityField
          label={t`Wheelbase`}
          kind="length"
          value={typed('wheelbase_mm', 'length')}
          onChange={(wheelbase_mm) => change({ wheelbase_mm })}
          problem={problem('wheelbase_mm')}
        />
      </Box>
      {slope.data && (
        <Box role="status" sx={{ typography: 'h2', color: slope.data.level ? 'text.primary' : 'error.main' }}>
          <Trans>
            {Math.abs(slope.data.tilt_deg).toFixed(1)}° out of level
            {slope.data.error_ml !== null && lip
              ? t`: about ${show(Math.abs(slope.data.error_ml), 'volume')} wrong at the ${lip.name.toLowerCase()}'s plug`
              : ''}
          </Trans>{' '}
          <How working={slope.data.working} title={t`What a slope does`} />
        </Box>
      )}
    </Box>
  );
}

/** A case that leans is brought level by raising one axle: by how much. */
export function CaseLevel(props: BodyProps) {
  const { draft } = props;
  const typed = useTyped(draft);
  const { show } = useShow();
  const body = useRested({ lean_deg: needed(figure(text(draft, 'lean_deg'))), wheelbase_mm: typed('wheelbase_mm', 'length') });
  const lift = useQuery({
    queryKey: ['raise', body],
    queryFn: () => ask(client.POST('/api/bench/raise', { body })),
    enabled: Boolean(body.lean_deg && body.wheelbase_mm),
    retry: false,
  });
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Plain {...props} />
      {lift.data && (
        <Box role="status" sx={{ typography: 'h2' }}>
          <Trans>Raise the axle at its low end by {show(Math.abs(lift.data.raise_mm), 'length')}</Trans>{' '}
          <How working={lift.data.working} title={t`How far to raise it`} />
        </Box>
      )}
      <Trouble error={lift.error} />
    </Box>
  );
}
