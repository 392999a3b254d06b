import { defineConfig } from '@lingui/cli';
import { formatter } from '@lingui/format-po';

/** The page's words: one catalogue, in English for now; `make api` writes it from the sources, `make check` holds it. */
export default defineConfig({
  sourceLocale: 'en',
  locales: ['en'],
  catalogs: [{ path: process.env.WORDS ?? '<rootDir>/src/app/words/{locale}', include: ['<rootDir>/src'], exclude: ['**/*.test.*', '**/testing.tsx'] }],
  format: formatter({ lineNumbers: false, printPlaceholdersInComments: { limit: 6 } }),
  orderBy: 'message',
  runtimeConfigModule: { i18n: ['#words', 'i18n'], Trans: ['#words', 'Trans'] },
});
