import fc from 'fast-check';
import { expect, test } from 'vitest';
import { isSilent, SilentPackets } from './silent-packets';

/**
 * An encoder whose packets say what their frame and the one before were, as overlapping transforms do, and come out
 * some frames late.
 */
class Encoder {
  readonly #held: number[] = [];
  #before = 0;

  constructor(readonly late: number) {}

  encode(frame: number): Uint8Array[] {
    this.#held.push(frame);
    const out: Uint8Array[] = [];
    while (this.#held.length > this.late) {
      const now = this.#held.shift()!;
      out.push(Uint8Array.of(this.#before, now));
      this.#before = now;
    }
    return out;
  }
}

/** What goes out of these frames with the silence spared, and how many of them were encoded. */
function sparing(frames: readonly number[], late: number): { out: string[]; encoded: number } {
  const silence = new SilentPackets();
  const encoder = new Encoder(late);
  const out: string[] = [];
  let encoded = 0;
  for (const frame of frames) {
    const spared = silence.give(frame === 0);
    if (spared) out.push(spared.join());
    else {
      encoded += 1;
      for (const packet of encoder.encode(frame)) {
        silence.take(packet);
        out.push(packet.join());
      }
    }
  }
  return { out, encoded };
}

const plainly = (frames: readonly number[], late: number) => {
  const encoder = new Encoder(late);
  return frames.flatMap((frame) => encoder.encode(frame)).map((packet) => packet.join());
};

test('what goes out is packet for packet what it would be, whenever silence comes and goes', () => {
  const stretch = fc.tuple(fc.integer({ min: 0, max: 3 }), fc.integer({ min: 1, max: 30 }));
  fc.assert(
    fc.property(fc.array(stretch, { maxLength: 12 }), fc.integer({ min: 0, max: 6 }), (stretches, late) => {
      const frames = stretches.flatMap(([value, length]) => Array<number>(length).fill(value));
      expect(sparing(frames, late).out).toEqual(plainly(frames, late));
    }),
  );
});

test('of a long silence a dozen frames are encoded', () => {
  const { encoded } = sparing([...Array<number>(5).fill(7), ...Array<number>(1000).fill(0), 7], 2);
  expect(encoded).toBeLessThan(5 + 12 + 1);
});

test('an encoder that says another thing of every silence is given all of it', () => {
  const silence = new SilentPackets();
  for (let i = 0; i < 100; i++) {
    expect(silence.give(true)).toBeNull();
    silence.take(Uint8Array.of(i));
  }
});

test('the least sample is no silence', () => {
  expect(isSilent(new Float32Array(2048))).toBe(true);
  expect(isSilent(new Float32Array([0, -0, 0]))).toBe(true);
  expect(isSilent(new Float32Array([0, 0, 1e-30]))).toBe(false);
});
