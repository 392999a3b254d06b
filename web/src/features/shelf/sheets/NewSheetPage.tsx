import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { Page } from '../../../ui/Page';
import { Form } from './SheetForm';
import { draftOf } from './sheetDraft';
import { kept, sheetQuery } from './useSheetForm';

export function NewSheetPage() {
  const sheet = Number(useParams().sheet ?? 0);
  const view = useQuery({ ...sheetQuery(sheet), enabled: sheet > 0 });
  if (sheet && view.isPending) return <Bones lines={7} />;
  if (sheet && !view.data) return <FailedPage error={view.error} />;
  return (
    <Page title={view.data ? `Revise: ${view.data.name}` : 'Write a sheet'}>
      {view.data ? <Form start={draftOf(view.data)} sheet={sheet} from={view.data.revisions[0]?.number} /> : <Form start={kept()} sheet={0} />}
    </Page>
  );
}
