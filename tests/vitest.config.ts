import path from 'node:path';
import { defineConfig } from 'vitest/config';
import { LongestFirst } from './lib/longest-first';

/** Tests that start processes, servers and browsers: two lanes of them (scripts/lib/test-lanes.mjs), the longest first. */
export default defineConfig({
  resolve: { alias: { '~': path.resolve(import.meta.dirname, '..') } },
  test: {
    root: path.resolve(import.meta.dirname, '..'),
    include: ['tests/**/*.test.ts'],
    exclude: ['tests/long/**', '**/node_modules/**'],
    setupFiles: ['tests/lib/setup.ts'],
    fileParallelism: false,
    sequence: { sequencer: LongestFirst },
    // Against hanging only: waits have limits of their own, which grow by the processor time that is taken.
    // Each second try is told and counted: several fail the run (scripts/lib/second-tries.mjs).
    retry: 1,
    testTimeout: 300_000,
    hookTimeout: 300_000,
    // Like a page's waits: long enough for a machine that others use too. What comes at once is not waited for.
    expect: { poll: { timeout: 45_000 } },
  },
});
