/**
 * Memory shared between the sound thread and the workers: clock, meters, the programme's samples, and samples of files.
 * Everything is fixed in size, so that the sound thread allocates nothing.
 */

/** Stereo channels the mixer can take. */
export const MAX_STRIPS = 24;
export const BLOCK = 128;
/** 2.7 s of programme: an encoder that is further behind has lost sound anyway. */
const RING_BLOCKS = 1024;
const FLOATS_PER_BLOCK = BLOCK * 2;

/** Int32 slots of the clock. */
export const CLOCK = {
  /** Number of the block the sound thread will render next; its time is the programme's time. 0: not started. */
  block: 0,
  /** Where the stage thinks the programme is, in blocks; the sound thread starts there. */
  stageBlock: 1,
  /** Blocks the sound thread skipped to catch up. */
  jumps: 2,
  /** First block rendered since the sound thread (last) started or jumped: before it there was no sound. */
  firstBlock: 3,
} as const;
const CLOCK_SLOTS = 4;

const STRIP_FLOATS = 3;
const PROGRAMME_FLOATS = 8;

export interface SoundMemory {
  clock: SharedArrayBuffer;
  ring: SharedArrayBuffer;
  meters: SharedArrayBuffer;
}

export function createSoundMemory(): SoundMemory {
  const memory = {
    clock: new SharedArrayBuffer(CLOCK_SLOTS * 4),
    ring: new SharedArrayBuffer(RING_BLOCKS * FLOATS_PER_BLOCK * 4),
    meters: new SharedArrayBuffer((MAX_STRIPS * STRIP_FLOATS + PROGRAMME_FLOATS) * 4),
  };
  const meters = new MeterMemory(memory.meters);
  for (const slot of [PROGRAMME_SLOT.momentary, PROGRAMME_SLOT.shortTerm, PROGRAMME_SLOT.integrated])
    meters.writeProgramme(slot, -Infinity);
  meters.writeProgramme(PROGRAMME_SLOT.limiterGain, 1);
  return memory;
}

/** The programme's samples, written by the sound thread one block at a time. */
export class ProgrammeRing {
  readonly #floats: Float32Array;

  constructor(buffer: SharedArrayBuffer) {
    this.#floats = new Float32Array(buffer);
  }

  write(block: number, left: Float32Array, right: Float32Array): void {
    const at = (block % RING_BLOCKS) * FLOATS_PER_BLOCK;
    this.#floats.set(left, at);
    this.#floats.set(right, at + BLOCK);
  }

  /** Copies one block into a stereo planar buffer (all left, then all right) at frame `at`. */
  read(block: number, planar: Float32Array, at: number): void {
    const from = (block % RING_BLOCKS) * FLOATS_PER_BLOCK;
    const half = planar.length / 2;
    planar.set(this.#floats.subarray(from, from + BLOCK), at);
    planar.set(this.#floats.subarray(from + BLOCK, from + FLOATS_PER_BLOCK), half + at);
  }

  /** Oldest block that is still there when `next` is the next to be written, with room for one being written. */
  static oldest(next: number): number {
    return Math.max(0, next - RING_BLOCKS + 8);
  }
}

export interface StripReading {
  level: number;
  held: number;
  clipped: number;
}

export interface ProgrammeReading extends StripReading {
  momentaryLufs: number;
  shortTermLufs: number;
  integratedLufs: number;
  truePeak: number;
  /** Lowest gain of the limiter lately, 1 when it does nothing. */
  limiterGain: number;
}

/** Meters: written by the sound thread, read by the page whenever it draws. */
export class MeterMemory {
  readonly #floats: Float32Array;

  constructor(buffer: SharedArrayBuffer) {
    this.#floats = new Float32Array(buffer);
  }

  writeStrip(index: number, level: number, held: number, clipped: number): void {
    const at = index * STRIP_FLOATS;
    this.#floats[at] = level;
    this.#floats[at + 1] = held;
    this.#floats[at + 2] = clipped;
  }

  readStrip(index: number): StripReading {
    const at = index * STRIP_FLOATS;
    return { level: this.#floats[at], held: this.#floats[at + 1], clipped: this.#floats[at + 2] };
  }

  writeProgramme(slot: number, value: number): void {
    this.#floats[MAX_STRIPS * STRIP_FLOATS + slot] = value;
  }

  readProgramme(): ProgrammeReading {
    const at = MAX_STRIPS * STRIP_FLOATS;
    const [level, held, clipped, momentaryLufs, shortTermLufs, integratedLufs, truePeak, limiterGain] =
      this.#floats.subarray(at, at + PROGRAMME_FLOATS);
    return { level, held, clipped, momentaryLufs, shortTermLufs, integratedLufs, truePeak, limiterGain };
  }
}

/** Order of `writeProgramme`'s slots. */
export const PROGRAMME_SLOT = {
  level: 0,
  held: 1,
  clipped: 2,
  momentary: 3,
  shortTerm: 4,
  integrated: 5,
  truePeak: 6,
  limiterGain: 7,
} as const;

/** 2.7 s: decoding ahead of a file's sound. */
export const FILE_RING_FRAMES = 131_072;
const FILE_SLOT = { written: 0, startBlock: 1, playing: 2, late: 3 } as const;

/**
 * Sound of a file: frame n of the ring belongs to programme frame `startBlock × 128 + n`, so that it stays with its
 * picture whatever either thread does.
 */
export class FileRing {
  readonly #control: Int32Array;
  readonly #left: Float32Array;
  readonly #right: Float32Array;

  constructor(readonly buffer: SharedArrayBuffer) {
    this.#control = new Int32Array(buffer, 0, 4);
    this.#left = new Float32Array(buffer, 16, FILE_RING_FRAMES);
    this.#right = new Float32Array(buffer, 16 + FILE_RING_FRAMES * 4, FILE_RING_FRAMES);
  }

  static create(): FileRing {
    return new FileRing(new SharedArrayBuffer(16 + FILE_RING_FRAMES * 8));
  }

  /** Begins anew at a block of the programme. */
  start(startBlock: number): void {
    Atomics.store(this.#control, FILE_SLOT.playing, 0);
    Atomics.store(this.#control, FILE_SLOT.written, 0);
    Atomics.store(this.#control, FILE_SLOT.startBlock, startBlock);
    Atomics.store(this.#control, FILE_SLOT.playing, 1);
  }

  stop(): void {
    Atomics.store(this.#control, FILE_SLOT.playing, 0);
  }

  get written(): number {
    return Atomics.load(this.#control, FILE_SLOT.written);
  }

  /** How many frames may be written now without overwriting what is not yet heard. */
  room(programmeBlock: number): number {
    const heard = Math.max(0, (programmeBlock - Atomics.load(this.#control, FILE_SLOT.startBlock)) * BLOCK);
    return Math.max(0, heard + FILE_RING_FRAMES - BLOCK * 4 - this.written);
  }

  write(left: Float32Array, right: Float32Array, frames: number): void {
    const written = this.written;
    for (let i = 0; i < frames; i++) {
      const at = (written + i) % FILE_RING_FRAMES;
      this.#left[at] = left[i];
      this.#right[at] = right[i];
    }
    Atomics.store(this.#control, FILE_SLOT.written, written + frames);
  }

  /** Fills one block for the programme's block number; silence where there is nothing. */
  read(block: number, left: Float32Array, right: Float32Array): void {
    const from = (block - Atomics.load(this.#control, FILE_SLOT.startBlock)) * BLOCK;
    const written = Atomics.load(this.#control, FILE_SLOT.written);
    if (
      Atomics.load(this.#control, FILE_SLOT.playing) !== 1 ||
      from < 0 ||
      from + BLOCK > written ||
      written - from > FILE_RING_FRAMES
    ) {
      left.fill(0);
      right.fill(0);
      return;
    }
    for (let i = 0; i < BLOCK; i++) {
      const at = (from + i) % FILE_RING_FRAMES;
      left[i] = this.#left[at];
      right[i] = this.#right[at];
    }
  }
}
