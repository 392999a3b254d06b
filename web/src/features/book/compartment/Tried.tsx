/** The oils that were tried in a compartment, side by side: a bottle each, with what it ran, how it shifted, what it left, what was lost. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { date, useShow } from '../../../app/session';
import { oilColour } from '../../../ui/oil';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';
import { LevelMarks } from '../LevelMarks';

type Oil = Schemas['SideBySide']['oils'][number];

/** Five notches, filled as far as an impression goes; a half one half. */
export function Notches({ value, label }: { value: number | null; label: string }) {
  if (value === null) return <Box sx={{ color: 'text.secondary' }}>{t`nobody said`}</Box>;
  return (
    <Box role="img" aria-label={t`${label}: ${value.toFixed(1)} of 5`} sx={{ display: 'flex', gap: 0.5, alignItems: 'center' }}>
      {[1, 2, 3, 4, 5].map((n) => (
        <Box key={n} sx={{ width: 16, height: 12, border: 1.5, borderColor: 'text.primary', borderRadius: 0.5, overflow: 'hidden' }}>
          <Box sx={{ height: '100%', width: `${Math.max(0, Math.min(1, value - n + 1)) * 100}%`, bgcolor: 'text.primary' }} />
        </Box>
      ))}
      <b>{value.toFixed(1)}</b>
    </Box>
  );
}

function gain(value: number | null): string {
  if (value === null || value === 0) return '';
  return value > 0 ? t`, ${value.toFixed(1)} better than before` : t`, ${(-value).toFixed(1)} worse than before`;
}

function Column({ o, meter, family }: { o: Oil; meter: string; family: string }) {
  const { show } = useShow();
  const per = meter === 'h' ? '100 h' : show(1000, 'distance');
  const rows: [string, React.ReactNode][] = [
    [t`Fills`, `${o.fills}${o.inside ? t`, inside now` : ''}`],
    [t`Ran`, t`${show(o.run, meter === 'h' ? 'engine_hours' : 'distance')} in ${Math.round(o.days / 30.4)} months`],
    [
      'Shifting',
      <span key="s">
        <Notches value={o.shift} label={t`Shifting`} />
        {gain(o.shift_gain)}
      </span>,
    ],
    [
      'Quietness',
      <span key="n">
        <Notches value={o.noise} label={t`Quietness`} />
        {gain(o.noise_gain)}
      </span>,
    ],
    [
      t`Debris`,
      o.levels.length ? (
        <Box key="d" sx={{ display: 'flex', gap: 1 }}>
          {o.levels.map((l, k) => (
            <LevelMarks key={`${k}-${l}`} level={l} />
          ))}
        </Box>
      ) : (
        t`not looked at yet`
      ),
    ],
    [
      t`Came out`,
      o.colours.length ? (
        <Box key="c" sx={{ display: 'flex', gap: 0.5 }}>
          {o.colours.map((c, k) => (
            <Box
              key={k}
              role="img"
              aria-label={c}
              sx={{ width: 18, height: 18, borderRadius: 9, border: 1.5, borderColor: 'text.primary', bgcolor: oilColour(family, c) }}
            />
          ))}
        </Box>
      ) : (
        t`not seen yet`
      ),
    ],
    [t`Lost`, o.loss_rate === null ? t`not measured` : t`${o.loss_rate.toFixed(0)} ± ${(o.loss_within ?? 0).toFixed(0)} mL per ${per}`],
  ];
  return (
    <Box sx={{ borderTop: 6, borderColor: oilColour(family, 'fresh'), pt: 1, display: 'grid', gap: 0.75, alignContent: 'start' }}>
      <Box component="h3" sx={{ typography: 'h3', m: 0 }}>
        {o.oil}
      </Box>
      <Box sx={{ color: 'text.secondary', typography: 'body2' }}>
        <Trans>since {date(o.first)}</Trans>
      </Box>
      {rows.map(([name, value]) => (
        <Box key={name} sx={{ display: 'grid', gridTemplateColumns: '88px minmax(0, 1fr)', gap: 1, alignItems: 'center' }}>
          <Box component="span" sx={{ color: 'text.secondary', typography: 'body2' }}>
            {name}
          </Box>
          <Box>{value}</Box>
        </Box>
      ))}
    </Box>
  );
}

export function Tried({ compartment, meter, family }: { compartment: number; meter: string; family: string }) {
  const tried = useQuery({
    queryKey: ['tried', compartment],
    queryFn: () => ask(client.GET('/api/book/{compartment}/tried', { params: { path: { compartment } } })),
  });
  if (tried.isPending) return null;
  if (!tried.data) return <Trouble error={tried.error} again={() => tried.refetch()} />;
  if (tried.data.oils.length < 2) return null;
  return (
    <Section title={t`Oils tried here`}>
      <Box sx={{ display: 'grid', gap: 3, gridTemplateColumns: { xs: '1fr', sm: 'repeat(auto-fit, minmax(270px, 380px))' } }}>
        {tried.data.oils.map((o) => (
          <Column key={o.oil} o={o} meter={meter} family={family} />
        ))}
      </Box>
      {tried.data.says.map((s) => (
        <span key={s}>{s}</span>
      ))}
    </Section>
  );
}
