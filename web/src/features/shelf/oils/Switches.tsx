/** Where practitioners differ, the workshop chooses: one question each, a reason, and what was chosen before. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { type ReactNode, useState } from 'react';
import { FormProvider } from 'react-hook-form';
import { date, useMay } from '../../../app/session';
import { Line, OneOfFew } from '../../../ui/form/fields';
import { useTyped } from '../../../ui/form/useTyped';
import { Section } from '../../../ui/Page';
import { Trouble } from '../../../ui/Trouble';

type Switch = { name: string; question: string; options: string[] };
type Past = { at: string; by: string; why: string };
type Props = {
  name: string;
  switches: Switch[];
  now: Record<string, string>;
  words?: Record<string, string>;
  names?: Record<string, string>;
  why: string;
  submit: string;
  history: Past[];
  children?: ReactNode;
  version: number;
  send: (changed: Record<string, string>, since: { 'If-Match': string }) => Promise<unknown>;
};

/** ``now``: what holds, by name, as it is typed; ``words``: how an option is shown where it is not its own name; only what differs is sent. */
export function Switches(props: Props) {
  const [round, setRound] = useState(0); // a change that was taken begins anew; what others change meanwhile leaves what is typed
  return <Round key={round} {...props} taken={() => setRound(round + 1)} />;
}

function Round({ name, switches, now, words = {}, names = {}, why, submit, history, children, version, send, taken }: Props & { taken: () => void }) {
  const lead = useMay('lead');
  const [start] = useState({ ...now, why: '' } as Record<string, string>);
  const changedOf = (typed: Record<string, string>) =>
    Object.fromEntries(Object.entries(typed).filter(([key, value]) => key !== 'why' && value !== start[key]));
  const typed = useTyped<Record<string, string>, unknown>({
    start,
    version,
    settled: taken,
    send: (d, from) => send({ ...changedOf(d), why: d.why ?? '' }, { 'If-Match': String(from) }),
  });
  const { form, act } = typed;
  const changed = Object.keys(changedOf(form.watch())).length > 0;
  return (
    <FormProvider {...form}>
      <Box
        component="form"
        noValidate
        aria-label={name}
        sx={{ display: 'grid', gap: 2.5, maxWidth: 1100 }}
        onSubmit={(e) => {
          e.preventDefault();
          if (lead) typed.submit();
        }}>
        <Box component="fieldset" disabled={!lead} sx={{ border: 0, p: 0, m: 0, display: 'grid', gap: 2.5 }}>
          <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' }, gap: 2.5 }}>
            {switches.map((s) => (
              <OneOfFew key={s.name} name={s.name} label={s.question} options={s.options.map((o) => ({ value: o, label: words[o] ?? o }))} />
            ))}
          </Box>
          {children}
        </Box>
        {lead && (
          <>
            <Line name="why" label={why} most={200} hint={t`goes on record with your name`} />
            <Trouble error={act.error} names={{ ...Object.fromEntries(switches.map((s) => [s.name, s.question])), ...names }} />
            <Button type="submit" variant="contained" disabled={act.isPending || !changed} sx={{ justifySelf: 'start' }}>
              {typed.overtaken ? t`Keep mine over theirs` : submit}
            </Button>
          </>
        )}
        <Section title={t`Changes`}>
          {history.length ? (
            history.map((h) => (
              <Box key={h.at}>
                {date(h.at)}, {h.by}: {h.why}
              </Box>
            ))
          ) : (
            <Box sx={{ color: 'text.secondary' }}>{t`None: the first values are common practice.`}</Box>
          )}
        </Section>
      </Box>
    </FormProvider>
  );
}
