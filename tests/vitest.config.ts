import path from 'node:path';
import { defineConfig } from 'vitest/config';

/** Tests that start processes, servers and browsers: one at a time, with time to do it. */
export default defineConfig({
  resolve: { alias: { '~': path.resolve(import.meta.dirname, '..') } },
  test: {
    root: path.resolve(import.meta.dirname, '..'),
    include: ['tests/**/*.test.ts'],
    fileParallelism: false,
    testTimeout: 150_000,
    hookTimeout: 150_000,
    // A host that takes the processor away for seconds fails a wait now and then; what is broken fails twice.
    retry: 1,
  },
});
