/** The sums of oil itself: dips, tilt, exchange, viscosity. */
import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask, client } from '../../app/api';
import { useShow } from '../../app/session';
import { QuantityField, useRested } from '../../ui/QuantityField';
import { Words } from '../../ui/Words';
import { number, two } from './DipSum';
import { Sum } from './Sum';

/** What a lifted end does to a level at a plug. */
export function TiltSum() {
  const { show } = useShow();
  const [d, setD] = useState({ lift_mm: '100 mm', wheelbase_mm: '2700 mm', length_mm: '300 mm', width_mm: '200 mm', offset_mm: '120 mm' });
  const rested = useRested(d);
  const sum = useQuery({
    queryKey: ['bench-tilt', rested],
    queryFn: () => ask(client.POST('/api/bench/tilt', { body: rested })),
    enabled: Object.values(rested).every((v) => v.trim()),
    retry: false,
  });
  const field = (label: string, key: keyof typeof d) => <QuantityField label={label} kind="length" value={d[key]} onChange={(v) => setD({ ...d, [key]: v })} />;
  const tilt = sum.data;
  return (
    <Sum
      title={t`A lifted end and the plug`}
      error={sum.error}
      working={tilt?.working}
      answer={tilt && t`${tilt.tilt_deg.toFixed(1)}°: about ${show(Math.abs(tilt.error_ml), 'volume')} too ${tilt.error_ml >= 0 ? t`much` : t`little`} inside`}>
      <Box sx={two}>
        {field(t`Lifted by`, 'lift_mm')}
        {field('Wheelbase', 'wheelbase_mm')}
        {field(t`Oil inside, along`, 'length_mm')}
        {field(t`Oil inside, across`, 'width_mm')}
        {field(t`Plug from the middle`, 'offset_mm')}
      </Box>
    </Sum>
  );
}

/** Both schools of exchange for the same share of fresh oil. */
export function ExchangeSum() {
  const { show } = useShow();
  const [d, setD] = useState({ total_ml: '9.5 L', drained_ml: '4 L', target: '70', price: '' });
  const rested = useRested(d);
  const sum = useQuery({
    queryKey: ['bench-exchange', rested],
    queryFn: () =>
      ask(
        client.POST('/api/bench/exchange', {
          body: {
            total_ml: rested.total_ml,
            drained_ml: rested.drained_ml,
            target: number(rested.target) / 100,
            litre_price: rested.price.trim() ? number(rested.price) : null,
          },
        }),
      ),
    enabled: Boolean(rested.total_ml.trim() && rested.drained_ml.trim() && rested.target.trim()),
    retry: false,
  });
  const x = sum.data;
  const money = (cost: number | null | undefined) => (cost == null ? '' : `, ${cost.toFixed(2)}`);
  return (
    <Sum
      title={t`Exchange: cycles or flow-through`}
      error={sum.error}
      working={x?.working}
      answer={
        x && (
          <>
            <Trans>
              {x.cycles} drains and refills, {show(x.cycles_oil_ml, 'volume')}
              {money(x.cycles_cost)}: {Math.round(x.cycles_fresh * 100)} % fresh ({Math.round(x.fresh_one_less * 100)} % with one less)
            </Trans>
            <Box sx={{ typography: 'body1' }}>
              <Trans>
                or {show(x.flow_oil_ml, 'volume')} flowing through{money(x.flow_cost)}: {Math.round(x.flow_fresh * 100)} % fresh
              </Trans>
            </Box>
          </>
        )
      }>
      <Box sx={two}>
        <QuantityField label={t`All that is inside`} kind="volume" value={d.total_ml} onChange={(total_ml) => setD({ ...d, total_ml })} />
        <QuantityField label={t`Out in one drain`} kind="volume" value={d.drained_ml} onChange={(drained_ml) => setD({ ...d, drained_ml })} />
        <Words label={t`Fresh wanted, %`} value={d.target} onChange={(target) => setD({ ...d, target })} most={4} />
        <Words label={t`A litre costs`} value={d.price} onChange={(price) => setD({ ...d, price })} most={10} hint={t`empty: not asked`} />
      </Box>
    </Sum>
  );
}

/** How thick an oil is at a temperature. */
export function ViscositySum() {
  const { show } = useShow();
  const [d, setD] = useState({ kv40: '100', kv100: '14', temperature_c: '80 °C', wanted: '' });
  const rested = useRested(d);
  const sum = useQuery({
    queryKey: ['bench-viscosity', rested],
    queryFn: () =>
      ask(
        client.POST('/api/bench/viscosity', {
          body: {
            kv40: number(rested.kv40),
            kv100: number(rested.kv100),
            temperature_c: rested.temperature_c,
            wanted_kv: rested.wanted.trim() ? number(rested.wanted) : null,
          },
        }),
      ),
    enabled: Boolean(rested.kv40.trim() && rested.kv100.trim() && rested.temperature_c.trim()),
    retry: false,
  });
  const v = sum.data;
  return (
    <Sum
      title={t`Viscosity`}
      error={sum.error}
      working={v?.working}
      answer={
        v && (
          <>
            <Trans>
              {v.kv.toFixed(v.kv < 100 ? 1 : 0)} mm²/s{v.index === null ? '' : t`; index ${Math.round(v.index)}`}
            </Trans>
            {v.at_c !== null && (
              <Box sx={{ typography: 'body1' }}>
                <Trans>as thick as wanted at {show(v.at_c, 'temperature')}</Trans>
              </Box>
            )}
          </>
        )
      }>
      <Box sx={two}>
        <Words label={t`At 40 °C, mm²/s`} value={d.kv40} onChange={(kv40) => setD({ ...d, kv40 })} most={10} />
        <Words label={t`At 100 °C, mm²/s`} value={d.kv100} onChange={(kv100) => setD({ ...d, kv100 })} most={10} />
        <QuantityField label={t`Oil temperature`} kind="temperature" value={d.temperature_c} onChange={(temperature_c) => setD({ ...d, temperature_c })} />
        <Words label={t`As thick as, mm²/s`} value={d.wanted} onChange={(wanted) => setD({ ...d, wanted })} most={10} hint={t`empty: not asked`} />
      </Box>
    </Sum>
  );
}
