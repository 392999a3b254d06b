/** The way from an empty book to its first due: what is done, and what comes next, each with one link. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { ask, client, type Schemas } from '../../../app/api';
import { useMay } from '../../../app/session';
import { Section } from '../../../ui/Page';
import { There } from '../../../ui/There';

type Step = Schemas['FirstStep'];
const HERE = t`the first steps`;

/** What a step is called, what it is good for, where it is done. */
const WAY: Record<string, (s: Step) => { words: string; why: string; to: string }> = {
  workshop: () => ({ words: t`Say what the workshop is called`, why: t`it stands at the head of every paper`, to: '/settings' }),
  sheet: () => ({ words: t`Write the first spec sheet`, why: t`what a kind of compartment takes, how it opens, how its level is set`, to: '/shelf/new' }),
  vehicle: () => ({ words: t`Add the first vehicle`, why: t`with its compartments and its odometer`, to: '/due/add' }),
  reading: (s) => ({
    words: s.name ? t`Read the odometer of ${s.name}` : t`Read the odometer`,
    why: t`what it runs a day comes from its readings`,
    to: s.id ? `/due/vehicle/${s.id}` : '/due/add',
  }),
  oil: () => ({ words: t`Put the first oil on the shelf`, why: t`then it is said which oil may go in, and how many packs`, to: '/shelf?add=oil' }),
  change: (s) => ({
    words: s.name ? t`Enter the last change of ${s.name}` : t`Enter the last change`,
    why: t`from it the next one is reckoned; without one it counts as due`,
    to: s.id ? `/book/${s.id}?enter=record` : '/book',
  }),
};

function Mark({ done, next }: { done: boolean; next: boolean }) {
  return (
    <svg viewBox="-12 -12 24 24" width={30} height={30} role="img" aria-label={done ? 'done' : next ? 'next' : 'later'}>
      <circle r={9.5} fill={next ? 'currentColor' : 'none'} stroke="currentColor" strokeWidth={2.4} strokeDasharray={done || next ? undefined : '3 3'} />
      {done && <path d="M-5 0l3.6 4L5-4" fill="none" stroke="currentColor" strokeWidth={2.6} />}
    </svg>
  );
}

export function FirstHour() {
  const lead = useMay('lead');
  const way = useQuery({ queryKey: ['first-hour'], queryFn: () => ask(client.GET('/api/first-hour')), enabled: lead, retry: false });
  if (!way.data || way.data.over) return null;
  const next = way.data.steps.find((s) => !s.done);
  const bare = !way.data.steps.find((s) => s.key === 'vehicle')?.done;
  return (
    <Section title={t`The first steps`}>
      {bare && (
        <Box>
          <Trans>
            There is a spreadsheet of vehicles, changes or oils already?{' '}
            <There to="/book/import" from={HERE}>
              Take it in
            </There>
            ; it does most of these steps at once.
          </Trans>
        </Box>
      )}
      <Box component="ol" aria-label={t`The first steps`} sx={{ listStyle: 'none', p: 0, m: 0, display: 'grid' }}>
        {way.data.steps.map((s) => {
          const step = WAY[s.key]?.(s);
          if (!step) return null;
          const here = s === next;
          return (
            <Box
              component="li"
              key={s.key}
              sx={{
                display: 'grid',
                gridTemplateColumns: '36px 1fr',
                gap: 1.5,
                alignItems: 'center',
                py: 1,
                px: 1,
                borderTop: 1,
                borderColor: 'divider',
                color: here ? 'text.primary' : 'text.secondary',
                bgcolor: here ? (t) => t.tones.amberWash : undefined,
              }}>
              <Mark done={s.done} next={here} />
              <Box>
                <Box sx={{ typography: here ? 'h3' : 'body1' }}>
                  {s.done ? (
                    step.words
                  ) : (
                    <There to={step.to} from={HERE}>
                      {step.words}
                    </There>
                  )}
                </Box>
                {!s.done && (
                  <Box sx={{ typography: 'body2' }}>
                    {step.why}
                    {s.key === 'sheet' && (
                      <Trans>
                        ; or{' '}
                        <There to="/shelf/file" from={HERE}>
                          read a sheet file
                        </There>
                      </Trans>
                    )}
                  </Box>
                )}
              </Box>
            </Box>
          );
        })}
      </Box>
    </Section>
  );
}
