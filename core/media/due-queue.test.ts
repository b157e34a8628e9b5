import { expect, test } from 'vitest';
import { DueQueue } from './due-queue';

function queue(most = 10) {
  const left: string[] = [];
  return { left, waiting: new DueQueue<string>(most, (item) => left.push(item)) };
}

test('what is due comes when the programme has come to it; of several the newest', () => {
  const { left, waiting } = queue();
  for (const [seconds, item] of [
    [100, 'a'],
    [100.1, 'b'],
    [100.2, 'c'],
  ] as const)
    waiting.push(seconds, item);
  expect(waiting.newest(-95, 4.9)).toBeNull();
  expect(waiting.newest(-95, 5)).toBe('a');
  expect(waiting.newest(-95, 5.05)).toBeNull();
  expect(waiting.newest(-95, 5.3)).toBe('c');
  expect(left).toEqual(['b']);
  expect(waiting.newest(-95, 99)).toBeNull();
});

test('where nothing is waited for the newest comes at once', () => {
  const { left, waiting } = queue();
  waiting.push(1e9, 'a');
  waiting.push(2e9, 'b');
  expect(waiting.newest(null, 0)).toBe('b');
  expect(left).toEqual(['a']);
});

test('more than may wait are let go, the oldest first, and all of them in the end', () => {
  const { left, waiting } = queue(2);
  for (const item of ['a', 'b', 'c']) waiting.push(1, item);
  expect(left).toEqual(['a']);
  waiting.clear();
  expect(left).toEqual(['a', 'b', 'c']);
  expect(waiting.newest(null, 0)).toBeNull();
});
