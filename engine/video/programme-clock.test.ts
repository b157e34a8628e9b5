import { describe, expect, test } from 'vitest';
import { BLOCK, CLOCK, createSoundMemory } from '../../protocol/shared-sound';
import { ProgrammeClock } from './programme-clock';

const RATE = 48_000;

function setUp() {
  let wall = 100;
  const clock = new Int32Array(createSoundMemory().clock);
  const programme = new ProgrammeClock(() => wall);
  programme.attach(clock);
  return {
    programme,
    clock,
    elapsed: () => wall - 100,
    /** Lets time pass in small steps; `sound` says how many blocks there are at a wall time. */
    pass(seconds: number, sound?: (wall: number) => number) {
      const until = wall + seconds;
      while (wall < until) {
        wall += 0.005;
        if (sound) Atomics.store(clock, CLOCK.block, sound(wall));
        programme.now();
      }
      return programme.now();
    },
  };
}

describe('programme clock', () => {
  test('runs on the wall clock until sound does, then on the sample count, without a jump or a step back', () => {
    const t = setUp();
    expect(t.pass(2)).toBeCloseTo(2, 1);
    expect(t.programme.running).toBe(false);
    // The sound thread starts where the stage is and works in bursts of 0.1 s.
    const from = Atomics.load(t.clock, CLOCK.stageBlock) + 1;
    const start = 102;
    const bursts = (wall: number) =>
      from + Math.floor((Math.floor((wall - start) / 0.1) * 0.1 * RATE) / BLOCK);
    let last = t.programme.now();
    for (let i = 0; i < 40; i++) {
      const now = t.pass(0.1, bursts);
      expect(now).toBeGreaterThanOrEqual(last);
      expect(now - last).toBeLessThan(0.25);
      last = now;
    }
    expect(t.programme.running).toBe(true);
    expect(Math.abs(last - t.elapsed())).toBeLessThan(0.02);
  });

  test('goes on by the wall when the sound thread stands still, and tells it where the stage is', () => {
    const t = setUp();
    const bursts = (wall: number) => 1 + Math.floor(((wall - 100) * RATE) / BLOCK);
    t.pass(3, bursts);
    const before = t.programme.now();
    const after = t.pass(4);
    expect(t.programme.running).toBe(false);
    expect(after - before).toBeGreaterThan(3.5);
    expect((Atomics.load(t.clock, CLOCK.stageBlock) * BLOCK) / RATE).toBeCloseTo(after, 1);
  });
});
