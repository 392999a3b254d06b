/** The place Bay: what is open, the start of a service, the service itself. */
import { Route, Routes } from 'react-router';
import { NotFound } from '../../ui/NotFound';
import { BayHome } from './BayHome';
import { ServicePage } from './guide/ServicePage';
import { StartPage } from './start/StartPage';

export default function Bay() {
  return (
    <Routes>
      <Route index element={<BayHome />} />
      <Route path="start/:vehicle" element={<StartPage />} />
      <Route path=":service" element={<ServicePage />} />
      <Route path="*" element={<NotFound />} />
    </Routes>
  );
}
