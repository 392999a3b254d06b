/** The place Book: the latest records, and a compartment's whole history. */
import { Route, Routes } from 'react-router';
import { AuditPage } from './AuditPage';
import { BookHome } from './BookHome';
import { CompartmentPage } from './CompartmentPage';
import { VerdictPage } from './VerdictPage';

export default function Book() {
  return (
    <Routes>
      <Route index element={<BookHome />} />
      <Route path="audit" element={<AuditPage />} />
      <Route path="vehicle/:vehicle" element={<VerdictPage />} />
      <Route path=":compartment" element={<CompartmentPage />} />
    </Routes>
  );
}
