/** What went wrong, in one sentence, where it went wrong. */
import { t } from '@lingui/core/macro';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Refused, sentence, standing } from '../app/api';

/** ``names``: what the fields are called, where that is not what the server calls them. */
export function Trouble({ error, again, names = {} }: { error: unknown; again?: () => void; names?: Record<string, string> }) {
  if (!error) return null;
  const overtaken = standing(error) > 0;
  const allowed = error instanceof Refused && !overtaken ? error.problem.errors[0]?.allowed : undefined;
  return (
    <Alert
      severity="error"
      icon={false}
      action={again && <Button variant="outlined" size="small" onClick={again}>{t`Try again`}</Button>}
      sx={{ bgcolor: (t) => t.tones.redWash, color: 'text.primary', borderLeft: 6, borderColor: 'error.main', borderRadius: 1, font: 'inherit', py: 0.5 }}>
      {sentence(error)}
      {allowed && !sentence(error).includes(allowed) ? t` Allowed: ${allowed}.` : ''}
      {overtaken && error instanceof Refused && (
        <Box component="ul" aria-label={t`Changed meanwhile`} sx={{ m: 0, mt: 0.5, pl: 2.5 }}>
          {error.problem.errors.slice(1).map((e) => (
            <li key={e.field}>
              <b>{names[e.field] ?? e.field.replaceAll('_', ' ')}</b>: {e.message}
            </li>
          ))}
        </Box>
      )}
    </Alert>
  );
}
