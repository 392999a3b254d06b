/** The place Shelf: oils and stock, spec sheets, which oil, shopping, seals and tools, grades, policy. */
import { Route, Routes } from 'react-router';
import { ChoosePage } from './ChoosePage';
import { FilePage } from './FilePage';
import { GuidePage } from './GuidePage';
import { NewSheetPage } from './NewSheetPage';
import { OilPage } from './OilPage';
import { PolicyPage } from './PolicyPage';
import { ScalesPage } from './ScalesPage';
import { SheetPage } from './SheetPage';
import { ShelfPage } from './ShelfPage';
import { ShoppingPage } from './ShoppingPage';
import { StorePage } from './StorePage';

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
    </Routes>
  );
}
