/** The place Due: the board, a vehicle, a new vehicle, readings. */
import { Route, Routes } from 'react-router';
import { AddVehiclePage } from './AddVehiclePage';
import { DuePage } from './DuePage';
import { HorizonPage } from './HorizonPage';
import { MorningPage } from './MorningPage';
import { ReadingsPage } from './ReadingsPage';
import { VehiclePage } from './VehiclePage';

export default function Due() {
  return (
    <Routes>
      <Route index element={<DuePage />} />
      <Route path="vehicle/:vehicle" element={<VehiclePage />} />
      <Route path="add" element={<AddVehiclePage />} />
      <Route path="horizon" element={<HorizonPage />} />
      <Route path="morning" element={<MorningPage />} />
      <Route path="readings" element={<ReadingsPage />} />
    </Routes>
  );
}
