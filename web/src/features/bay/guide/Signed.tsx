/** After the signature: what was written, what comes next, the paper to print. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask, client } from '../../../app/api';
import { useShow } from '../../../app/session';
import { TakeOver } from '../../../ui/Closing';
import { Follows } from '../../../ui/Follows';
import { Labels } from '../../../ui/Labels';
import { PhotoRow } from '../../../ui/PhotoRow';
import { NamedGlass } from '../../../ui/SightGlass';
import { dueSentence } from '../../due/words';
import { GapReport } from './GapReport';
import type { Service } from './service';
import { Times } from './Times';

/** What came out, what went in, and what is inside now, as the book has it. */
function Amounts({ record, oil, work }: { record: Service['records'][number] | undefined; oil: string; work: string }) {
  const { show } = useShow();
  if (!record) return null;
  const { drained_ml, poured_ml, inside_15_ml } = record;
  return (
    <>
      {drained_ml === null ? (work === 'top-up' ? t`Nothing drained` : t`Nothing measured of what came out`) : t`${show(drained_ml, 'volume')} came out`},{' '}
      {poured_ml === null ? t`nothing went in` : t`${show(poured_ml, 'volume')} of ${oil} went in`}.
      {inside_15_ml !== null && t` Inside now: ${show(inside_15_ml, 'volume')} at 15 °C.`}
    </>
  );
}

export function Signed({ service }: { service: Service }) {
  const { show } = useShow();
  const path = { params: { path: { vehicle: service.vehicle_id } } };
  const board = useQuery({ queryKey: ['due', service.vehicle_id], queryFn: () => ask(client.GET('/api/due/{vehicle}', path)) });
  const vehicle = board.data?.vehicles[0];
  const elsewhere = service.ledgers.reduce((sum, l) => sum + l.elsewhere_ml, 0);
  const refOf = (compartment: string) => service.records.find((r) => r.compartment === compartment);
  if (service.state === 'dropped')
    return (
      <Box sx={{ p: 3 }}>
        <Typography variant="h1" component="h2">{t`This service was given up.`}</Typography>
      </Box>
    );
  return (
    <Box sx={{ p: 3, display: 'grid', gap: 2, alignContent: 'start', overflowY: 'auto' }}>
      <Typography variant="h1" component="h2">{t`Signed. The book, the stock and the next due are right.`}</Typography>
      {elsewhere > 0.5 && (
        <Box>
          <Trans>{show(elsewhere, 'volume')} came from elsewhere, not off the shelf: the stock was not drawn for it.</Trans>
        </Box>
      )}
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
                <Amounts record={refOf(l.compartment)} oil={l.oil} work={l.work} />
              </Box>
              <Follows list={refOf(l.compartment)?.follows ?? []} meter={service.meter} act={(f) => <TakeOver c={f} of={l.name} />} />
              {due && board.data && <Box>{dueSentence(due, vehicle?.meter ?? 'km', board.data.today, show)}</Box>}
            </Box>
            <Box sx={{ display: 'grid', gap: 1 }}>
              <Button variant="contained" href={`/api/records/${refOf(l.compartment)?.record}/paper`} target="_blank">{t`Job paper`}</Button>
              <Button variant="outlined" component={Link} to={`/book/${l.compartment}`}>{t`History`}</Button>
            </Box>
          </Box>
        );
      })}
      <Box>
        <Labels records={service.records.flatMap((r) => (r.record === null ? [] : [r.record]))} />
      </Box>
      <PhotoRow photos={service.photos} />
      <GapReport service={service.id} />
      <Times times={service.times} />
    </Box>
  );
}
