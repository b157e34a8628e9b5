import fc from 'fast-check';
import { expect, test } from 'vitest';
import { breakLines } from './line-breaking';

const measure = (text: string) => text.length;

test('breaks between words, at line ends, and inside words only when it must', () => {
  expect(breakLines('take the left spur', 9, measure)).toEqual(['take the', 'left spur']);
  expect(breakLines('Back in\na moment', 20, measure)).toEqual(['Back in', 'a moment']);
  expect(breakLines('aaaaaaaaaaaa b', 5, measure)).toEqual(['aaaaa', 'aaaaa', 'aa b']);
  expect(breakLines('', 5, measure)).toEqual(['']);
});

test('the first line leaves room for a name', () => {
  expect(breakLines('snow on the pass', 12, measure, 6)).toEqual(['snow', 'on the pass'.slice(0, 11)]);
  expect(breakLines('immediately', 12, measure, 6)).toEqual(['', 'immediately']);
});

test('no line is wider than the box and no letter is lost', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 80 }), fc.integer({ min: 2, max: 20 }), (text, width) => {
      const lines = breakLines(text, width, measure);
      for (const line of lines) expect(line.length).toBeLessThanOrEqual(width);
      expect(lines.join('').replace(/[ \n]/g, '')).toBe(text.replace(/[ \n]/g, ''));
    }),
    { seed: 9, numRuns: 300 },
  );
});
