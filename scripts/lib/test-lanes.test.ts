import { expect, test } from 'vitest';
import { slowness } from './test-lanes.mjs';

const KEPT = { 'tests/e2e/pad.test.ts': 50, 'tests/e2e/plan.test.ts': 90 };

test('how slow a machine is, is told by files that were timed before', () => {
  const done = [
    { file: 'tests/e2e/pad.test.ts', seconds: 100 },
    { file: 'tests/e2e/plan.test.ts', seconds: 180 },
    { file: 'tests/e2e/new.test.ts', seconds: 1000 },
  ];
  expect(slowness(done, KEPT)).toBe(2);
  expect(slowness(done.slice(2), KEPT)).toBe(1);
  expect(slowness([], KEPT)).toBe(1);
});
