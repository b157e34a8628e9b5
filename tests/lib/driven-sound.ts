/** The sound thread alone, block after block in Node: what each track holds, without a device, an encoder or a clock. */
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Stop } from '../../core/motion/programme';
import { NO_PROGRAMME } from '../../core/programme/programme-state';
import { documentOf, recordsOf } from '../../core/show/document';
import type { AnyRecord } from '../../core/show/records';
import { waveFile } from '../../core/sound/wave-file';
import { isMade } from '../../engine/audio/made-sounds';
import { SoundThread } from '../../engine/audio/sound-thread';
import {
  assignStrips,
  deskSound,
  NOTHING_SWITCHED,
  stripSettings,
  type SoundSwitches,
} from '../../engine/audio/strip-orders';
import {
  BLOCK,
  createSoundMemory,
  MAX_STRIPS,
  MeterMemory,
  ProgrammeRing,
} from '../../protocol/shared-sound';
import type { StripOrder } from '../../protocol/sound-engine';

const RATE = 48_000;
const RNNOISE = path.resolve(
  import.meta.dirname,
  '../../node_modules/@shiguredo/rnnoise-wasm/dist/rnnoise_simd.wasm',
);

/** A few seconds of one track. */
export interface Heard {
  left: Float32Array;
  right: Float32Array;
}

export class DrivenSound {
  readonly thread: SoundThread;
  readonly #memory = createSoundMemory();
  readonly #rings = [1, 2, 3, 4, 5, 6].map((track) => new ProgrammeRing(this.#memory.ring, track));
  readonly #strips = new Map<string, number>();
  readonly #clock = new Int32Array(this.#memory.clock);
  #records: readonly AnyRecord[] = [];
  #onAir: Stop | null = null;
  #switches: SoundSwitches = NOTHING_SWITCHED;
  readonly meters = new MeterMemory(this.#memory.meters);

  constructor(records: readonly AnyRecord[], onAir: Stop | null = null) {
    const noise = readFileSync(RNNOISE);
    this.thread = new SoundThread(
      this.#memory,
      noise.buffer.slice(noise.byteOffset, noise.byteOffset + noise.length) as ArrayBuffer,
      () => 0,
    );
    this.set(records, onAir);
    // The first fifth of a second comes in by a ramp.
    this.render(0.5);
  }

  set(records: readonly AnyRecord[], onAir: Stop | null = this.#onAir): void {
    this.#records = records;
    this.#onAir = onAir;
    this.#say();
  }

  press(switches: Partial<SoundSwitches>): void {
    this.#switches = { ...this.#switches, ...switches };
    this.#say();
  }

  /** Renders so long. @returns all six tracks */
  render(seconds: number): Heard[] {
    const blocks = Math.round((seconds * RATE) / BLOCK);
    const tracks = this.#rings.map(() => ({
      left: new Float32Array(blocks * BLOCK),
      right: new Float32Array(blocks * BLOCK),
    }));
    const planar = new Float32Array(BLOCK * 2);
    for (let b = 0; b < blocks; b++) {
      this.thread.render([], []);
      const block = Atomics.load(this.#clock, 0) - 1;
      this.#rings.forEach((ring, track) => {
        ring.read(block, planar, 0);
        tracks[track].left.set(planar.subarray(0, BLOCK), b * BLOCK);
        tracks[track].right.set(planar.subarray(BLOCK), b * BLOCK);
      });
    }
    return tracks;
  }

  #say(): void {
    const document = documentOf([...this.#records]);
    const channels = recordsOf(document, 'channel');
    assignStrips(this.#strips, channels);
    const state = {
      document,
      programme: { ...NO_PROGRAMME, onAir: this.#onAir && { ...this.#onAir, sinceMs: 0 } },
      changeSeconds: 0,
      coughing: this.#switches.coughing,
      talk: this.#switches.talk,
      stripOf: (id: string) => this.#strips.get(id),
    };
    const put = channels.flatMap((channel): StripOrder[] => {
      const { source } = channel;
      const index = this.#strips.get(channel.id);
      if (index === undefined || !isMade(source)) return [];
      const settings = stripSettings(channel, state);
      return [{ index, source: { type: 'made', sound: source }, settings }];
    });
    const there = new Set(put.map((order) => order.index));
    const removed = Array.from({ length: MAX_STRIPS }, (_, i) => i).filter((i) => !there.has(i));
    this.thread.obey({ type: 'strips', put, removed, atSeconds: null });
    const strip = (id: string | null) => (id === null ? -1 : (this.#strips.get(id) ?? -1));
    const desk = deskSound(
      { document, programme: state.programme },
      this.#switches,
      [],
      { focus: null, echo: null },
      strip,
    );
    this.thread.obey({ type: 'desk', desk });
  }
}

/** For ffmpeg to listen to. */
export function writeHeard(file: string, { left, right }: Heard): string {
  writeFileSync(file, waveFile([left, right], RATE));
  return file;
}

/** Where it is silent (below −80 dBFS for at least `seconds`), by our own reckoning to the sample: from and length, seconds. */
export function silentParts({ left, right }: Heard, seconds: number): { from: number; length: number }[] {
  const found: { from: number; length: number }[] = [];
  let since = 0;
  for (let i = 0; i <= left.length; i++) {
    if (i < left.length && Math.abs(left[i]) < 1e-4 && Math.abs(right[i]) < 1e-4) continue;
    if (i - since >= seconds * RATE) found.push({ from: since / RATE, length: (i - since) / RATE });
    since = i + 1;
  }
  return found;
}
