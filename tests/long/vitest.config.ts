import { defineConfig } from 'vitest/config';
import common from '../vitest.config';

const { exclude: _, ...test } = common.test!;
/** Slow peers that change seldom: one file at a time, by `npm run test:long`. Merged, lists of files would be added up. */
export default defineConfig({ ...common, test: { ...test, include: ['tests/long/**/*.test.ts'] } });
