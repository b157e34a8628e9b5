import { expect, test } from 'vitest';
import { slowness } from './test-lanes.mjs';

const KEPT = { 'programs and packages': 40, types: 50, 'unit tests': 90 };

test('how slow a machine is, is told by parts that were timed before and depend on nothing else', () => {
  const done = [
    { name: 'programs and packages', seconds: 400 },
    { name: 'types', seconds: 100 },
    { name: 'unit tests', seconds: 180 },
    { name: 'a part that is new', seconds: 1000 },
  ];
  expect(slowness(done, KEPT)).toBe(2);
  expect(slowness(done.slice(0, 1), KEPT)).toBe(1);
  expect(slowness([], KEPT)).toBe(1);
});
