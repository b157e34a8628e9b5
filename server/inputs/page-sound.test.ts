import { describe, expect, test } from 'vitest';
import { PageSound, type HeardSound } from './page-sound';

const NOW = 1_800_000_000_000;
const text = (...samples: number[]) => Buffer.from(Int16Array.from(samples).buffer).toString('base64');

function listening() {
  const heard: HeardSound[] = [];
  let now = NOW;
  const sound = new PageSound(
    (one) => heard.push(one),
    () => now,
  );
  return { heard, sound, pass: (ms: number) => (now += ms) };
}
const samplesOf = ({ samples }: HeardSound) => [...new Int16Array(samples.slice().buffer)];

describe('the sound of a web page', () => {
  test('is handed on as it was, with when it sounded', () => {
    const { heard, sound } = listening();
    sound.take('top', text(1000, -1000, 32_767, -32_768), NOW - 60);
    expect(heard.map(samplesOf)).toEqual([[1000, -1000, 32_767, -32_768]]);
    expect(heard[0].atMs).toBeCloseTo(NOW - 60, 1);
  });

  test('two frames that are loud together do not run over', () => {
    const { heard, sound } = listening();
    const loud = text(...new Array<number>(2 * 480).fill(30_000));
    sound.take('one', loud, NOW - 100);
    sound.take('two', loud, NOW - 100);
    sound.take('one', loud, NOW - 90);
    sound.take('two', loud, NOW - 90);
    expect(Math.max(...samplesOf(heard[1]))).toBe(32_767);
  });

  test.each([
    ['no text', 12, NOW],
    ['too much', 'A'.repeat(100_000), NOW],
    ['half a sample', Buffer.from([1, 2, 3]).toString('base64'), NOW],
    ['nothing', '', NOW],
    ['no time', text(1, 2), 'now'],
    ['not a number', text(1, 2), NaN],
    ['long ago', text(1, 2), NOW - 60_000],
    ['to come', text(1, 2), NOW + 60_000],
  ])('a page that says %s is not listened to', (_, samples, atMs) => {
    const { heard, sound } = listening();
    sound.take('top', samples, atMs);
    expect(heard).toEqual([]);
  });

  test('a page that says more than sixteen frames could play is not listened to for the rest of that second', () => {
    const { heard, sound, pass } = listening();
    for (let n = 0; n < 5000; n++) sound.take('top', text(5, 5), NOW);
    expect(heard.length).toBeGreaterThan(300);
    expect(heard.length).toBeLessThan(500);
    pass(1000);
    sound.take('top', text(7, 7), NOW + 1000);
    expect(samplesOf(heard.at(-1)!)).toEqual([7, 7]);
  });
});
