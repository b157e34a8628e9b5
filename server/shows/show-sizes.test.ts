import { expect, test } from 'vitest';
import { sampleInput } from '../../core/show/sample-show';
import type { AnyRecord } from '../../core/show/records';
import { ShowSizes } from './show-sizes';

const id = (letter: string) => letter.repeat(40);
const picture = (name: string, assetId: string): AnyRecord =>
  sampleInput(name, { source: { type: 'picture', assetId, loop: false } });

test('what the files of a show take, each once, counted when somebody asks and again after an edit', async () => {
  const shows: Record<string, AnyRecord[]> = {
    one: [picture('p', id('a')), picture('q', id('b')), picture('r', id('a')), picture('s', id('c'))],
    two: [],
  };
  const bytes: Record<string, number> = { [id('a')]: 1000, [id('b')]: 50 };
  const read: string[] = [];
  const sizes = new ShowSizes({
    records: (showId) => {
      read.push(showId);
      return shows[showId] ?? [];
    },
    bytesOf: (fileId) => bytes[fileId],
    failed: () => {},
  });
  expect([sizes.of('one'), sizes.of('two'), sizes.of('gone'), sizes.of('one')]).toEqual([
    null,
    null,
    null,
    null,
  ]);
  await expect.poll(() => ['one', 'two', 'gone'].map((show) => sizes.of(show))).toEqual([1050, 0, 0]);
  expect(read).toEqual(['one', 'two', 'gone']);
  shows.one = [picture('q', id('b'))];
  sizes.edited('one');
  expect(sizes.of('one')).toBeNull();
  await expect.poll(() => sizes.of('one')).toBe(50);
});

test('one that cannot be read is told, and the others are counted', async () => {
  const told: string[] = [];
  const sizes = new ShowSizes({
    records: (showId) => {
      if (showId === 'torn') throw new Error('no such page');
      return [picture('p', id('a'))];
    },
    bytesOf: () => 7,
    failed: (showId, error) => told.push(`${showId}: ${(error as Error).message}`),
  });
  sizes.of('torn');
  sizes.of('whole');
  await expect.poll(() => sizes.of('whole')).toBe(7);
  expect(sizes.of('torn')).toBe(0);
  expect(told).toEqual(['torn: no such page']);
});
