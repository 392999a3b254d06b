/** A service: steps at the left, the one at hand in the middle, the picture of the job at the right. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';
import { useKeys } from '../../../app/keys';
import { actInWords } from '../../../app/outbox/outbox';
import { clockTime, useMay, useSession, useShow } from '../../../app/session';
import { say } from '../../../app/speech';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { Panel } from '../../../ui/Panel';
import { Title } from '../../../ui/Title';
import { Picture } from '../findings/Picture';
import { Drop } from './Drop';
import { Folded, foldOf } from './Folded';
import { Signed } from './Signed';
import { StepCard } from './StepCard';
import { StepList } from './StepList';
import type { Service } from './service';
import { useDraft, useService, useTrial } from './useService';

/** The screen stays awake while the work goes on, where the browser can. */
function useAwake(): void {
  useEffect(() => {
    let lock: { release: () => Promise<void> } | undefined;
    const take = () =>
      navigator.wakeLock?.request('screen').then(
        (l) => {
          lock = l;
        },
        () => undefined,
      );
    take();
    document.addEventListener('visibilitychange', take);
    return () => {
      document.removeEventListener('visibilitychange', take);
      lock?.release().catch(() => undefined);
    };
  }, []);
}

function Cautions({ service, open, close }: { service: Service; open: boolean; close: () => void }) {
  const all = [...new Set(service.steps.map((s) => s.caution).filter(Boolean))];
  return (
    <Panel label={t`Cautions`} open={open} close={close}>
      <Box sx={{ p: 3, display: 'grid', gap: 1.5, fontSize: '1.125rem' }}>
        <Typography variant="h2">{t`Cautions for this job`}</Typography>
        <Box component="ul" sx={{ m: 0, pl: 3, display: 'grid', gap: 1 }}>
          {all.map((c) => (
            <li key={c}>{c}</li>
          ))}
          <li>{t`Support on rated stands, never on a jack alone.`}</li>
          <li>{t`Used oil harms skin; hot oil and exhaust scald.`}</li>
        </Box>
        <span>{t`Barodex is an aid: the maker's current data, local rules and qualified practice come first.`}</span>
        <Button variant="outlined" onClick={close}>{t`Close`}</Button>
      </Box>
    </Panel>
  );
}

type AtHandProps = Omit<Parameters<typeof StepCard>[0], 'draft' | 'change' | 'forget' | 'trial'> & { left: boolean };

/** The step at hand and its picture; both read the same draft, and the same answer of the server to it. */
function AtHand({ step, ledger, left, ...rest }: AtHandProps) {
  const [draft, change, forget] = useDraft(rest.id, step);
  const trial = useTrial(rest.id, step, draft);
  const live = trial.data && !trial.isError ? trial.data : null;
  return (
    <>
      <Box sx={{ minHeight: 0, fontSize: '1.125rem', order: { md: left ? 2 : 0 } }}>
        <StepCard {...rest} step={step} ledger={ledger} draft={draft} change={change} forget={forget} trial={live} />
      </Box>
      <Box sx={{ bgcolor: (t) => t.tones.pan, p: 2.5, overflowY: 'auto', minHeight: 0, order: { md: left ? 1 : 0 } }}>
        {ledger && <Picture id={rest.id} step={step} ledger={live ?? ledger} many={rest.service.ledgers.length > 1} draft={draft} meter={rest.service.meter} />}
      </Box>
    </>
  );
}

type Sheet = '' | 'cautions' | 'note';
type OpenProps = { id: number; service: Service; bay: ReturnType<typeof useService>; sheet: Sheet; setSheet: (sheet: Sheet) => void };

function Open({ id, service, bay, sheet, setSheet }: OpenProps) {
  const mayWork = useMay('technician');
  const { left_hand: left = false, spoken = false, short_guide: short = false } = useSession().data ?? {};
  const [chosen, setChosen] = useState('');
  const [note, setNote] = useState('');
  const at = chosen || service.current;
  const step = service.steps.find((s) => s.id === at) ?? service.steps.find((s) => s.id === service.current);
  const { act, post } = bay;
  const choose = (next: string) => {
    post.reset();
    setChosen(next);
  };
  const undo = () => {
    if (service.last_act) act('undo', '', { act: service.last_act }, () => setChosen(''));
  };
  useKeys({
    u: { does: t`undo the last act`, act: undo },
    k: { does: t`cautions`, act: () => setSheet('cautions') },
    n: { does: t`add a note`, act: () => setSheet('note') },
  });
  useAwake();
  const words = step ? `${step.title}. ${step.caution}` : '';
  useEffect(() => {
    if (spoken && words) say(words);
  }, [spoken, words]);
  if (!step) return null;
  const ledger = service.ledgers.find((l) => l.compartment === step.compartment) ?? service.ledgers[0];
  // For a left hand the step at hand and its buttons stand at the left, the list at the right.
  const columns = left ? '320px minmax(0, 1fr) 252px' : '252px minmax(0, 1fr) 320px';
  return (
    <>
      <Box
        sx={{
          display: 'grid',
          minHeight: 0,
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: 'minmax(0, 1fr) 270px', md: columns },
          gridTemplateRows: { xs: 'auto', sm: 'minmax(0, 1fr) 300px', md: 'minmax(0, 1fr)' },
        }}>
        <Box
          sx={{
            display: 'grid',
            minHeight: 0,
            maxHeight: { xs: 220, sm: 300, md: 'none' },
            gridColumn: { sm: '1 / -1', md: 'auto' },
            order: { xs: 3, md: left ? 3 : 0 },
            borderTop: { xs: 1, md: 0 },
            borderColor: 'divider',
          }}>
          <StepList many={service.ledgers.length > 1} steps={service.steps} at={step.id} choose={choose} />
        </Box>
        {short && mayWork && !chosen && foldOf(service, step) ? (
          <Box sx={{ minHeight: 0, fontSize: '1.125rem', gridColumn: { md: left ? '1 / 3' : '2 / 4' } }}>
            <Folded
              key={foldOf(service, step)
                ?.map((s) => s.id)
                .join()}
              service={service}
              steps={foldOf(service, step) ?? []}
              bay={bay}
              choose={choose}
            />
          </Box>
        ) : (
          <AtHand
            key={`${step.id}.${step.act}`}
            id={id}
            step={step}
            service={service}
            ledger={ledger}
            mayWork={mayWork}
            bay={bay}
            next={() => setChosen('')}
            undo={undo}
            left={left}
          />
        )}
      </Box>
      <Cautions service={service} open={sheet === 'cautions'} close={() => setSheet('')} />
      <Panel label={t`Add a note`} open={sheet === 'note'} close={() => setSheet('')} wide>
        <Box
          component="form"
          sx={{ p: 3, display: 'grid', gap: 2 }}
          onSubmit={(e) => {
            e.preventDefault();
            act('note', step.id, { text: note.trim() }, () => {
              setNote('');
              setSheet('');
            });
          }}>
          <TextField
            autoFocus
            multiline
            minRows={2}
            label={t`Note`}
            value={note}
            onChange={(e) => setNote(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 500 } }}
          />
          {service.notes.map((n) => (
            <span key={n.at}>
              {clockTime(n.at)} {n.by}: {n.text}
            </span>
          ))}
          <Button type="submit" variant="contained" disabled={!note.trim()}>{t`Add it`}</Button>
        </Box>
      </Panel>
    </>
  );
}

export function ServicePage() {
  const id = Number(useParams().service);
  const bay = useService(id);
  const { show } = useShow();
  const { service, savedAt, waiting } = bay;
  const [sheet, setSheet] = useState<Sheet>('');
  const { left_hand = false } = useSession().data ?? {};
  if (service.isPending) return <Bones lines={7} />;
  if (!service.data) return <FailedPage error={service.error} again={() => service.refetch()} />;
  const s = service.data;
  return (
    <Box sx={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', height: { sm: '100%' }, position: 'relative' }}>
      <Box
        component="header"
        sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap', borderBottom: 1, borderColor: 'divider', px: 3, py: 1, minHeight: 60 }}>
        <Title variant="h2">
          <Box component={Link} to={`/due/vehicle/${s.vehicle_id}`} sx={{ color: 'inherit', textDecoration: 'none' }}>
            {s.vehicle}
          </Box>
        </Title>
        <span>
          {s.ledgers.map((l) => l.name.toLowerCase()).join(', ')} · {s.words}
        </span>
        <Box component="span" sx={{ color: 'text.secondary' }}>
          {s.meter_value === null ? '' : show(s.meter_value, s.meter === 'h' ? 'engine_hours' : 'distance')}
        </Box>
        <Box component="span" role="status" sx={{ ml: 'auto', color: waiting || service.isError ? 'error.main' : 'text.secondary', typography: 'body2' }}>
          {waiting
            ? `${bay.paused ? bay.paused.message : t`The server does not answer:`} ${bay.queued > 1 ? t`${bay.queued} acts wait and are sent again in order` : t`one act waits and is sent again`}`
            : service.isError
              ? t`The server does not answer`
              : savedAt
                ? t`saved ${savedAt.toLocaleTimeString('en-GB')}`
                : ''}
        </Box>
        {s.state === 'open' && (
          <>
            <Button variant="text" onClick={() => setSheet('note')}>{t`Note`}</Button>
            <Button variant="outlined" onClick={() => setSheet('cautions')}>{t`Cautions`}</Button>
          </>
        )}
      </Box>
      {bay.paused && bay.head && (
        <Box role="alert" sx={{ display: 'flex', gap: 2, alignItems: 'center', flexWrap: 'wrap', bgcolor: (t) => t.tones.amberWash, px: 3, py: 1 }}>
          <span>
            <Trans>
              {bay.paused.message} Kept on this device: {actInWords(bay.head, s.steps.find((x) => x.id === bay.head?.step)?.title ?? '')}.
            </Trans>
          </span>
          <Button variant="text" disabled={bay.post.isPending} onClick={bay.leaveOut}>{t`Leave it out`}</Button>
        </Box>
      )}
      {bay.misfit && (
        <Box
          role="alert"
          sx={{
            position: 'absolute',
            top: 64,
            right: 24,
            zIndex: 2,
            maxWidth: 460,
            bgcolor: (t) => t.tones.redWash,
            borderLeft: 6,
            borderColor: 'error.main',
            p: 1.5,
          }}>
          <Trans>An act that waited no longer fits: {bay.misfit} What it said is not in the record; do the step again if it is still right.</Trans>
        </Box>
      )}
      {s.state === 'open' ? <Open id={id} service={s} bay={bay} sheet={sheet} setSheet={setSheet} /> : <Signed service={s} />}
      {s.state === 'open' && <Drop service={s} left={left_hand} />}
    </Box>
  );
}
