import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { PollCount, voteOf } from './own-poll';

const answers = [
  { label: 'Left spur', words: 'left links' },
  { label: 'Tunnel', words: '' },
  { label: 'The long way', words: 'long' },
];

describe('a vote', () => {
  test.each<[string, number | null]>([
    ['1', 0],
    [' 3 ', 2],
    ['LEFT!!!', 0],
    ['left left left', 0],
    ['links, bitte', 0],
    ['take the tunnel', 1],
    ['vote for the long way round', 2],
    ['4', null],
    ['0', null],
    ['12 wagons', null],
    ['left or long?', null],
    ['leftover soup', null],
    ['', null],
    ['😀', null],
  ])('“%s”', (text, answer) => expect(voteOf(text, answers)).toBe(answer));
});

test('each viewer has one voice, the last one; the same name elsewhere is somebody else', () => {
  const count = new PollCount(answers);
  expect(count.said('larch', 'mossbell', 'left')).toBe(true);
  expect(count.said('larch', 'MossBell', 'left again')).toBe(false);
  expect(count.said('larch', 'mossbell', '2')).toBe(true);
  expect(count.said('cairn', 'mossbell', 'left')).toBe(true);
  expect(count.said('cairn', 'pinecairn', 'snow on the pass')).toBe(false);
  expect(count.options().map(({ votes }) => votes)).toEqual([1, 1, 0]);
});

test('there are never more voices than people', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.tuple(
          fc.constantFrom('a', 'b'),
          fc.constantFrom('x', 'y', 'z'),
          fc.constantFrom('1', '2', '3', 'hi'),
        ),
      ),
      (said) => {
        const count = new PollCount(answers);
        for (const [platform, viewer, text] of said) count.said(platform, viewer, text);
        const voters = new Set(said.filter(([, , text]) => text !== 'hi').map(([p, v]) => `${p}${v}`));
        expect(count.options().reduce((sum, { votes }) => sum + votes, 0)).toBe(voters.size);
      },
    ),
  );
});
