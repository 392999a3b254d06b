import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';
import { words } from './words.ts';

export default defineConfig({
  plugins: [words(), react()],
  build: { target: 'es2022', sourcemap: false, assetsInlineLimit: 0, manifest: true },
  test: { environment: 'jsdom', globals: true, testTimeout: 300_000, maxWorkers: 1, isolate: false, pool: 'threads', setupFiles: './src/testing.tsx', include: ['src/**/*.test.{ts,tsx}'] },
});
