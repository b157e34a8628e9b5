import path from 'node:path';
import { defineConfig } from 'vitest/config';

/** The core's own tests: what a mutant of the core is tried on. */
export default defineConfig({
  resolve: { alias: { '~': path.resolve(import.meta.dirname, '../..') } },
  test: {
    root: path.resolve(import.meta.dirname, '../..'),
    include: ['core/**/*.test.ts'],
    testTimeout: 60_000,
  },
});
