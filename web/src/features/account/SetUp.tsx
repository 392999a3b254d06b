/** An empty book begins: who its lead is, and the workshop that stands at the head of its papers. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { FormProvider, useController } from 'react-hook-form';
import { ask, client, type Schemas } from '../../app/api';
import { DATE_WAYS, useKeepSession } from '../../app/session';
import { Line, OneOfFew } from '../../ui/form/fields';
import { useTyped } from '../../ui/form/useTyped';
import { Trouble } from '../../ui/Trouble';
import { BookBack } from './BookBack';
import { Front } from './Front';
import { Password } from './Password';

type Request = Required<Schemas['SetUpRequestRequest']>;
export const SYSTEMS = [
  { value: 'metric', label: t`Metric` },
  { value: 'imperial', label: t`Imperial (UK)` },
  { value: 'us', label: t`US` },
] as const;
const BLANK: Request = {
  first: '',
  last: '',
  username: '',
  password: '',
  name: '',
  address: '',
  reached: '',
  web: '',
  unit_system: 'metric',
  dates: 'day first',
};
const TWO = { display: 'grid', gap: 1.5, gridTemplateColumns: { xs: '1fr', sm: '1fr 1fr' } };

/** A password is never kept over a reload: of all that is typed here it alone is typed again. */
function Chosen() {
  const { field, fieldState } = useController<Request, 'password'>({ name: 'password' });
  return <Password label={t`Password`} value={field.value} change={field.onChange} problem={fieldState.error?.message} />;
}

export function SetUp() {
  const keep = useKeepSession();
  const typed = useTyped<Request, Schemas['Session']>({
    start: BLANK,
    keep: 'barodex.setup',
    secret: ['password'],
    send: (body) => ask(client.POST('/api/setup', { body })),
    taken: keep,
  });
  return (
    <FormProvider {...typed.form}>
      <Front wide submit={typed.submit}>
        <Typography variant="h2">{t`An empty book. Who are you?`}</Typography>
        <Box sx={TWO}>
          <Line<Request> name="first" label={t`First name`} most={60} />
          <Line<Request> name="last" label={t`Last name`} most={60} />
          <Line<Request> name="username" label={t`Name to sign in by`} most={60} hint={t`such as isla; you are the lead`} />
          <Chosen />
        </Box>
        <Typography variant="h3">{t`The workshop, as it stands on its papers`}</Typography>
        <Box sx={TWO}>
          <Line<Request> name="name" label={t`What it is called`} most={80} />
          <Line<Request> name="reached" label={t`Telephone or mail`} most={120} hint={t`if it is to stand there`} />
          <Box sx={{ gridColumn: '1 / -1', display: 'grid' }}>
            <Line<Request> name="address" label={t`Address`} most={300} lines={2} />
          </Box>
          <OneOfFew<Request> name="unit_system" label={t`Units`} options={SYSTEMS} />
          <OneOfFew<Request> name="dates" label={t`A day is written`} options={DATE_WAYS} />
        </Box>
        <Trouble error={typed.act.error} />
        <Button type="submit" variant="contained" disabled={typed.act.isPending} sx={{ justifySelf: 'start' }}>{t`Begin the book`}</Button>
        <Typography variant="h3">{t`Or there is a book already`}</Typography>
        <BookBack />
      </Front>
    </FormProvider>
  );
}
