import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './app/App';
import { Refused } from './app/api';
import { warm } from './app/pages';
import '@fontsource/atkinson-hyperlegible-next/latin-400.css';
import '@fontsource/atkinson-hyperlegible-next/latin-700.css';
import '@fontsource/barlow-condensed/latin-500.css';
import '@fontsource/barlow-condensed/latin-600.css';

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
const styles = createCache({ key: 'bx', nonce, prepend: true });
// A session that has ended shows the sign-in, wherever it is noticed.
const noticeEnd = (error: Error) => {
  if (error instanceof Refused && error.problem.status === 401) queries.invalidateQueries({ queryKey: ['session'] });
};
const queries = new QueryClient({
  queryCache: new QueryCache({ onError: (error, query) => query.queryKey[0] !== 'session' && noticeEnd(error) }),
  mutationCache: new MutationCache({ onError: noticeEnd }),
  defaultOptions: {
    queries: { retry: (count, error) => !(error instanceof Refused) && count < 3, retryDelay: 1500, refetchOnWindowFocus: true, staleTime: 2000 },
    mutations: { retry: false },
  },
});

warm(window.location.pathname, queries);
const root = document.getElementById('root');
if (root)
  createRoot(root).render(
    <StrictMode>
      <CacheProvider value={styles}>
        <QueryClientProvider client={queries}>
          <App />
        </QueryClientProvider>
      </CacheProvider>
    </StrictMode>,
  );
