/** Additives for a fill, and their doses. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { Schemas } from '../../../app/api';
import { Pick } from '../../../ui/Pick';
import { QuantityField } from '../../../ui/QuantityField';
import { blankDose, type Choice } from './startChoice';

export type DoseProps = { choice: Choice; change: (c: Choice) => void; at: (field: string) => string; additives: Schemas['AdditiveView'][] };

export function Additives({ choice, change, at, additives }: DoseProps) {
  if (!additives.length) return null;
  const wanted = choice.slip === 'yes' ? additives.find((a) => a.kind === 'friction modifier') : undefined;
  return (
    <Box sx={{ display: 'grid', gap: 0.5 }}>
      {choice.doses.map((d, k) => {
        const dose = (part: Partial<typeof d>) => change({ ...choice, doses: choice.doses.map((o) => (o.key === d.key ? { ...o, ...part } : o)) });
        return (
          <Box key={d.key} sx={{ display: 'grid', gridTemplateColumns: '1.4fr 1fr auto', gap: 1, alignItems: 'start' }}>
            <Pick
              label={t`Additive`}
              value={String(d.additive)}
              options={additives.map((a) => [String(a.id), `${a.name} (${a.kind})`] as const)}
              onChange={(additive) => dose({ additive: Number(additive) })}
              problem={at(`doses.${k}.additive_id`)}
            />
            <QuantityField label={t`Dose`} kind="volume" value={d.amount} onChange={(amount) => dose({ amount })} problem={at(`doses.${k}.volume_ml`)} />
            <Button variant="text" onClick={() => change({ ...choice, doses: choice.doses.filter((o) => o.key !== d.key) })}>{t`Leave it out`}</Button>
          </Box>
        );
      })}
      <Button
        variant="text"
        size="small"
        sx={{ justifySelf: 'start', px: 0, minHeight: 32 }}
        onClick={() => change({ ...choice, doses: [...choice.doses, blankDose((wanted ?? additives[0])?.id ?? 0)] })}>{t`Put an additive in`}</Button>
    </Box>
  );
}
