import { expect, test } from 'vitest';
import { judgeSecondTries, withoutMended } from './second-tries.mjs';

const NONE: string[] = [];

test('a run in which all passed at once is never at fault, whatever earlier ones needed', () => {
  const before = Array.from({ length: 10 }, () => ['a', 'b', 'c']);
  expect(judgeSecondTries(before, NONE).hiding).toEqual(NONE);
});

test('more than two in one run, or the third of one test in ten runs, are a fault that hides', () => {
  expect(judgeSecondTries([], ['a', 'b']).hiding).toEqual(NONE);
  expect(judgeSecondTries([], ['a', 'b', 'c']).hiding).toEqual(['a', 'b', 'c']);
  // On a machine that takes 1.8 times as long, three in one run; of one test as many as elsewhere.
  expect(judgeSecondTries([], ['a', 'b', 'c'], 1.8).hiding).toEqual(NONE);
  expect(judgeSecondTries([], ['a', 'b', 'c', 'd'], 1.8).hiding).toEqual(['a', 'b', 'c', 'd']);
  expect(judgeSecondTries([['a'], ['a']], ['a'], 1.8).hiding).toEqual(['a']);
  expect(judgeSecondTries([['a'], NONE, ['a']], ['a', 'b']).hiding).toEqual(['a']);
  expect(judgeSecondTries([['a'], NONE, ['b']], ['a']).hiding).toEqual(NONE);
});

test('what is more than ten runs ago is forgotten', () => {
  const before = [['a'], ['a'], ...Array.from({ length: 8 }, () => NONE)];
  const judged = judgeSecondTries(before, ['a']);
  expect(judged.runs).toHaveLength(10);
  expect(judged.hiding).toEqual(NONE);
});

test('a test whose fault was found begins anew; the others are still counted', () => {
  const before = [['a page is seen', 'b'], ['a page is seen'], ['b']];
  expect(withoutMended(before, ['a page'])).toEqual([['b'], [], ['b']]);
  expect(judgeSecondTries(withoutMended(before, ['a page']), ['a page is seen']).hiding).toEqual(NONE);
  expect(withoutMended(before, [])).toEqual(before);
});
