/** The place Shelf: oils and stock, spec sheets. */
import { Route, Routes } from 'react-router';
import { NewSheetPage } from './NewSheetPage';
import { SheetPage } from './SheetPage';
import { ShelfPage } from './ShelfPage';

export default function Shelf() {
  return (
    <Routes>
      <Route index element={<ShelfPage />} />
      <Route path="new" element={<NewSheetPage />} />
      <Route path="sheets/:sheet" element={<SheetPage />} />
      <Route path="sheets/:sheet/revise" element={<NewSheetPage />} />
    </Routes>
  );
}
