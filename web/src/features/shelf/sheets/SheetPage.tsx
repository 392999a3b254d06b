/** A spec sheet: the figures in force, where each comes from, and the superseded ones. */

import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { ask, client } from '../../../app/api';
import { date, useMay } from '../../../app/session';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { Line } from '../../../ui/form/fields';
import { LittleForm } from '../../../ui/LittleForm';
import { Page, Section } from '../../../ui/Page';
import { Nav } from '../Nav';
import { Figures } from './Figures';
import { Revisions } from './Revisions';
import { SheetExtras } from './SheetExtras';
import { Sources } from './Sources';

function Copy({ sheet }: { sheet: number }) {
  const go = useNavigate();
  return (
    <LittleForm
      open={t`Copy it`}
      submit={t`Write the copy`}
      columns="1fr"
      start={{ name: '' }}
      send={(body) => ask(client.POST('/api/sheets/{sheet}/copy', { params: { path: { sheet } }, body }))}
      taken={(made) => go(`/shelf/sheets/${made.id}`)}>
      <Line name="name" autoFocus label={t`Name of the copy`} most={80} hint={t`its figures count as remembered until verified`} />
    </LittleForm>
  );
}

export function SheetPage() {
  const sheet = Number(useParams().sheet);
  const mayWrite = useMay('lead');
  const view = useQuery({ queryKey: ['sheet', sheet], queryFn: () => ask(client.GET('/api/sheets/{sheet}', { params: { path: { sheet } } })) });
  if (view.isPending) return <Bones lines={6} />;
  if (view.isError) return <FailedPage error={view.error} />;
  const s = view.data;
  const [now, ...older] = s.revisions;
  if (!now) return <FailedPage error={new Error(t`This sheet has no revision.`)} />;
  return (
    <Page
      title={s.name}
      note={t`${s.kind} · revision ${now.number}, in force from ${date(now.effective_on)}`}
      right={
        <>
          <Button variant="text" component={Link} to={`/shelf/sheets/${s.id}/guide`}>{t`Read the guide`}</Button>
          <Button variant="text" component="a" href={`/api/sheets/${s.id}/file`} download>{t`As JSON`}</Button>
          {mayWrite && <Button variant="outlined" component={Link} to={`/shelf/sheets/${s.id}/revise`}>{t`Revise it`}</Button>}
        </>
      }>
      <Nav />
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1.15fr) minmax(0, 1fr)' }, gap: 4, alignItems: 'start' }}>
        <Figures r={now} before={older[0]} />
        <Box sx={{ display: 'grid', gap: 2.5 }}>
          <SheetExtras r={now} />
          <Sources sheet={s.id} />
        </Box>
      </Box>
      <Section title={t`Stands on it`}>{s.compartments.length ? <span>{s.compartments.join(' · ')}</span> : <span>{t`No compartment yet.`}</span>}</Section>
      <Revisions s={s} />
      {mayWrite && <Copy sheet={s.id} />}
    </Page>
  );
}
