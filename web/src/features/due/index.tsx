/** The place Due: the board, a vehicle, a new vehicle, readings. */
import { Route, Routes } from 'react-router';
import { NotFound } from '../../ui/NotFound';
import { DuePage } from './board/DuePage';
import { MorningPage } from './board/MorningPage';
import { HorizonPage } from './plan/HorizonPage';
import { AddVehiclePage } from './vehicle/AddVehiclePage';
import { MergePage } from './vehicle/MergePage';
import { ReadingsPage } from './vehicle/ReadingsPage';
import { VehiclePage } from './vehicle/VehiclePage';

export default function Due() {
  return (
    <Routes>
      <Route index element={<DuePage />} />
      <Route path="vehicle/:vehicle" element={<VehiclePage />} />
      <Route path="vehicle/:vehicle/merge/:other" element={<MergePage />} />
      <Route path="add" element={<AddVehiclePage />} />
      <Route path="horizon" element={<HorizonPage />} />
      <Route path="morning" element={<MorningPage />} />
      <Route path="readings" element={<ReadingsPage />} />
      <Route path="*" element={<NotFound />} />
    </Routes>
  );
}
