import fc from 'fast-check';
import { expect, test } from 'vitest';
import { OutQueue, type Waiting } from './out-queue';

interface Item extends Waiting {
  n: number;
}

/** 'K' keyframe, 'p' picture, 'a' sound. */
function item(letter: string, n: number): Item {
  return { kind: letter === 'a' ? 'audio' : 'video', keyframe: letter === 'K', bytes: 100, n };
}

function queueOf(letters: string, everyMs: number): OutQueue<Item> {
  const queue = new OutQueue<Item>(1000);
  [...letters].forEach((letter, n) => queue.push(item(letter, n), n * everyMs));
  return queue;
}

function rest(queue: OutQueue<Item>): string {
  let out = '';
  for (let next = queue.take(1); next; next = queue.take(1))
    out += next.kind === 'audio' ? 'a' : next.keyframe ? 'K' : 'p';
  return out;
}

test('nothing is dropped while nothing is old', () => {
  const queue = queueOf('KpapKpa', 100);
  expect(queue.dropStale(1000)).toBe(0);
  expect(rest(queue)).toBe('KpapKpa');
});

test('old groups go whole up to the newest keyframe, sound stays', () => {
  const queue = queueOf('ppaKpaKpa', 200);
  expect(queue.dropStale(1800)).toBe(4);
  expect(rest(queue)).toBe('aaKpa');
  expect(queue.droppedPictures).toBe(4);
});

test('without a fresh keyframe all pictures go, also those that come, until the next', () => {
  const queue = queueOf('Kpapp', 200);
  expect(queue.dropStale(5000)).toBe(4);
  queue.push(item('p', 5), 5001);
  queue.push(item('a', 6), 5002);
  queue.push(item('K', 7), 5003);
  queue.push(item('p', 8), 5004);
  expect(rest(queue)).toBe('aaKp');
  expect(queue.droppedPictures).toBe(5);
});

test('a way without room takes nothing; any room takes one, however large', () => {
  const queue = queueOf('Kp', 10);
  expect(queue.take(0)).toBeNull();
  expect(queue.take(-5)).toBeNull();
  expect(queue.take(1)?.n).toBe(0);
  expect(queue.bytes).toBe(100);
});

test('whatever is dropped, what goes out can be decoded and no sound is missing', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          letter: fc.constantFrom('K', 'p', 'p', 'p', 'a'),
          ms: fc.integer({ min: 0, max: 700 }),
          take: fc.integer({ min: 0, max: 3 }),
          check: fc.boolean(),
        }),
        { maxLength: 120 },
      ),
      (steps) => {
        const queue = new OutQueue<Item>(1000);
        const out: Item[] = [];
        const put: Item[] = [];
        let now = 0;
        steps.forEach((step, n) => {
          now += step.ms;
          const next = item(n === 0 ? 'K' : step.letter, n);
          put.push(next);
          queue.push(next, now);
          if (step.check) queue.dropStale(now);
          for (let i = 0; i < step.take; i++) {
            const taken = queue.take(1);
            if (taken) out.push(taken);
          }
        });
        for (let taken = queue.take(1); taken; taken = queue.take(1)) out.push(taken);
        expect(out.filter((i) => i.kind === 'audio')).toEqual(put.filter((i) => i.kind === 'audio'));
        // A picture that is not a keyframe follows the picture before it, or is left out.
        const pictures = put.filter((i) => i.kind === 'video');
        const sent = out.filter((i) => i.kind === 'video');
        sent.forEach((picture, i) => {
          if (picture.keyframe) return;
          expect(sent[i - 1]).toBe(pictures[pictures.indexOf(picture) - 1]);
        });
        expect(queue.droppedPictures).toBe(pictures.length - sent.length);
        expect(queue.bytes).toBe(0);
      },
    ),
  );
});
