/** Bolts of a cover by number: where they sit, and the order in which they are drawn. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { useTheme } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../app/api';
import { figure, needed } from '../app/typed';
import { Choice } from './Choice';
import { How } from './How';
import { useRested } from './QuantityField';
import { Trouble } from './Trouble';

export function Bolts({ count, torque, narrow = false }: { count: string; torque: string; narrow?: boolean }) {
  const { tones } = useTheme();
  const [layout, setLayout] = useState<'pan' | 'circle'>('pan');
  const body = useRested({ count: needed(figure(count)), torque_nm: torque, layout });
  const sum = useQuery({
    queryKey: ['bolts', body],
    queryFn: () => ask(client.POST('/api/bench/bolts', { body })),
    enabled: count.trim() !== '',
    retry: false,
  });
  const place = new Map(sum.data?.order.map((bolt, k) => [bolt, k + 1]));
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Choice
        label={t`They sit`}
        value={layout}
        options={[
          { value: 'pan', label: t`round a pan` },
          { value: 'circle', label: t`in a circle` },
        ]}
        onChange={setLayout}
      />
      {sum.data && (
        <Box sx={{ display: 'grid', gridTemplateColumns: narrow ? '1fr' : '270px minmax(0, 1fr)', gap: 2, alignItems: 'center' }}>
          <svg viewBox="-20 -20 280 240" width="100%" role="img" aria-label={t`Order of the bolts, by number: ${sum.data.order.join(', ')}`}>
            {layout === 'pan' ? (
              <rect x={0} y={0} width={240} height={180} rx={14} fill={tones.glass} stroke={tones.ink} strokeWidth={2} />
            ) : (
              <circle cx={120} cy={100} r={100} fill={tones.glass} stroke={tones.ink} strokeWidth={2} />
            )}
            {sum.data.positions.map(([px = 0, py = 0], k) => {
              const [x, y] = layout === 'pan' ? [px * 240, py * 240] : [20 + px * 200, py * 200];
              const turn = place.get(k + 1) ?? 0;
              return (
                <g key={`${px}-${py}`}>
                  <circle cx={x} cy={y} r={15} fill={turn === 1 ? tones.amber : tones.sheet} stroke={tones.ink} strokeWidth={2.5} />
                  <text x={x} y={y + 6} textAnchor="middle" fontSize={16} fontWeight={700} fill={turn === 1 ? tones.amberInk : tones.ink}>
                    {turn}
                  </text>
                </g>
              );
            })}
          </svg>
          <Box>
            <b>{t`In the order of the numbers:`}</b>
            <Box component="ol" sx={{ m: 0, pl: 3 }}>
              {sum.data.rounds.map((r) => (
                <li key={r}>{r}</li>
              ))}
            </Box>
            <How working={sum.data.working} title={t`The order of bolts`} />
          </Box>
        </Box>
      )}
      <Trouble error={sum.error} />
    </Box>
  );
}
