import path from 'node:path';
import { defineConfig } from 'vitest/config';

/** The core's own tests: what a mutant of the core is tried on. */
export default defineConfig({
  resolve: { alias: { '~': path.resolve(import.meta.dirname, '../..') } },
  test: {
    root: path.resolve(import.meta.dirname, '../..'),
    include: ['core/**/*.test.ts'],
    // It sets the time zone of its process, which threads, in which mutants run, do not take over.
    exclude: ['core/rundown/rundown.test.ts'],
    testTimeout: 300_000,
  },
});
