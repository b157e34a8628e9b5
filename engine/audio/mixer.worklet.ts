/** The sound thread: reads every channel, mixes, measures, and hands the programme on through shared memory. */
import { Mixer } from '../../core/sound/mixer';
import type { StripSetting, ToMixer } from '../../protocol/engine';
import {
  BLOCK,
  CLOCK,
  FileRing,
  MAX_STRIPS,
  MeterMemory,
  ProgrammeRing,
  PROGRAMME_SLOT,
  type SoundMemory,
} from '../../protocol/shared-sound';
import { createSound, type SoundGenerator } from '../../standins/inputs/sounds/generators';

// The worklet's global scope has no types in the DOM library.
declare const registerProcessor: (name: string, processor: unknown) => void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

/** The stage ran on by itself while the sound thread stood still for longer than this: catch up. */
const CATCH_UP_BLOCKS = 375;
/** Integrated loudness walks a histogram: once a second is enough. */
const INTEGRATED_EVERY_BLOCKS = 375;
/** Meters are read at most 60 times a second; every third block is 125 a second. */
const METERS_EVERY_BLOCKS = 3;

interface StripSource {
  type: StripSetting['source']['type'];
  generator: SoundGenerator | null;
  /** What the generator was made for. */
  sound: string;
  ring: FileRing | null;
  input: number;
}

class MixerProcessor extends AudioWorkletProcessor {
  readonly #clock: Int32Array;
  readonly #programme: ProgrammeRing;
  readonly #meters: MeterMemory;
  readonly #mixer = new Mixer(MAX_STRIPS);
  readonly #sources: StripSource[] = Array.from({ length: MAX_STRIPS }, () => ({
    type: 'none',
    generator: null,
    sound: '',
    ring: null,
    input: 0,
  }));
  readonly #left = new Float32Array(BLOCK);
  readonly #right = new Float32Array(BLOCK);
  readonly #outLeft = new Float32Array(BLOCK);
  readonly #outRight = new Float32Array(BLOCK);
  #block = 0;
  #started = false;
  /** Whatever arrives in the first moments may stutter: it comes in with this ramp. */
  #warmUp = 0;

  constructor(options: { processorOptions: { sound: SoundMemory } }) {
    super();
    const { sound } = options.processorOptions;
    this.#clock = new Int32Array(sound.clock);
    this.#programme = new ProgrammeRing(sound.ring);
    this.#meters = new MeterMemory(sound.meters);
    this.port.onmessage = ({ data }: MessageEvent<ToMixer>) => {
      if (data.type === 'strips') this.#set(data.strips);
      else this.#mixer.resetProgramme();
    };
  }

  #set(strips: readonly StripSetting[]): void {
    const used = new Set<number>();
    for (const { index, source, gainDb, muted } of strips) {
      used.add(index);
      const own = this.#sources[index];
      own.type = source.type;
      if (source.type === 'simulated') {
        if (own.sound !== source.sound) own.generator = createSound(source.sound);
        own.sound = source.sound;
      } else own.sound = '';
      if (source.type === 'file' && own.ring?.buffer !== source.ring) own.ring = new FileRing(source.ring);
      if (source.type === 'graph') own.input = source.input;
      this.#mixer.setStrip(index, gainDb, muted);
    }
    for (let i = 0; i < MAX_STRIPS; i++)
      if (!used.has(i)) {
        this.#sources[i].type = 'none';
        this.#mixer.setStrip(i, 0, true);
        this.#meters.writeStrip(i, 0, 0, 0);
      }
  }

  process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const stage = Atomics.load(this.#clock, CLOCK.stageBlock);
    if (!this.#started) {
      this.#started = true;
      this.#block = stage + 1;
      Atomics.store(this.#clock, CLOCK.firstBlock, this.#block);
    } else if (stage - this.#block > CATCH_UP_BLOCKS) {
      Atomics.add(this.#clock, CLOCK.jumps, stage - this.#block);
      this.#block = stage;
      Atomics.store(this.#clock, CLOCK.firstBlock, stage);
    }
    const block = this.#block;
    const outLeft = this.#outLeft;
    const outRight = this.#outRight;
    outLeft.fill(0);
    outRight.fill(0);
    for (let i = 0; i < MAX_STRIPS; i++) {
      const source = this.#sources[i];
      if (source.type === 'none') continue;
      if (source.type === 'graph') {
        const channels = inputs[source.input];
        if (!channels || channels.length === 0) {
          this.#left.fill(0);
          this.#mixer.add(i, this.#left, this.#left, outLeft, outRight, BLOCK);
        } else
          this.#mixer.add(i, channels[0], channels[channels.length > 1 ? 1 : 0], outLeft, outRight, BLOCK);
        continue;
      }
      if (source.type === 'simulated')
        source.generator!.render(block * BLOCK, this.#left, this.#right, BLOCK);
      else source.ring!.read(block, this.#left, this.#right);
      this.#mixer.add(i, this.#left, this.#right, outLeft, outRight, BLOCK);
    }
    if (this.#warmUp < 1) {
      for (let i = 0; i < BLOCK; i++) {
        outLeft[i] *= this.#warmUp;
        outRight[i] *= this.#warmUp;
      }
      this.#warmUp = Math.min(1, this.#warmUp + 0.02);
    }
    this.#mixer.finish(outLeft, outRight, BLOCK);
    this.#programme.write(block, outLeft, outRight);
    this.#block = block + 1;
    Atomics.store(this.#clock, CLOCK.block, block + 1);
    if (block % METERS_EVERY_BLOCKS === 0) this.#writeMeters(block);
    const out = outputs[0];
    if (out?.[0]) {
      out[0].set(outLeft);
      out[1]?.set(outRight);
    }
    return true;
  }

  #writeMeters(block: number): void {
    const meters = this.#meters;
    for (let i = 0; i < MAX_STRIPS; i++) {
      if (this.#sources[i].type === 'none') continue;
      const meter = this.#mixer.meterOf(i);
      meters.writeStrip(i, meter.level, meter.held, meter.clipped);
    }
    const { programme, loudness, limiter, truePeak } = this.#mixer;
    meters.writeProgramme(PROGRAMME_SLOT.level, programme.level);
    meters.writeProgramme(PROGRAMME_SLOT.held, programme.held);
    meters.writeProgramme(PROGRAMME_SLOT.clipped, programme.clipped);
    meters.writeProgramme(PROGRAMME_SLOT.momentary, loudness.momentary);
    meters.writeProgramme(PROGRAMME_SLOT.shortTerm, loudness.shortTerm);
    meters.writeProgramme(PROGRAMME_SLOT.truePeak, truePeak);
    meters.writeProgramme(PROGRAMME_SLOT.limiterGain, limiter.lowestGain);
    limiter.lowestGain = Math.min(1, limiter.lowestGain + 0.02);
    if (block % INTEGRATED_EVERY_BLOCKS < METERS_EVERY_BLOCKS)
      meters.writeProgramme(PROGRAMME_SLOT.integrated, loudness.integrated());
  }
}

registerProcessor('dolomite-mixer', MixerProcessor);
