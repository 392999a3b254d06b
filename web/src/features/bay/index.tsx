/** The place Bay: what is open, the start of a service, the service itself. */
import { Route, Routes } from 'react-router';
import { BayHome } from './BayHome';
import { ServicePage } from './ServicePage';
import { StartPage } from './StartPage';

export default function Bay() {
  return (
    <Routes>
      <Route index element={<BayHome />} />
      <Route path="start/:vehicle" element={<StartPage />} />
      <Route path=":service" element={<ServicePage />} />
    </Routes>
  );
}
