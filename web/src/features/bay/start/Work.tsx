/** The kind of service of one compartment: what it is, the exchange planned both ways, the wrong oil, jobs that ride along. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { Choice } from '../../../ui/Choice';
import { ExchangePlan, type Props } from './ExchangePlan';
import type { WorkKind } from './startChoice';
import { WrongOil } from './WrongOil';

const RIDE_ALONG = ['filter', 'breather', 'output seal', 'connector sleeve', 'belt and tensioner'];

export function Work(props: Props) {
  const { job, work, change, at } = props;
  const [more, setMore] = useState(work.attached.length > 0);
  const [own, setOwn] = useState('');
  const kind = work.kind || (job.works[0]?.value as WorkKind);
  const toggle = (what: string) =>
    change({ ...work, attached: work.attached.includes(what) ? work.attached.filter((a) => a !== what) : [...work.attached, what].slice(0, 8) });
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Choice
        hideLabel
        label={t`Kind of service: ${job.name}`}
        value={kind}
        options={job.works.map((w) => ({ value: w.value as WorkKind, label: w.label }))}
        onChange={(k) => change({ ...work, kind: k })}
      />
      {at('work') && <Box sx={{ color: 'error.main' }}>{at('work')}</Box>}
      {kind === 'exchange' && <ExchangePlan {...props} />}
      {kind === 'correction' && (
        <WrongOil
          label={t`What went in by mistake`}
          value={work.wrongOil}
          change={(wrongOil) => change({ ...work, wrongOil })}
          before={job.last_oils}
          hint={job.last_oils.length ? t`on record: ${job.last_oils.join(', ')}` : t`empty: said in the guide`}
        />
      )}
      {!more ? (
        <Button
          variant="text"
          size="small"
          sx={{ justifySelf: 'start', px: 0, minHeight: 32 }}
          onClick={() => setMore(true)}>{t`Let another job ride along`}</Button>
      ) : (
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
          {[...new Set([...RIDE_ALONG, ...work.attached])].map((what) => (
            <Button
              key={what}
              size="small"
              aria-pressed={work.attached.includes(what)}
              variant={work.attached.includes(what) ? 'contained' : 'outlined'}
              onClick={() => toggle(what)}>
              {what}
            </Button>
          ))}
          <TextField
            label={t`or another`}
            value={own}
            onChange={(e) => setOwn(e.target.value)}
            onKeyDown={(e) => {
              if (e.key !== 'Enter') return;
              e.preventDefault();
              if (own.trim()) toggle(own.trim());
              setOwn('');
            }}
            slotProps={{ htmlInput: { maxLength: 60 } }}
            sx={{ width: 170 }}
          />
        </Box>
      )}
    </Box>
  );
}
