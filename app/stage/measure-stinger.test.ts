import { expect, test } from 'vitest';
import { coverOf } from './measure-stinger';

const clip = (...parts: [number, number][]) =>
  parts.flatMap(([count, opacity]) => Array<number>(count).fill(opacity));

test.each([
  ['comes, covers, goes', clip([10, 0], [20, 255], [10, 40]), { clear: true, coverSeconds: 2 }],
  [
    'covers twice: the longer time',
    clip([5, 0], [5, 255], [5, 0], [20, 250], [5, 0]),
    { clear: true, coverSeconds: 2.5 },
  ],
  ['never covers', clip([40, 200]), { clear: true, coverSeconds: null }],
  ['has no transparency', clip([40, 255]), { clear: false, coverSeconds: 2 }],
  ['covers to its end', clip([20, 0], [20, 255]), { clear: true, coverSeconds: 3 }],
])('%s', (_name, least, facts) => expect(coverOf(least, 4)).toEqual(facts));
