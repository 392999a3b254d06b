/** A compartment's history: ledger, debris, oils, every record, and the papers. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { ask, client } from '../../../app/api';
import { useMay, useSession, useShow } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { Empty } from '../../../ui/Empty';
import { FailedPage } from '../../../ui/FailedPage';
import { Page, Section } from '../../../ui/Page';
import { NamedGlass } from '../../../ui/SightGlass';
import { Trouble } from '../../../ui/Trouble';
import { dueSentence } from '../../due/words';
import { EnterRecord } from './EnterRecord';
import { Learnt } from './Learnt';
import { askTrend, Outlook, trendKey } from './Outlook';
import { RecordCard } from './RecordCard';
import { RunPicture } from './RunPicture';
import { StandsOut } from './StandsOut';
import { StartService } from './StartService';
import { Tried } from './Tried';
import { Voided } from './Voided';
import { VolumeLedger } from './VolumeLedger';

export function CompartmentPage() {
  const compartment = Number(useParams().compartment);
  const { show } = useShow();
  const { data: session } = useSession();
  const [search] = useSearchParams();
  const [entering, setEntering] = useState(search.get('enter') === 'record');
  const mayWork = useMay('technician');
  const history = useQuery({
    queryKey: ['history', compartment],
    queryFn: () => ask(client.GET('/api/book/{compartment}', { params: { path: { compartment } } })),
  });
  const trend = useQuery({ queryKey: trendKey(compartment), queryFn: () => askTrend(compartment) });
  const vehicle = history.data?.vehicle_id ?? 0;
  const board = useQuery({
    queryKey: ['due', vehicle],
    queryFn: () => ask(client.GET('/api/due/{vehicle}', { params: { path: { vehicle } } })),
    enabled: vehicle > 0,
  });
  if (history.isPending) return <Bones lines={6} />;
  if (history.isError) return <FailedPage error={history.error} again={() => history.refetch()} />;
  const h = history.data;
  const due = board.data?.vehicles[0]?.compartments.find((c) => c.id === compartment);
  const oils = [...new Set(h.records.map((r) => r.oil).filter(Boolean))];
  return (
    <Page
      title={
        <>
          <Box component={Link} to={`/due/vehicle/${h.vehicle_id}`} sx={{ textDecoration: 'none' }}>
            {h.vehicle}
          </Box>
          , {h.compartment.toLowerCase()}
        </>
      }
      note={t`${h.kind} · takes ${h.capacity_ml === null ? t`an unknown amount` : show(h.capacity_ml, 'volume')}`}
      right={
        <>
          {mayWork && due && <StartService vehicle={h.vehicle_id} compartment={compartment} service={due.in_service} />}
          {mayWork && !entering && <Button variant="outlined" onClick={() => setEntering(true)}>{t`Write in an earlier change`}</Button>}
          <Button variant="text" component={Link} to={`/book/vehicle/${h.vehicle_id}`}>{t`For its owner`}</Button>
          {h.records.length > 0 && <Button variant="text" href={`/api/book/${compartment}/file`} download>{t`As CSV`}</Button>}
        </>
      }>
      {search.get('store') && (
        <Box
          role="status"
          sx={{
            borderLeft: 6,
            borderColor: (t) => t.tones.amberText,
            pl: 1.5,
          }}>{t`The box of that label is fitted nowhere now: it lies in the store. Here it was last.`}</Box>
      )}
      {due && board.data && (
        <Box sx={{ display: 'flex', gap: 3, alignItems: 'center', flexWrap: 'wrap' }}>
          <NamedGlass state={due.state} used={due.used} family={due.family} colour={due.colour} level={due.level} title={h.compartment} />
          <Box sx={{ flex: 1, minWidth: 280 }}>
            {dueSentence(due, h.meter, board.data.today, show)}
            <Box sx={{ color: 'text.secondary' }}>
              <Trans>
                Sheet: <Link to={`/shelf/sheets/${h.sheet_id}`}>{h.sheet}</Link>
                {oils.length > 0 && t` · oils used: ${oils.join(', ')}`}
              </Trans>
            </Box>
          </Box>
        </Box>
      )}
      {entering && (
        <EnterRecord compartment={compartment} meter={h.meter} family={due?.family ?? 'gear'} today={session?.today ?? ''} close={() => setEntering(false)} />
      )}
      {!h.records.length && !entering && (
        <Empty title={t`No trace of an oil change`}>
          <span>{t`Unknown counts as due. If a date is painted on the case or stands in a receipt, write it in; otherwise do a service now and the book begins with it.`}</span>
        </Empty>
      )}
      {h.records.length > 0 && (
        <Section title={t`In against out`}>
          <VolumeLedger records={h.records} family={due?.family ?? 'gear'} meter={h.meter} trend={trend.data?.points ?? []} />
        </Section>
      )}
      {h.records.length > 0 && trend.data && (
        <Box sx={{ display: 'grid', gap: 3, gridTemplateColumns: { xs: '1fr', md: 'minmax(0, 1fr) minmax(0, 1fr)' }, alignItems: 'start' }}>
          <Box sx={{ display: 'grid', gap: 3 }}>
            <Section title={t`What stands out`}>
              <StandsOut trend={trend.data} />
            </Section>
            <Section title={t`Will the level hold?`}>
              <Outlook trend={trend.data} today={session?.today ?? ''} />
            </Section>
          </Box>
          <Box sx={{ display: 'grid', gap: 3 }}>
            <Section title={t`Debris over the run of the oil`}>
              <RunPicture trend={trend.data} />
            </Section>
            <Section title={t`What it really takes`}>
              <Learnt compartment={compartment} learnt={trend.data.learnt} sheet={h.capacity_ml} sheetId={h.sheet_id} />
            </Section>
          </Box>
        </Box>
      )}
      <Trouble error={trend.error} again={() => trend.refetch()} />
      {h.records.length > 1 && <Tried compartment={compartment} meter={h.meter} family={due?.family ?? 'gear'} />}
      {h.records.length > 0 && (
        <Section title={t`Every record`}>
          {[...h.records].reverse().map((r) => (
            <RecordCard key={r.id} r={r} here={h.compartment_id} kind={h.kind} meter={h.meter} family={due?.family ?? 'gear'} mayWork={mayWork} />
          ))}
        </Section>
      )}
      <Voided records={h.voided} />
    </Page>
  );
}
