/** A service of this compartment alone: begun, or gone on with. */
import { t } from '@lingui/core/macro';
import Button from '@mui/material/Button';
import { Link } from 'react-router';

export function StartService({ vehicle, compartment, service }: { vehicle: number; compartment: number; service: number | null }) {
  return (
    <Button variant="contained" component={Link} to={service === null ? `/bay/start/${vehicle}?c=${compartment}` : `/bay/${service}`}>
      {service === null ? t`Start a service` : t`Go on in the Bay`}
    </Button>
  );
}
