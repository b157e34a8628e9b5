import { describe, expect, test } from 'vitest';
import {
  BLOCK,
  createSoundMemory,
  FILE_RING_FRAMES,
  FileRing,
  MeterMemory,
  Probe,
  PROBE_FRAMES,
  ProgrammeRing,
} from './shared-sound';

const block = (value: number) => new Float32Array(BLOCK).fill(value);

describe('programme ring', () => {
  test('gives back what was written, left and right, at any place of a planar buffer', () => {
    const ring = new ProgrammeRing(createSoundMemory().ring);
    ring.write(5, block(0.25), block(-0.5));
    const planar = new Float32Array(BLOCK * 4);
    ring.read(5, planar, BLOCK);
    expect(planar[0]).toBe(0);
    expect(planar[BLOCK]).toBe(0.25);
    expect(planar[BLOCK * 3]).toBe(-0.5);
    expect(planar[BLOCK * 2]).toBe(0);
  });

  test('knows how far back it reaches', () => {
    expect(ProgrammeRing.oldest(100)).toBe(0);
    const ring = new ProgrammeRing(createSoundMemory().ring);
    for (let n = 0; n < 3000; n++) ring.write(n, block(n), block(n));
    const planar = new Float32Array(BLOCK * 2);
    for (let n = ProgrammeRing.oldest(3000); n < 3000; n++) {
      ring.read(n, planar, 0);
      expect(planar[0]).toBe(n);
    }
  });
});

describe('meters', () => {
  test('read what was written, and silence is −Infinity before anything was', () => {
    const meters = new MeterMemory(createSoundMemory().meters);
    expect(meters.readProgramme().momentaryLufs).toBe(-Infinity);
    meters.writeStrip(3, 'level', 0.5);
    meters.writeStrip(3, 'clipped', 2);
    meters.writeProgramme('truePeak', 0.875);
    meters.writeProcessor(11, 'gainDb', -4.5);
    expect(meters.readStrip(3)).toMatchObject({ level: 0.5, held: 0, clipped: 2 });
    expect(meters.readProcessor(11)).toEqual({ inputDb: 0, gainDb: -4.5, state: 0 });
    expect(meters.readStrip(4).level).toBe(0);
    expect(meters.readProgramme().truePeak).toBe(0.875);
  });
});

describe('probe', () => {
  test('gives the newest samples of each lane, silence before the first, and goes round', () => {
    const probe = new Probe(createSoundMemory().probe);
    const out = new Float32Array(BLOCK * 3);
    probe.write('raw', block(1));
    probe.advance();
    probe.read('raw', out);
    expect([out[0], out[BLOCK * 2 - 1], out[BLOCK * 2]]).toEqual([0, 0, 1]);
    for (let n = 2; n < PROBE_FRAMES / BLOCK + 10; n++) {
      probe.write('raw', block(n));
      probe.write('processed', block(-n));
      probe.advance();
    }
    const last = PROBE_FRAMES / BLOCK + 9;
    probe.read('raw', out);
    expect([out[0], out[BLOCK], out[BLOCK * 2]]).toEqual([last - 2, last - 1, last]);
    probe.read('processed', out, probe.blocks - 1);
    expect(out[BLOCK * 2]).toBe(1 - last);
  });
});

describe('file ring', () => {
  const read = (ring: FileRing, at: number) => {
    const left = new Float32Array(BLOCK);
    const right = new Float32Array(BLOCK);
    ring.read(at, left, right);
    return [left[0], left[BLOCK - 1], right[0]];
  };
  const ramp = (from: number, count: number) => new Float32Array(count).map((_, i) => from + i);

  test('frame n sounds at startBlock × 128 + n, whoever is early', () => {
    const ring = FileRing.create();
    ring.start(1000);
    ring.write(ramp(1, BLOCK * 4), ramp(1001, BLOCK * 4), BLOCK * 4);
    expect(read(ring, 999)).toEqual([0, 0, 0]);
    expect(read(ring, 1000)).toEqual([1, BLOCK, 1001]);
    expect(read(ring, 1003)).toEqual([BLOCK * 3 + 1, BLOCK * 4, 1001 + BLOCK * 3]);
    expect(read(ring, 1004)).toEqual([0, 0, 0]); // not decoded yet: silence, not the past
  });

  test('never overwrites what is not yet heard, and turns round cleanly', () => {
    const ring = FileRing.create();
    ring.start(0);
    let written = 0;
    for (let now = 0; now < 4000; now++) {
      const room = ring.room(now);
      const count = Math.min(room, 5000);
      ring.write(ramp(written, count), ramp(0, count), count);
      written += count;
      expect(written).toBeLessThanOrEqual((now + 1) * BLOCK + FILE_RING_FRAMES);
      expect(read(ring, now)[0]).toBe(now * BLOCK);
    }
  });

  test('is silent when stopped and starts afresh', () => {
    const ring = FileRing.create();
    ring.start(0);
    ring.write(ramp(1, BLOCK), ramp(1, BLOCK), BLOCK);
    ring.stop();
    expect(read(ring, 0)).toEqual([0, 0, 0]);
    ring.start(50);
    expect(ring.written).toBe(0);
    expect(read(ring, 50)).toEqual([0, 0, 0]);
  });
});
