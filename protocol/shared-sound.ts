/**
 * Memory shared between the sound thread and the workers: clock, meters, the programme's samples, and samples of files.
 * Everything is fixed in size, so that the sound thread allocates nothing.
 */

import { MAX_PROCESSORS } from '../core/sound/chain/chain-settings';
import { BLOCK_FRAMES, TRACK_COUNT } from '../core/sound/format';

/** Stereo channels the mixer can take. */
export const MAX_STRIPS = 24;
export const BLOCK = BLOCK_FRAMES;
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

/** What is told of a strip, in this order. Levels are linear, loudness is LUFS, the rest as its name says. */
export const STRIP_FIELDS = [
  'level',
  'held',
  'clipped',
  'rms',
  'truePeak',
  'momentaryLufs',
  'shortTermLufs',
  'integratedLufs',
  'rangeLu',
  'duckDb',
  /** Delay of the voice chain, and by how much chain and offset ask for more than there is. */
  'latencyFrames',
  'missingFrames',
  /** Samples that were no numbers, and the mean of the input. */
  'faults',
  'dc',
] as const;
export type StripReading = Record<(typeof STRIP_FIELDS)[number], number>;

export const PROGRAMME_FIELDS = [
  'level',
  'held',
  'clipped',
  'rms',
  'truePeak',
  'momentaryLufs',
  'shortTermLufs',
  'integratedLufs',
  /** Gated blocks it is the mean of. */
  'loudnessBlocks',
  'rangeLu',
  /** Lowest gain of the limiter lately, 1 when it does nothing. */
  'limiterGain',
  /** Voices above the rest while someone talks, LU; NaN when nobody has. */
  'ratioLu',
  'voiceLufs',
  'restLufs',
  /** Share of its time that the sound thread works, 0…1, mean of the last two seconds. */
  'load',
  /** Of that, what channels and sums take of a block, 0…1: without interruptions and without making made-up sounds. */
  'mixing',
] as const;
export type ProgrammeReading = Record<(typeof PROGRAMME_FIELDS)[number], number>;

/** What is told of each processor of the chosen channel's chain. `state`: of a gate, the share of time it was open. */
export const PROCESSOR_FIELDS = ['inputDb', 'gainDb', 'state'] as const;
export type ProcessorReading = Record<(typeof PROCESSOR_FIELDS)[number], number>;

const STRIP_FLOATS = STRIP_FIELDS.length;
const PROGRAMME_FLOATS = PROGRAMME_FIELDS.length;
const PROCESSOR_FLOATS = PROCESSOR_FIELDS.length;

export interface SoundMemory {
  clock: SharedArrayBuffer;
  ring: SharedArrayBuffer;
  meters: SharedArrayBuffer;
  probe: SharedArrayBuffer;
}

export function createSoundMemory(): SoundMemory {
  const memory = {
    clock: new SharedArrayBuffer(CLOCK_SLOTS * 4),
    ring: new SharedArrayBuffer(TRACK_COUNT * RING_BLOCKS * FLOATS_PER_BLOCK * 4),
    meters: new SharedArrayBuffer(METER_FLOATS * 4),
    probe: new SharedArrayBuffer(4 * PROBE_CONTROL + PROBE_LANES.length * PROBE_FRAMES * 4),
  };
  const meters = new MeterMemory(memory.meters);
  for (const field of ['momentaryLufs', 'shortTermLufs', 'integratedLufs'] as const)
    meters.writeProgramme(field, -Infinity);
  meters.writeProgramme('limiterGain', 1);
  meters.writeProgramme('ratioLu', Number.NaN);
  return memory;
}

/** The samples of the programme (track 1) and of the other recording tracks, written by the sound thread block by block. */
export class ProgrammeRing {
  readonly #floats: Float32Array;

  /** @param track 1…6 */
  constructor(buffer: SharedArrayBuffer, track = 1) {
    const floats = RING_BLOCKS * FLOATS_PER_BLOCK;
    this.#floats = new Float32Array(buffer, (track - 1) * floats * 4, floats);
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

const METER_FLOATS = MAX_STRIPS * STRIP_FLOATS + PROGRAMME_FLOATS + MAX_PROCESSORS * PROCESSOR_FLOATS;

function readFields<F extends string>(
  floats: Float32Array,
  fields: readonly F[],
  at: number,
): Record<F, number> {
  return Object.fromEntries(fields.map((field, i) => [field, floats[at + i]])) as Record<F, number>;
}

const STRIP_AT = Object.fromEntries(STRIP_FIELDS.map((f, i) => [f, i])) as StripReading;
const PROGRAMME_AT = Object.fromEntries(PROGRAMME_FIELDS.map((f, i) => [f, i])) as ProgrammeReading;
const PROCESSOR_AT = Object.fromEntries(PROCESSOR_FIELDS.map((f, i) => [f, i])) as ProcessorReading;

/** Meters: written by the sound thread, read by the page whenever it draws. Writing allocates nothing. */
export class MeterMemory {
  readonly #floats: Float32Array;

  constructor(buffer: SharedArrayBuffer) {
    this.#floats = new Float32Array(buffer);
  }

  writeStrip(index: number, field: keyof StripReading, value: number): void {
    this.#floats[index * STRIP_FLOATS + STRIP_AT[field]] = value;
  }

  clearStrip(index: number): void {
    this.#floats.fill(0, index * STRIP_FLOATS, (index + 1) * STRIP_FLOATS);
  }

  readStrip(index: number): StripReading {
    return readFields(this.#floats, STRIP_FIELDS, index * STRIP_FLOATS);
  }

  writeProgramme(field: keyof ProgrammeReading, value: number): void {
    this.#floats[MAX_STRIPS * STRIP_FLOATS + PROGRAMME_AT[field]] = value;
  }

  readProgramme(): ProgrammeReading {
    return readFields(this.#floats, PROGRAMME_FIELDS, MAX_STRIPS * STRIP_FLOATS);
  }

  /** Of the chosen channel's chain. */
  writeProcessor(index: number, field: keyof ProcessorReading, value: number): void {
    const at = MAX_STRIPS * STRIP_FLOATS + PROGRAMME_FLOATS + index * PROCESSOR_FLOATS;
    this.#floats[at + PROCESSOR_AT[field]] = value;
  }

  readProcessor(index: number): ProcessorReading {
    const at = MAX_STRIPS * STRIP_FLOATS + PROGRAMME_FLOATS + index * PROCESSOR_FLOATS;
    return readFields(this.#floats, PROCESSOR_FIELDS, at);
  }
}

/**
 * What the probe carries, one voice each: the chosen channel untouched and behind its chain, the microphone that the echo
 * finder listens to, the programme without that microphone at the same time, and the programme as it leaves.
 */
export const PROBE_LANES = ['raw', 'processed', 'echoMicrophone', 'echoReference', 'programme'] as const;
export type ProbeLane = (typeof PROBE_LANES)[number];
/** 10.9 s: the echo finder looks at eight at once. */
export const PROBE_FRAMES = 524_288;
const PROBE_CONTROL = 4;

/** Samples for drawings, the soundcheck and the echo finder. */
export class Probe {
  readonly #control: Int32Array;
  readonly #lanes: Record<ProbeLane, Float32Array>;

  constructor(buffer: SharedArrayBuffer) {
    this.#control = new Int32Array(buffer, 0, PROBE_CONTROL);
    this.#lanes = Object.fromEntries(
      PROBE_LANES.map((lane, i) => [
        lane,
        new Float32Array(buffer, 4 * PROBE_CONTROL + i * PROBE_FRAMES * 4, PROBE_FRAMES),
      ]),
    ) as Record<ProbeLane, Float32Array>;
  }

  /** Writes one block of a lane at the present place; `advance` ends the block. */
  write(lane: ProbeLane, block: Float32Array): void {
    this.#lanes[lane].set(block, (this.blocks * BLOCK) % PROBE_FRAMES);
  }

  advance(): void {
    Atomics.add(this.#control, 0, 1);
  }

  /** Which strip the echo lanes belong to, −1 for none: whoever reads them begins anew when it changes. */
  get echoStrip(): number {
    return Atomics.load(this.#control, 1) - 1;
  }

  set echoStrip(strip: number) {
    Atomics.store(this.#control, 1, strip + 1);
  }

  /** Blocks written since the start. */
  get blocks(): number {
    return Atomics.load(this.#control, 0);
  }

  /** Copies the newest samples before block `end` into `out`; what was never written is silence. */
  read(lane: ProbeLane, out: Float32Array, end = this.blocks): void {
    const samples = this.#lanes[lane];
    const from = end * BLOCK - out.length;
    for (let i = 0; i < out.length; i++) {
      const at = from + i;
      out[i] = at < 0 ? 0 : samples[at % PROBE_FRAMES];
    }
  }
}

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

  /** Whether everything that was written has been heard, so that there is a hole now. */
  behind(programmeBlock: number): boolean {
    return (programmeBlock - Atomics.load(this.#control, FILE_SLOT.startBlock)) * BLOCK > this.written;
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
