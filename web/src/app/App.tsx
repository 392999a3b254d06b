/** The page: theme by the person's choice, the sign-in when nobody is signed in, else the five places. */
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import { flushSync } from 'react-dom';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { SignIn } from '../features/account';
import { Join } from '../features/account/Join';
import { SetUp } from '../features/account/SetUp';
import { Bones } from '../ui/Bones';
import { NotFound } from '../ui/NotFound';
import { Trouble } from '../ui/Trouble';
import { ByCode } from './ByCode';
import { PAGES } from './pages';
import { Shell } from './Shell';
import { useSession } from './session';
import { makeTheme } from './theme';

const Due = lazy(PAGES.due);
const Bay = lazy(PAGES.bay);
const Book = lazy(PAGES.book);
const Shelf = lazy(PAGES.shelf);
const Bench = lazy(PAGES.bench);
const People = lazy(() => import('../features/account/People').then((m) => ({ default: m.People })));
const Settings = lazy(() => import('../features/account/Settings'));

function Places() {
  const session = useSession();
  if (session.isPending) return <Bones lines={6} />;
  if (session.isError) return <Trouble error={session.error} again={() => session.refetch()} />;
  const link = /^\/join\/(.+)$/.exec(window.location.pathname)?.[1];
  if (link) return <Join link={link} />;
  if (session.data.empty && !session.data.demo) return <SetUp />;
  if (!session.data.name) return <SignIn demo={session.data.demo} />;
  return (
    <BrowserRouter>
      <Shell>
        <Suspense fallback={<Bones lines={6} />}>
          <Routes>
            <Route path="/due/*" element={<Due />} />
            <Route path="/bay/*" element={<Bay />} />
            <Route path="/book/*" element={<Book />} />
            <Route path="/shelf/*" element={<Shelf />} />
            <Route path="/bench" element={<Bench />} />
            <Route path="/settings" element={<Settings />} />
            <Route path="/settings/people" element={<People />} />
            <Route path="/b/:code" element={<ByCode />} />
            <Route path="/" element={<Navigate to="/due" replace />} />
            <Route path="*" element={<NotFound />} />
          </Routes>
        </Suspense>
      </Shell>
    </BrowserRouter>
  );
}

/** Whether a page is being printed: on paper it is always day. */
function usePrinting(): boolean {
  const [printing, setPrinting] = useState(false);
  useEffect(() => {
    const begin = () => flushSync(() => setPrinting(true)); // the browser takes its picture right after this
    const end = () => setPrinting(false);
    window.addEventListener('beforeprint', begin);
    window.addEventListener('afterprint', end);
    return () => {
      window.removeEventListener('beforeprint', begin);
      window.removeEventListener('afterprint', end);
    };
  }, []);
  return printing;
}

export function App() {
  const { data } = useSession();
  const printing = usePrinting();
  const mode = data?.theme === 'night' && !printing ? 'night' : 'day';
  const large = data?.large_type ?? false;
  const theme = useMemo(() => makeTheme(mode, large), [mode, large]);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <Places />
    </ThemeProvider>
  );
}
