import { describe, expect, test } from 'vitest';
import { LoudnessMeter } from '../../core/sound/loudness-meter';
import { SIMULATED_SOUNDS } from '../../core/show/records';
import { clapAt } from './pictures/sync-clapper';
import { createSound, SOUND_RATE } from './sounds/generators';
import { CLIMB_SECONDS, gameAt, trackAt } from './switchback-simulation';

function render(name: (typeof SIMULATED_SOUNDS)[number], seconds: number, block = 128) {
  const sound = createSound(name);
  const frames = Math.floor((seconds * SOUND_RATE) / block) * block;
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  for (let at = 0; at < frames; at += block)
    sound.render(at, left.subarray(at, at + block), right.subarray(at, at + block), block);
  return { left, right };
}

describe('simulated sounds', () => {
  test.each(SIMULATED_SOUNDS)('%s is a real signal, the same every time, and does not clip', (name) => {
    const first = render(name, 12);
    const again = render(name, 12);
    expect(first.left.findIndex((v, i) => v !== again.left[i] || first.right[i] !== again.right[i])).toBe(-1);
    let peak = 0;
    for (const v of first.left) peak = Math.max(peak, Math.abs(v));
    expect(peak).toBeGreaterThan(0.05);
    expect(peak).toBeLessThan(1);
  });

  test('the voice has a quiet part and a shout', () => {
    const { left, right } = render('voice', 40);
    const loudness = (from: number, to: number) => {
      const meter = new LoudnessMeter();
      const a = left.subarray(from * SOUND_RATE, to * SOUND_RATE);
      meter.process([a, right.subarray(from * SOUND_RATE, to * SOUND_RATE)], a.length);
      return meter.integrated();
    };
    const talk = loudness(1, 11);
    expect(talk).toBeGreaterThan(-31);
    expect(talk).toBeLessThan(-20);
    expect(loudness(29, 31.5)).toBeGreaterThan(talk + 4);
    expect(loudness(23, 28)).toBeLessThan(talk - 4);
  });

  test('flash and beep start on the same sample', () => {
    const { left } = render('sync-clapper', 5);
    const first = left.findIndex((v, i) => i > SOUND_RATE && Math.abs(v) > 0.02);
    expect(Math.abs(first / SOUND_RATE - 2)).toBeLessThan(0.001);
    expect(clapAt(2)).toBe(true);
    expect(clapAt(1.999)).toBe(false);
    expect(clapAt(2.1)).toBe(false);
  });
});

test('the train moves on without jumps, waits at red and leaves on green', () => {
  let before = gameAt(0).position;
  for (let t = 0.1; t < CLIMB_SECONDS; t += 0.1) {
    const { position } = gameAt(t);
    expect(position).toBeGreaterThanOrEqual(before - 1e-9);
    expect(position - before).toBeLessThan(0.02);
    before = position;
  }
  expect(gameAt(23).signal).toBe('stop');
  expect(gameAt(23).position).toBe(gameAt(26).position);
  expect(gameAt(28).signal).toBe('go');
  expect(trackAt(0).x).toBeLessThan(trackAt(0.2).x);
});
