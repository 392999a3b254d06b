/** The place Shelf: oils and stock, spec sheets, which oil, shopping, seals and tools, grades, policy. */
import { Route, Routes } from 'react-router';
import { NotFound } from '../../ui/NotFound';
import { ChoosePage } from './oils/ChoosePage';
import { OilPage } from './oils/OilPage';
import { PolicyPage } from './oils/PolicyPage';
import { ScalesPage } from './oils/ScalesPage';
import { ShelfPage } from './ShelfPage';
import { FilePage } from './sheets/FilePage';
import { GuidePage } from './sheets/GuidePage';
import { NewSheetPage } from './sheets/NewSheetPage';
import { SheetPage } from './sheets/SheetPage';
import { ShoppingPage } from './store/ShoppingPage';
import { StorePage } from './store/StorePage';

export default function Shelf() {
  return (
    <Routes>
      <Route index element={<ShelfPage />} />
      <Route path="choose" element={<ChoosePage />} />
      <Route path="shopping" element={<ShoppingPage />} />
      <Route path="store" element={<StorePage />} />
      <Route path="scales" element={<ScalesPage />} />
      <Route path="policy" element={<PolicyPage />} />
      <Route path="file" element={<FilePage />} />
      <Route path="new" element={<NewSheetPage />} />
      <Route path="oils/:oil" element={<OilPage />} />
      <Route path="sheets/:sheet" element={<SheetPage />} />
      <Route path="sheets/:sheet/guide" element={<GuidePage />} />
      <Route path="sheets/:sheet/revise" element={<NewSheetPage />} />
      <Route path="*" element={<NotFound />} />
    </Routes>
  );
}
