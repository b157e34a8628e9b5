import { expect, test } from 'vitest';
import { Resampler } from './resampler';

test.each([
  [44_100, 48_000],
  [48_000, 48_000],
  [22_050, 48_000],
  [96_000, 48_000],
])('%d to %d keeps a tone, over pieces of any size', (from, to) => {
  const resampler = new Resampler(from, to);
  const out = new Float32Array(to + 100);
  let total = 0;
  let at = 0;
  for (let piece = 100; at < from; piece = 100 + ((piece * 7) % 911)) {
    const input = new Float32Array(Math.min(piece, from - at)).map((_, i) =>
      Math.sin((2 * Math.PI * 440 * (at + i)) / from),
    );
    const part = new Float32Array(resampler.capacity(input.length));
    const frames = resampler.process(input, part);
    out.set(part.subarray(0, frames), total);
    total += frames;
    at += input.length;
  }
  expect(Math.abs(total - to)).toBeLessThan(10);
  let worst = 0;
  const delay = (-1 * to) / from; // the first output stands on the sample before the first input
  for (let i = 50; i < total; i++)
    worst = Math.max(worst, Math.abs(out[i] - Math.sin((2 * Math.PI * 440 * (i + delay)) / to)));
  expect(worst).toBeLessThan(0.01);
});
