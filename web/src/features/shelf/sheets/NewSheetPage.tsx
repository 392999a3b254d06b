import { t } from '@lingui/core/macro';
import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { Bones } from '../../../ui/Bones';
import { FailedPage } from '../../../ui/FailedPage';
import { Page } from '../../../ui/Page';
import { Form } from './SheetForm';
import { blankSheet, draftOfSheet } from './sheetDraft';
import { sheetQuery, useSheetWords } from './useSheetForm';

export function NewSheetPage() {
  const sheet = Number(useParams().sheet ?? 0);
  const view = useQuery({ ...sheetQuery(sheet), enabled: sheet > 0 });
  const { words, error } = useSheetWords();
  if (error || view.error) return <FailedPage error={error ?? view.error} />;
  if (!words || (sheet && !view.data)) return <Bones lines={7} />;
  return (
    <Page title={view.data ? t`Revise: ${view.data.name}` : t`Write a sheet`}>
      {view.data ? (
        <Form start={draftOfSheet(view.data, words)} sheet={sheet} from={view.data.revisions[0]?.number} words={words} />
      ) : (
        <Form start={blankSheet(words)} sheet={0} words={words} />
      )}
    </Page>
  );
}
