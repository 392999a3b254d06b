/** A page whose content did not come: its title says so, as every page has one, and what went wrong stands below. */
import { t } from '@lingui/core/macro';
import { Refused } from '../app/api';
import { Page } from './Page';
import { Trouble } from './Trouble';

export function FailedPage({ error, again }: { error: unknown; again?: () => void }) {
  const missing = error instanceof Refused && error.problem.status === 404;
  return (
    <Page title={missing ? t`Not on record` : t`This page cannot be shown`}>
      <Trouble error={error} again={missing ? undefined : again} />
    </Page>
  );
}
