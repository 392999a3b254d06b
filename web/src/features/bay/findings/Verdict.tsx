/** The verdict on a finding: level, what to do and by when, why, what it does to the next interval, and how it stands against before. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { nearDate, useSession, useShow } from '../../../app/session';
import { Follows } from '../../../ui/Follows';
import { LevelLine } from './LevelLine';

type Props = { assessment: Schemas['Assessment'] | null; promise?: Schemas['Promise'] | null; before?: string; compartment?: string; meter?: string };

/** When the next change falls, as the schedule will have it. */
function Next({ next, meter }: { next: Schemas['NextDue']; meter: string }) {
  const { show } = useShow();
  const today = useSession().data?.today ?? '';
  const at = next.at_meter === null ? '' : `at ${show(next.at_meter, meter === 'h' ? 'engine_hours' : 'distance')}`;
  const on = next.on === null ? '' : t`by ${nearDate(next.on, today)}`;
  return at || on ? (
    <Box>
      <Trans>Next change {[on, at].filter(Boolean).join(' or ')}.</Trans>
    </Box>
  ) : null;
}

export function Verdict({ assessment, promise = null, before = '', compartment = '', meter = 'km' }: Props) {
  const trend = useQuery({
    queryKey: ['trend', Number(compartment), '', ''],
    queryFn: () => ask(client.GET('/api/book/{compartment}/trend', { params: { path: { compartment: Number(compartment) } } })),
    enabled: compartment !== '',
    staleTime: 60_000,
  });
  const level = assessment?.level ?? null;
  const past = trend.data && <LevelLine trend={trend.data} level={level} />;
  if (!assessment || level === null)
    return (
      <Box sx={{ display: 'grid', gap: 1.5 }}>
        <Typography variant="h2">
          <Trans>{before}not looked at</Trans>
        </Typography>
        <span>{t`Tap what you see. Nothing noted is not the same as clean.`}</span>
        {past}
      </Box>
    );
  const { name, actions, look, reasons, questions } = assessment;
  // When to look again is said with its date and meter, where they are known.
  const told = look && !promise ? [...actions, look] : actions;
  const bases = [...new Set(reasons.map((r) => r.basis))];
  return (
    <Box role="status" sx={{ display: 'grid', gap: 1.25 }}>
      <Typography variant="h1" component="h3" sx={{ fontSize: '2.5rem', color: level === 4 ? 'error.main' : 'text.primary' }}>
        {level} · {name[0]?.toUpperCase() + name.slice(1)}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 0.75 }} aria-hidden="true">
        {[1, 2, 3, 4].map((k) => (
          <Box key={k} sx={{ height: 16, borderRadius: 0.5, bgcolor: k <= level ? (level === 4 ? 'error.main' : 'text.primary') : (t) => t.tones.line }} />
        ))}
      </Box>
      <Box>
        {told.map((a) => (
          <Box key={a} sx={{ fontWeight: 700, fontSize: '1.125rem' }}>
            {a}
          </Box>
        ))}
      </Box>
      {promise && (
        <Box sx={{ display: 'grid', gap: 0.5 }}>
          <Follows list={promise.follows} meter={meter} />
          <Next next={promise.next} meter={meter} />
        </Box>
      )}
      {questions.map((q) => (
        <Box key={q.rule} role="alert" sx={{ bgcolor: (t) => t.tones.amberWash, borderLeft: 6, borderColor: 'primary.main', px: 1.5, py: 1 }}>
          <b>{q.text}</b> {q.ask}
        </Box>
      ))}
      <Box component="ol" sx={{ m: 0, pl: 3, display: 'grid', gap: 0.75 }}>
        {reasons.map((r) => (
          <li key={r.rule}>
            {r.text}
            {bases.length > 1 && (
              <Box component="span" sx={{ color: 'text.secondary', fontSize: '0.875rem' }}>
                {' '}
                ({r.basis})
              </Box>
            )}
          </li>
        ))}
      </Box>
      {bases.length === 1 && (
        <Box sx={{ color: 'text.secondary', fontSize: '0.875rem' }}>
          <Trans>All of it {bases[0]}; the maker’s word comes first.</Trans>
        </Box>
      )}
      {past}
    </Box>
  );
}
