/** A whole book put back into an empty one, and the links by which its leads come in. */
import { plural, t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import LinearProgress from '@mui/material/LinearProgress';
import { useMutation } from '@tanstack/react-query';
import { type Schemas, upload } from '../../app/api';
import { date } from '../../app/session';
import { FileButton } from '../../ui/FileButton';
import { Trouble } from '../../ui/Trouble';

function Back({ made }: { made: Schemas['BookBack'] }) {
  return (
    <Box role="status" sx={{ bgcolor: (t) => t.tones.amberWash, border: 2, borderColor: 'primary.main', borderRadius: 2, p: 2, display: 'grid', gap: 1 }}>
      <Box sx={{ typography: 'h3' }}>
        <Trans>The book of {date(made.made)} is back</Trans>
      </Box>
      <span>
        <Trans>
          {made.rows} rows and {plural(made.photos, { one: 'a photo', other: `${made.photos} photos` })}. No password is in the file: whoever leads opens the
          own link here, chooses one, and makes links for the others.
        </Trans>
      </span>
      {made.leads.map((l) => (
        <Box key={l.path}>
          <Trans>
            <a href={l.path}>{l.name}</a>, until {date(l.until)}
          </Trans>
        </Box>
      ))}
      {!made.leads.length && <span>{t`Nobody in it leads: somebody with the machine at hand adds a lead, as the README says.`}</span>}
    </Box>
  );
}

export function BookBack() {
  const back = useMutation({ mutationFn: (file: File) => upload<Schemas['BookBack']>('/api/setup/restore', file) });
  if (back.data) return <Back made={back.data} />;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <FileButton label={t`Whole book`} accept=".zip" plain busy={back.isPending} take={(file) => back.mutate(file)}>
        {back.isPending ? t`Reading and proving it …` : t`Put a whole book back`}
      </FileButton>
      <Box
        sx={{
          color: 'text.secondary',
        }}>{t`the ZIP that “Take the whole book out” made here or on another machine; until all of it is proved nothing is in`}</Box>
      {back.isPending && <LinearProgress aria-label={t`The book is being read`} />}
      <Trouble error={back.error} />
    </Box>
  );
}
