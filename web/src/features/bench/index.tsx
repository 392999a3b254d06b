/** The place Bench: the sums on their own, each with its working and source. */
import { t } from '@lingui/core/macro';
import Box from '@mui/material/Box';
import { Page } from '../../ui/Page';
import { BoltSum } from './BoltSum';
import { DipSum } from './DipSum';
import { NextDue } from './NextDue';
import { ExchangeSum, TiltSum, ViscositySum } from './OilSums';
import { PourSum } from './PourSum';
import { TorqueSum } from './TorqueSum';
import { UnitSum } from './UnitSum';

export default function Bench() {
  return (
    <Page title={t`Bench`} note={t`the sums on their own; nothing here is written anywhere`}>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '1fr 1fr' }, gap: 3, rowGap: 4 }}>
        <UnitSum />
        <TorqueSum />
        <BoltSum />
        <PourSum />
        <NextDue />
        <DipSum />
        <TiltSum />
        <ExchangeSum />
        <ViscositySum />
      </Box>
    </Page>
  );
}
