/** The place Book: the latest records, and a compartment's whole history. */
import { Route, Routes } from 'react-router';
import { NotFound } from '../../ui/NotFound';
import { AuditPage } from './AuditPage';
import { BookHome } from './BookHome';
import { CompartmentPage } from './compartment/CompartmentPage';
import { ForecastsPage } from './ForecastsPage';
import { FilesPage } from './files/FilesPage';
import { ImportPage } from './imports/ImportPage';
import { ImportsPage } from './imports/ImportsPage';
import { VerdictPage } from './VerdictPage';

export default function Book() {
  return (
    <Routes>
      <Route index element={<BookHome />} />
      <Route path="audit" element={<AuditPage />} />
      <Route path="forecasts" element={<ForecastsPage />} />
      <Route path="files" element={<FilesPage />} />
      <Route path="import" element={<ImportsPage />} />
      <Route path="import/:run" element={<ImportPage />} />
      <Route path="vehicle/:vehicle" element={<VerdictPage />} />
      <Route path=":compartment" element={<CompartmentPage />} />
      <Route path="*" element={<NotFound />} />
    </Routes>
  );
}
