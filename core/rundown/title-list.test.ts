import { expect, test } from 'vitest';
import { MOST_TITLES, readTitles } from './title-list';

const read = (text: string) => {
  let n = 0;
  return readTitles(text, { showId: 'show', position: 5 }, () => `t${++n}`);
};

test('names, roles and seconds, from a spreadsheet or typed with semicolons', () => {
  const { titles, tooMany } = read(
    'Juno Fell\tSignal keeper\t12\r\n\n Ash ; Driver ;2,5\nOnly a name\n\tno name',
  );
  expect(
    titles.map(({ id, name, line2, seconds, position }) => [id, name, line2, seconds, position]),
  ).toEqual([
    ['t1', 'Juno Fell', 'Signal keeper', 12, 5],
    ['t2', 'Ash', 'Driver', 2.5, 6],
    ['t3', 'Only a name', '', 8, 7],
  ]);
  expect(tooMany).toBe(false);
});

test('what is too long is cut, what is too much is said, what is no number counts as the usual time', () => {
  const { titles } = read(`${'x'.repeat(500)};${'y'.repeat(500)};soon\nshort;;0\nlong;;99999`);
  expect(titles.map(({ name, line2, seconds }) => [name.length, line2.length, seconds])).toEqual([
    [120, 200, 8],
    [5, 0, 1],
    [4, 0, 3600],
  ]);
  const many = read('a\n'.repeat(MOST_TITLES + 1));
  expect([many.titles.length, many.tooMany]).toEqual([MOST_TITLES, true]);
});
