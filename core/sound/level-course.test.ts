import fc from 'fast-check';
import { expect, test } from 'vitest';
import { amplitudeOfDb } from './decibel';
import { LevelCourse, type LevelOrder } from './level-course';

const BLOCK = 128;
const order = (level: number, more: Partial<LevelOrder> = {}): LevelOrder => ({
  level,
  levelSeconds: 0,
  present: true,
  fadeSeconds: 0.02,
  ...more,
});

/** The gain at the end of each of so many blocks. */
function run(course: LevelCourse, fromBlock: number, blocks: number): number[] {
  return Array.from({ length: blocks }, (_, i) => {
    course.step((fromBlock + i) * BLOCK, BLOCK);
    return course.to;
  });
}

test('an order takes hold at the sample it names, not before and not at its arrival', () => {
  const course = new LevelCourse();
  course.start(order(1));
  run(course, 0, 60);
  course.order(100 * BLOCK, order(0));
  const gains = run(course, 60, 80);
  expect(gains.slice(0, 40).every((gain) => gain === 1)).toBe(true);
  expect(gains[40]).toBeLessThan(1);
  expect(gains.at(-1)).toBe(0);
});

test('one for a moment that is over takes hold at once; a later one never overtakes an earlier one', () => {
  const course = new LevelCourse();
  course.start(order(1));
  run(course, 0, 60);
  course.order(200 * BLOCK, order(0.5));
  // It names a moment before the one that waits: it comes after it all the same.
  course.order(10 * BLOCK, order(0));
  expect(run(course, 60, 140).every((gain) => gain === 1)).toBe(true);
  expect(run(course, 200, 40).at(-1)).toBe(0);
});

test('a fade goes straight in dB and takes as long as it says', () => {
  const course = new LevelCourse();
  course.start(order(1));
  run(course, 0, 60);
  course.order(60 * BLOCK, order(amplitudeOfDb(-40), { levelSeconds: 1 }));
  const gains = run(course, 60, 400);
  const dbAt = (block: number) => 20 * Math.log10(gains[block]);
  // 375 blocks are a second.
  expect(dbAt(93)).toBeCloseTo(-10, 0);
  expect(dbAt(187)).toBeCloseTo(-20, 0);
  expect(dbAt(374)).toBeCloseTo(-40, 5);
  expect(gains[399]).toBe(gains[374]);
});

test('the same level said again leaves a fade that is going on', () => {
  const course = new LevelCourse();
  course.start(order(1));
  run(course, 0, 60);
  const to = amplitudeOfDb(-40);
  course.order(60 * BLOCK, order(to, { levelSeconds: 1 }));
  run(course, 60, 100);
  course.order(160 * BLOCK, order(to));
  expect(20 * Math.log10(run(course, 160, 88).at(-1)!)).toBeCloseTo(-20, 0);
});

test('a scene comes and goes by a sine, at equal power with what it crosses', () => {
  const [comes, goes] = [new LevelCourse(), new LevelCourse()];
  comes.start(order(1, { present: false, fadeSeconds: 0.5 }));
  goes.start(order(1, { fadeSeconds: 0.5 }));
  run(comes, 0, 60);
  run(goes, 0, 60);
  comes.order(0, order(1, { fadeSeconds: 0.5 }));
  goes.order(0, order(1, { present: false, fadeSeconds: 0.5 }));
  const up = run(comes, 60, 200);
  const down = run(goes, 60, 200);
  for (let i = 0; i < 187; i++) expect(up[i] ** 2 + down[i] ** 2).toBeCloseTo(1, 6);
  expect([up.at(-1), down.at(-1)]).toEqual([1, 0]);
});

test('whatever is ordered, the gain never leaps: no step is heard as a click, and none is left out', () => {
  const anyOrder = fc.record({
    at: fc.integer({ min: 0, max: 600 }),
    level: fc.constantFrom(0, 0.1, 0.5, 1, 3),
    levelSeconds: fc.constantFrom(0, 0.05, 1),
    present: fc.boolean(),
  });
  fc.assert(
    fc.property(fc.array(anyOrder, { maxLength: 100 }), (orders) => {
      const course = new LevelCourse();
      course.start(order(1));
      run(course, 0, 60);
      for (const { at, level, levelSeconds, present } of orders)
        course.order((60 + at) * BLOCK, order(level, { levelSeconds, present }));
      let before = course.to;
      for (let block = 60; block < 1600; block++) {
        course.step(block * BLOCK, BLOCK);
        expect(course.from).toBe(before);
        // A third of the way to the loudest there is, and what the scene takes of it in a block.
        expect(Math.abs(course.to - course.from)).toBeLessThan(1.55);
        before = course.to;
      }
      const last = orders.at(-1);
      if (last) expect(course.to).toBeCloseTo(last.present ? last.level : 0, 4);
    }),
    { numRuns: 60 },
  );
});
