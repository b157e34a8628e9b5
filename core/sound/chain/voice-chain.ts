import { BLOCK_FRAMES, MIXER_SAMPLE_RATE } from '../format';
import { DelayLine } from '../delay-line';
import { Limiter } from '../limiter';
import { MAX_PROCESSORS, type ChainSettings, type Processor, type ProcessorOf } from './chain-settings';
import { Compressor } from './compressor';
import { Expander } from './expander';
import { DeEsser, DeHum, Equaliser } from './filters';
import { Gate } from './gate';
import { NoiseReduction } from './noise-reduction';
import { applyGain, dbOf, peakOf, type SoundProcessor } from './processor';
import type { Denoiser } from './rnnoise';

/** What the chain cannot make by itself. */
export interface ChainParts {
  /** Null where no denoiser could be loaded: the processor then passes the sound on. */
  denoiser: (() => Denoiser) | null;
  /** Which of the channels this is; spreads the work of noise reduction over blocks. */
  stagger: number;
}

class ChainLimiter implements SoundProcessor {
  readonly latencyFrames = Limiter.latencyFrames;
  inputDb = -120;
  gainDb = 0;
  readonly #limiter: Limiter;
  constructor({ values }: ProcessorOf<'limiter'>) {
    this.#limiter = new Limiter(values.ceilingDb, values.releaseMs);
  }
  set({ values }: ProcessorOf<'limiter'>): void {
    this.#limiter.set(values.ceilingDb, values.releaseMs);
  }
  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    this.inputDb = dbOf(peakOf(left, right, 0, frames));
    this.#limiter.lowestGain = 1;
    this.#limiter.process(left, right, frames);
    this.gainDb = dbOf(this.#limiter.lowestGain);
  }
}

/** Stands in the place of a processor that cannot be had, so that the others keep theirs. */
class Passing implements SoundProcessor {
  readonly latencyFrames = 0;
  inputDb = -120;
  readonly gainDb = 0;
  set(): void {}
  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    this.inputDb = dbOf(peakOf(left, right, 0, frames));
  }
}

function make(settings: Processor, parts: ChainParts): SoundProcessor {
  switch (settings.type) {
    case 'noise':
      return parts.denoiser
        ? new NoiseReduction(settings.values, parts.stagger, parts.denoiser)
        : new Passing();
    case 'gate':
      return new Gate(settings.values, MIXER_SAMPLE_RATE);
    case 'expander':
      return new Expander(settings.values, MIXER_SAMPLE_RATE);
    case 'dehum':
      return new DeHum(settings.values, MIXER_SAMPLE_RATE);
    case 'deesser':
      return new DeEsser(settings.values, MIXER_SAMPLE_RATE);
    case 'compressor':
      return new Compressor(settings.values, settings.autoMakeUp, MIXER_SAMPLE_RATE);
    case 'equaliser':
      return new Equaliser(settings.bands, MIXER_SAMPLE_RATE);
    case 'limiter':
      return new ChainLimiter(settings);
  }
}

function change(processor: SoundProcessor, settings: Processor): void {
  if (settings.type === 'compressor') (processor as Compressor).set(settings.values, settings.autoMakeUp);
  else if (settings.type === 'equaliser') (processor as Equaliser).set(settings.bands);
  else if (settings.type === 'limiter') (processor as ChainLimiter).set(settings);
  else (processor as unknown as { set(values: object): void }).set(settings.values);
}

/** One processor in its place, with the untouched sound beside it for passing by. */
class Slot {
  settings: Processor;
  readonly processor: SoundProcessor;
  /** 1 works, 0 is passed by. */
  share: number;
  readonly #delays: readonly [DelayLine, DelayLine] | null;

  constructor(settings: Processor, processor: SoundProcessor, working: boolean) {
    this.settings = settings;
    this.processor = processor;
    this.share = working ? 1 : 0;
    const { latencyFrames } = processor;
    this.#delays = latencyFrames === 0 ? null : [new DelayLine(latencyFrames), new DelayLine(latencyFrames)];
    for (const line of this.#delays ?? []) line.setDelay(latencyFrames, true);
  }

  /** Keeps the untouched sound for the moment it is switched off. */
  keepPast(left: Float32Array, right: Float32Array | null, frames: number): void {
    this.#delays?.[0].keep(left, frames);
    if (right !== null) this.#delays?.[1].keep(right, frames);
  }

  /** Puts the untouched sound, as late as the processed one, into the two buffers. */
  keepDry(
    left: Float32Array,
    right: Float32Array | null,
    dryLeft: Float32Array,
    dryRight: Float32Array,
    frames: number,
  ): void {
    if (this.#delays) {
      this.#delays[0].process(left, dryLeft, frames);
      if (right !== null) this.#delays[1].process(right, dryRight, frames);
      return;
    }
    for (let i = 0; i < frames; i++) dryLeft[i] = left[i];
    if (right !== null) for (let i = 0; i < frames; i++) dryRight[i] = right[i];
  }
}

/** Samples over which a processor is faded in or out when it is switched: 5 ms. */
const SWITCH_BLOCKS = 2;

/**
 * The ordered processors of one channel. Works on blocks of `BLOCK_FRAMES`; changing settings keeps the state of every
 * processor whose id stays. When processors come, go or change places the sound dips for two blocks instead of clicking.
 */
export class VoiceChain {
  #slots: Slot[] = [];
  #coming: Slot[] | null = null;
  #bypassed = false;
  #rising = false;
  readonly #dryLeft = new Float32Array(BLOCK_FRAMES);
  readonly #dryRight = new Float32Array(BLOCK_FRAMES);

  constructor(readonly parts: ChainParts) {}

  /** Samples by which the output is late; the same whether processors are passed by or not. */
  get latencyFrames(): number {
    let sum = 0;
    for (const slot of this.#coming ?? this.#slots) sum += slot.processor.latencyFrames;
    return sum;
  }

  /** For readings: the one in the place that it has in the settings. */
  processorAt(index: number): SoundProcessor | null {
    return this.#slots[index]?.processor ?? null;
  }

  set({ bypassed, processors }: ChainSettings): void {
    this.#bypassed = bypassed;
    const now = this.#coming ?? this.#slots;
    const known = new Map(now.map((slot) => [slot.settings.id, slot]));
    const next: Slot[] = [];
    for (const settings of processors.slice(0, MAX_PROCESSORS)) {
      const slot = known.get(settings.id);
      if (slot && slot.settings.type === settings.type) {
        if (slot.settings !== settings) change(slot.processor, settings);
        slot.settings = settings;
        next.push(slot);
      } else {
        next.push(new Slot(settings, make(settings, this.parts), settings.on && !bypassed));
      }
    }
    const same = next.length === now.length && next.every((slot, i) => slot === now[i]);
    if (same) return;
    for (const { processor } of this.#coming ?? [])
      if (
        processor instanceof NoiseReduction &&
        !next.some((slot) => slot.processor === processor) &&
        !this.#slots.some((slot) => slot.processor === processor)
      )
        processor.close();
    if (this.#slots.length === 0) this.#slots = next;
    else this.#coming = next;
  }

  /** The new order takes over; what is no longer in it gives its memory back. */
  #swap(next: Slot[]): void {
    for (const { processor } of this.#slots)
      if (processor instanceof NoiseReduction && !next.some((slot) => slot.processor === processor))
        processor.close();
    this.#slots = next;
    this.#coming = null;
  }

  /** Processes one block in place. */
  process(left: Float32Array, right: Float32Array | null, frames: number): void {
    this.#run(left, right, frames);
    if (this.#coming !== null) {
      // Down with the old order, in the next block up with the new one.
      applyGain(left, right, 0, frames, 1, 0);
      this.#swap(this.#coming);
      this.#rising = true;
    } else if (this.#rising) {
      applyGain(left, right, 0, frames, 0, 1);
      this.#rising = false;
    }
  }

  #run(left: Float32Array, right: Float32Array | null, frames: number): void {
    for (let s = 0; s < this.#slots.length; s++) {
      const slot = this.#slots[s];
      const target = slot.settings.on && !this.#bypassed ? 1 : 0;
      const from = slot.share;
      const delayed = slot.processor.latencyFrames > 0;
      if (target === 1 && from === 1 && !delayed) {
        slot.processor.process(left, right, frames);
        continue;
      }
      if (target === 1 && from === 1) {
        slot.keepPast(left, right, frames);
        slot.processor.process(left, right, frames);
        continue;
      }
      slot.keepDry(left, right, this.#dryLeft, this.#dryRight, frames);
      // It goes on working while it is passed by: switched on again it knows the sound already.
      slot.processor.process(left, right, frames);
      const to =
        target > from ? Math.min(1, from + 1 / SWITCH_BLOCKS) : Math.max(0, from - 1 / SWITCH_BLOCKS);
      mix(left, this.#dryLeft, from, to, frames);
      if (right !== null) mix(right, this.#dryRight, from, to, frames);
      slot.share = to;
    }
  }
}

function mix(wet: Float32Array, dry: Float32Array, from: number, to: number, frames: number): void {
  if (from === 0 && to === 0) {
    for (let i = 0; i < frames; i++) wet[i] = dry[i];
    return;
  }
  const step = (to - from) / frames;
  let share = from;
  for (let i = 0; i < frames; i++) {
    share += step;
    wet[i] = dry[i] + (wet[i] - dry[i]) * share;
  }
}
