/** The scan tool at a step: live values, the simulated vehicle's key, resets with what stands against them. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useShow } from '../../../app/session';
import { Trouble } from '../../../ui/Trouble';
import { type Scan, useScan } from './scan';

const MARKS: Record<string, string> = { live: '●', lost: '○', connecting: '◌', none: '○' };

function Key({ scan, turn, resets }: { scan: Scan; turn: ReturnType<typeof useScan>['turn']; resets: boolean }) {
  const r = scan.reading;
  const on = (v: boolean | null | undefined) => v === true;
  return (
    <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center', typography: 'body2' }}>
      <span>{t`Simulated vehicle:`}</span>
      <Button size="small" variant="outlined" disabled={turn.isPending || !r} onClick={() => turn.mutate({ engine_on: !on(r?.engine_on) })}>
        {on(r?.engine_on) ? t`Stop the engine` : t`Start the engine`}
      </Button>
      {resets && (
        <>
          <Button size="small" variant="outlined" disabled={turn.isPending || !r} onClick={() => turn.mutate({ ignition_on: !on(r?.ignition_on) })}>
            {on(r?.ignition_on) ? t`Ignition off` : t`Ignition on`}
          </Button>
          <Button size="small" variant="outlined" disabled={turn.isPending || !r} onClick={() => turn.mutate({ supply: !on(r?.supply) })}>
            {on(r?.supply) ? t`Supply off` : t`Connect a supply`}
          </Button>
        </>
      )}
    </Box>
  );
}

type Props = {
  service: number;
  compartment: string;
  mayWork: boolean;
  resets?: boolean;
  readOnly?: boolean;
  take?: (celsius: number) => void;
  takeValues?: (words: string) => void;
};

export function ScanPanel({ service, compartment, mayWork, resets = false, readOnly = false, take, takeValues }: Props) {
  const { show } = useShow();
  const { scan, connect, turn, reset } = useScan(service, compartment);
  const view = scan.data;
  if (!view) return null;
  if (!view.connected)
    return (
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
        {view.adaptor === 'none' ? (
          <Box sx={{ color: 'text.secondary', typography: 'body2' }}>{t`No scan tool is chosen in the settings: type what the thermometer shows.`}</Box>
        ) : (
          mayWork && (
            <Button variant="outlined" sx={{ minHeight: 56 }} disabled={connect.isPending} onClick={() => connect.mutate()}>
              <Trans>Connect the scan tool{view.simulated ? t` (simulated)` : ''}</Trans>
            </Button>
          )
        )}
        <Trouble error={connect.error} />
      </Box>
    );
  const r = view.reading;
  const celsius = view.status === 'live' && !view.doubt ? (r?.temperature_c ?? null) : null;
  const last = view.samples.at(-1)?.temperature_c ?? null;
  return (
    <Box
      role="group"
      aria-label={t`Scan tool`}
      sx={{ border: 2, borderColor: view.status === 'live' ? 'text.primary' : 'divider', borderRadius: 2, p: 1.5, display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Box component="span" sx={{ typography: 'h1', fontSize: '3rem', opacity: celsius === null ? 0.45 : 1 }}>
          {celsius !== null ? show(celsius, 'temperature') : last !== null ? show(last, 'temperature') : '–'}
        </Box>
        {resets && r?.battery_v !== null && r?.battery_v !== undefined && <b>{r.battery_v.toFixed(1)} V</b>}
        <Box component="span" role="status" sx={{ color: view.status === 'lost' ? 'error.main' : 'text.secondary', typography: 'body2' }}>
          <Trans>
            {MARKS[view.status]} scan tool{view.simulated ? t`, simulated` : ''}: {view.text}
          </Trans>
        </Box>
        {take && celsius !== null && (
          <Button variant="outlined" sx={{ ml: 'auto' }} onClick={() => take(celsius)}>
            <Trans>Take {show(celsius, 'temperature')}</Trans>
          </Button>
        )}
      </Box>
      {view.doubt && <Box sx={{ color: 'error.main' }}>{view.doubt}</Box>}
      {view.simulated && mayWork && <Key scan={view} turn={turn} resets={resets} />}
      {takeValues && view.resets.length > 0 && (
        <Button
          variant="outlined"
          sx={{ justifySelf: 'start' }}
          onClick={() => takeValues(view.resets.map((x) => `${x.name} ${x.state === 'done' ? 0 : x.value}`).join(', '))}>{t`Write these values down`}</Button>
      )}
      {resets &&
        view.resets.map((x) => (
          <Box key={x.name} sx={{ display: 'flex', gap: 1.5, alignItems: 'center', flexWrap: 'wrap' }}>
            <b>{x.name}</b>
            <span>{x.state === 'done' ? '' : t`stands at ${x.value}`}</span>
            {mayWork && !readOnly && x.state !== 'done' && (
              <Button variant="outlined" disabled={x.state === 'running' || reset.isPending} onClick={() => reset.mutate(x.name)}>
                {x.state === 'running' ? t`Resetting …` : x.state === 'failed' ? t`Try again` : t`Reset it`}
              </Button>
            )}
            <Box component="span" role="status" sx={{ color: x.state === 'failed' ? 'error.main' : 'text.primary' }}>
              {x.state === 'done' ? t`reset` : x.why}
            </Box>
          </Box>
        ))}
      <Trouble error={turn.error ?? reset.error} />
    </Box>
  );
}
