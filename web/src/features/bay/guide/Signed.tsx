/** After the signature: what was written, what comes next, the paper to print. */
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask, client } from '../../../app/api';
import { useMay, useShow } from '../../../app/session';
import { PhotoRow } from '../../../ui/PhotoRow';
import { NamedGlass } from '../../../ui/SightGlass';
import { Trouble } from '../../../ui/Trouble';
import { dueSentence } from '../../due/words';
import { GapReport } from './GapReport';
import type { Service } from './service';
import { Times } from './Times';

/** A capacity that nobody knew is known now: one press makes it the sheet's figure. */
function AdoptCapacity({ record, took }: { record: number; took: number }) {
  const { show } = useShow();
  const cache = useQueryClient();
  const adopt = useMutation({
    mutationFn: () => ask(client.POST('/api/records/{record}/adopt', { params: { path: { record } } })),
    onSuccess: () => cache.invalidateQueries(),
  });
  if (adopt.isSuccess) return <Box role="status">The sheet says {show(took, 'volume')} from now on.</Box>;
  return (
    <Box>
      <Button variant="outlined" disabled={adopt.isPending} onClick={() => adopt.mutate()}>
        Make {show(took, 'volume')} the sheet's figure
      </Button>
      <Trouble error={adopt.error} />
    </Box>
  );
}

export function Signed({ service }: { service: Service }) {
  const { show } = useShow();
  const path = { params: { path: { vehicle: service.vehicle_id } } };
  const board = useQuery({ queryKey: ['due', service.vehicle_id], queryFn: () => ask(client.GET('/api/due/{vehicle}', path)) });
  const vehicle = board.data?.vehicles[0];
  const lead = useMay('lead');
  const elsewhere = service.ledgers.reduce((sum, l) => sum + l.elsewhere_ml, 0);
  const recordOf = (compartment: string) => service.records.find((r) => r.compartment === compartment)?.record;
  if (service.state === 'dropped')
    return (
      <Box sx={{ p: 3 }}>
        <Typography variant="h1" component="h2">
          This service was given up.
        </Typography>
      </Box>
    );
  return (
    <Box sx={{ p: 3, display: 'grid', gap: 2, alignContent: 'start', overflowY: 'auto' }}>
      <Typography variant="h1" component="h2">
        Signed. The book, the stock and the next due are right.
      </Typography>
      {elsewhere > 0.5 && <Box>{show(elsewhere, 'volume')} came from elsewhere, not off the shelf: the stock was not drawn for it.</Box>}
      {service.ledgers.map((l) => {
        const due = vehicle?.compartments.find((c) => String(c.id) === l.compartment);
        return (
          <Box
            key={l.compartment}
            sx={{
              display: 'grid',
              gridTemplateColumns: { xs: '1fr', md: '272px minmax(0, 1fr) auto' },
              gap: 2,
              alignItems: 'center',
              borderTop: 1,
              borderColor: 'divider',
              pt: 2,
            }}>
            {due && <NamedGlass state={due.state} used={due.used} family={due.family} colour={due.colour} level={due.level} title={l.name} />}
            <Box>
              <Typography variant="h2">{l.name}</Typography>
              <Box>
                {l.drained_ml === null ? 'Nothing measured' : `${show(l.drained_ml, 'volume')} came out`}, {show(l.poured_ml - l.run_out_ml, 'volume')} of{' '}
                {l.oil} inside now.
              </Box>
              {lead && l.capacity_ml === null && l.work !== 'top-up' && recordOf(l.compartment) !== undefined && (
                <AdoptCapacity record={recordOf(l.compartment) ?? 0} took={l.poured_ml - l.run_out_ml} />
              )}
              {due && board.data && <Box>{dueSentence(due, vehicle?.meter ?? 'km', board.data.today, show)}</Box>}
            </Box>
            <Box sx={{ display: 'grid', gap: 1 }}>
              <Button variant="contained" href={`/api/records/${recordOf(l.compartment)}/paper`} target="_blank">
                Job paper
              </Button>
              <Button variant="outlined" component={Link} to={`/book/${l.compartment}`}>
                History
              </Button>
            </Box>
          </Box>
        );
      })}
      <PhotoRow photos={service.photos} />
      <GapReport service={service.id} />
      <Times times={service.times} />
    </Box>
  );
}
