/** What runs in the sound thread: reads every channel, mixes, measures, and hands the programme on through shared memory. */
import { RnnoiseModule } from '../../core/sound/chain/rnnoise';
import { Gate } from '../../core/sound/chain/gate';
import { MAX_PROCESSORS } from '../../core/sound/chain/chain-settings';
import { EffectPlayer } from '../../core/sound/effect-player';
import { MIXER_SAMPLE_RATE, TRACK_COUNT } from '../../core/sound/format';
import { MAX_GUESTS } from '../../core/guests/seats';
import { Mixer } from '../../core/sound/mixer';
import { FIRST_RETURN, type StripOrder, type ToMixer } from '../../protocol/sound-engine';
import {
  BLOCK,
  CLOCK,
  FileRing,
  MAX_STRIPS,
  MeterMemory,
  Probe,
  ProgrammeRing,
  type SoundMemory,
} from '../../protocol/shared-sound';
import { makeSound, type Made } from './made-sounds';

/** The stage ran on by itself while the sound thread stood still for longer than this: catch up. */
const CATCH_UP_BLOCKS = 375;
/** Integrated loudness walks a histogram: once a second is enough. */
const INTEGRATED_EVERY_BLOCKS = 375;
/** The balance of voices sums up eight seconds: a few times a second. */
const BALANCE_EVERY_BLOCKS = 96;
/** Blocks of one reading of the load: two seconds. */
const LOAD_BLOCKS = 750;
/** Meters are read at most 60 times a second; every third block is 125 a second. */
const METERS_EVERY_BLOCKS = 3;

interface StripSource {
  type: StripOrder['source']['type'] | 'none';
  made: Made | null;
  /** What it was made for. */
  madeFor: string;
  ring: FileRing | null;
  input: number;
}

/** Renders one block after the other; whoever calls `render` sets the pace. Allocates nothing while it renders. */
export class SoundThread {
  readonly #clock: Int32Array;
  readonly #rings: readonly ProgrammeRing[];
  readonly #meters: MeterMemory;
  readonly #probe: Probe;
  readonly #mixer: Mixer;
  readonly #effects = new EffectPlayer();
  readonly #speech = new EffectPlayer();
  readonly #sources: StripSource[] = Array.from({ length: MAX_STRIPS }, () => ({
    type: 'none',
    made: null,
    madeFor: '',
    ring: null,
    input: 0,
  }));
  readonly #left = new Float32Array(BLOCK);
  readonly #right = new Float32Array(BLOCK);
  readonly #silence = new Float32Array(BLOCK);
  #block = 0;
  #started = false;
  #busyMs = 0;
  #mixedMs = 0;
  #paintedMs = 0;
  #measured = 0;
  #focus = -1;
  #echo = -1;
  /** Whatever arrives in the first moments may stutter: it comes in with this ramp. */
  #warmUp = 0;

  /**
   * @param noise the noise reduction's module; without it that processor lets everything pass
   * @param nowMs for measuring how long a block takes; whole milliseconds are enough
   */
  constructor(
    sound: SoundMemory,
    noise: ArrayBuffer | null,
    readonly nowMs: () => number,
  ) {
    this.#clock = new Int32Array(sound.clock);
    this.#rings = Array.from({ length: TRACK_COUNT }, (_, i) => new ProgrammeRing(sound.ring, i + 1));
    this.#meters = new MeterMemory(sound.meters);
    this.#probe = new Probe(sound.probe);
    const module = noise && new RnnoiseModule(noise);
    this.#mixer = new Mixer(MAX_STRIPS, { denoiser: module && (() => module.open()) }, MAX_GUESTS);
  }

  obey(message: ToMixer): void {
    const mixer = this.#mixer;
    switch (message.type) {
      case 'strips':
        return this.#set(message.put, message.removed, this.#framesTo(message.atSeconds));
      case 'resetProgramme':
        return mixer.resetProgramme();
      case 'desk': {
        const { desk } = message;
        mixer.setCeiling(desk.ceilingDb);
        mixer.allMuted = desk.allMuted;
        mixer.solo = desk.solo;
        mixer.monitorGain = desk.monitorGain;
        mixer.windowsHear = desk.windows !== null;
        mixer.windowsWithout = desk.windows?.without ?? -1;
        mixer.setWings(desk.wings);
        desk.returns.forEach((sends, place) => mixer.setReturn(place, sends));
        mixer.setCompare(desk.compare);
        mixer.referenceFor = desk.echo;
        this.#focus = desk.focus;
        this.#echo = desk.echo;
        this.#probe.echoStrip = desk.echo;
        return;
      }
      case 'loadEffect':
        return this.#effects.load(message.id, message.left, message.right);
      case 'speak':
        this.#speech.load('speech', message.left, message.right);
        return void this.#speech.play('speech', 1, true);
      case 'unloadEffect':
        return this.#effects.unload(message.id);
      case 'playEffect':
        return void this.#effects.play(
          message.id,
          message.gain,
          message.restart,
          Math.max(0, this.#framesTo(message.atSeconds)),
        );
      case 'stopEffect':
        return this.#effects.stop(message.id, Math.round(message.seconds * 48_000));
    }
  }

  /** Samples from the next block to a moment of the programme; below zero when it is over, 0 for null. */
  #framesTo(atSeconds: number | null): number {
    return atSeconds === null || !this.#started
      ? 0
      : Math.round(atSeconds * MIXER_SAMPLE_RATE) - this.#block * BLOCK;
  }

  #set(put: readonly StripOrder[], removed: readonly number[], inFrames: number): void {
    for (const index of removed) {
      this.#sources[index].type = 'none';
      this.#mixer.setStrip(index, null);
      this.#meters.clearStrip(index);
    }
    for (const { index, source, settings } of put) {
      const own = this.#sources[index];
      own.type = source.type;
      const madeFor = source.type === 'made' ? JSON.stringify(source.sound) : '';
      if (source.type === 'made' && own.madeFor !== madeFor) own.made = makeSound(source.sound);
      own.madeFor = madeFor;
      if (source.type === 'file' && own.ring?.buffer !== source.ring) own.ring = new FileRing(source.ring);
      if (source.type === 'graph') own.input = source.input;
      this.#mixer.setStrip(index, settings, inFrames);
    }
  }

  /** One block. @param inputs of strips that take their sound from the graph @param outputs two sides each of the monitor and of clean windows, then one of each guest's return */
  render(inputs: Float32Array[][], outputs: Float32Array[][]): void {
    const began = this.nowMs();
    this.#render(inputs, outputs);
    this.#measureLoad(began);
  }

  /**
   * The clock here ticks in milliseconds; over hundreds of blocks the ticks that fall into the work add up to its time.
   * `mixing` leaves out what a made-up sound takes to be made, and counts a block as a millisecond at most: what takes
   * longer than that was interrupted by something else, or is a load of more than 37 % anyway.
   */
  #measureLoad(began: number): void {
    const busyMs = this.nowMs() - began;
    this.#busyMs += busyMs;
    this.#mixedMs += Math.min(1, Math.max(0, busyMs - this.#paintedMs));
    this.#paintedMs = 0;
    this.#measured += 1;
    if (this.#measured < LOAD_BLOCKS) return;
    const wholeMs = (LOAD_BLOCKS * BLOCK * 1000) / 48_000;
    this.#meters.writeProgramme('load', this.#busyMs / wholeMs);
    this.#meters.writeProgramme('mixing', this.#mixedMs / wholeMs);
    this.#busyMs = 0;
    this.#mixedMs = 0;
    this.#measured = 0;
  }

  #render(inputs: Float32Array[][], outputs: Float32Array[][]): void {
    const stage = Atomics.load(this.#clock, CLOCK.stageBlock);
    if (!this.#started) {
      this.#started = true;
      this.#block = stage + 1;
      Atomics.store(this.#clock, CLOCK.firstBlock, this.#block);
    } else if (stage - this.#block > CATCH_UP_BLOCKS) {
      Atomics.add(this.#clock, CLOCK.jumps, stage - this.#block);
      this.#block = stage;
      Atomics.store(this.#clock, CLOCK.firstBlock, stage);
      // What comes after the hole comes in softly.
      this.#warmUp = 0;
    }
    const block = this.#block;
    for (let i = 0; i < MAX_STRIPS; i++) this.#take(i, block, inputs);
    this.#mixer.finish(BLOCK);
    const { tracks } = this.#mixer;
    if (this.#warmUp < 1) {
      const { left, right } = tracks[0];
      for (let i = 0; i < BLOCK; i++) {
        left[i] *= this.#warmUp;
        right[i] *= this.#warmUp;
      }
      this.#warmUp = Math.min(1, this.#warmUp + 0.02);
    }
    for (let t = 0; t < TRACK_COUNT; t++)
      if (this.#mixer.uses(t + 1)) this.#rings[t].write(block, tracks[t].left, tracks[t].right);
    this.#writeProbe();
    this.#block = block + 1;
    Atomics.store(this.#clock, CLOCK.block, block + 1);
    if (block % METERS_EVERY_BLOCKS === 0) this.#writeMeters(block);
    const out = outputs[0];
    if (out?.[0]) {
      const { monitor } = this.#mixer;
      out[0].set(monitor.left);
      out[1]?.set(monitor.right);
    }
    const side = outputs[1];
    if (side?.[0]) {
      side[0].set(this.#mixer.windows.left);
      side[1]?.set(this.#mixer.windows.right);
    }
    const { returns } = this.#mixer;
    for (let r = 0; r < returns.length; r++) {
      const heard = returns[r];
      if (heard !== null) outputs[FIRST_RETURN + r]?.[0]?.set(heard.out);
    }
  }

  /** Brings one strip its block, from wherever its sound comes. */
  #take(index: number, block: number, inputs: Float32Array[][]): void {
    const source = this.#sources[index];
    const left = this.#left;
    const right = this.#right;
    switch (source.type) {
      case 'none':
        return;
      case 'graph': {
        const channels = inputs[source.input];
        if (!channels || channels.length === 0) this.#mixer.take(index, this.#silence, this.#silence, BLOCK);
        else this.#mixer.take(index, channels[0], channels[channels.length > 1 ? 1 : 0], BLOCK);
        return;
      }
      case 'made': {
        const began = this.nowMs();
        source.made!.generator.render(block * BLOCK, left, right, BLOCK);
        this.#paintedMs += this.nowMs() - began;
        break;
      }
      case 'file':
        source.ring!.read(block, left, right);
        break;
      case 'effects':
        this.#effects.render(left, right, BLOCK);
        break;
      case 'speech':
        this.#speech.render(left, right, BLOCK);
    }
    const isMono = source.type === 'made' && source.made!.mono;
    this.#mixer.take(index, left, isMono ? left : right, BLOCK);
  }

  #writeProbe(): void {
    const probe = this.#probe;
    const mixer = this.#mixer;
    const focus = mixer.strips[this.#focus] ?? null;
    probe.write('raw', focus === null ? this.#silence : focus.raw);
    probe.write('processed', focus === null ? this.#silence : focus.left);
    const echo = mixer.strips[this.#echo] ?? null;
    if (echo !== null) {
      probe.write('echoMicrophone', echo.raw);
      probe.write('echoReference', mixer.reference.left);
    }
    probe.write('programme', mixer.tracks[0].left);
    probe.advance();
  }

  #writeMeters(block: number): void {
    const meters = this.#meters;
    const slow = block % INTEGRATED_EVERY_BLOCKS < METERS_EVERY_BLOCKS;
    const { strips } = this.#mixer;
    for (let i = 0; i < MAX_STRIPS; i++) {
      const strip = strips[i];
      if (strip === null) continue;
      const { meter, loudness } = strip;
      meters.writeStrip(i, 'level', meter.level);
      meters.writeStrip(i, 'held', meter.held);
      meters.writeStrip(i, 'clipped', meter.clipped);
      meters.writeStrip(i, 'rms', meter.rms);
      meters.writeStrip(i, 'truePeak', strip.truePeak);
      meters.writeStrip(i, 'momentaryLufs', loudness.momentary);
      meters.writeStrip(i, 'shortTermLufs', loudness.shortTerm);
      meters.writeStrip(i, 'duckDb', strip.ducker.gainDb);
      meters.writeStrip(i, 'latencyFrames', strip.chain.latencyFrames);
      meters.writeStrip(i, 'missingFrames', strip.missingFrames);
      meters.writeStrip(i, 'faults', strip.faults);
      meters.writeStrip(i, 'dc', strip.dc);
      // One strip in each round: the histograms of all of them at once would be a long block.
      if (i === Math.floor(block / METERS_EVERY_BLOCKS) % MAX_STRIPS) {
        meters.writeStrip(i, 'integratedLufs', loudness.integrated());
        meters.writeStrip(i, 'rangeLu', loudness.range());
      }
    }
    const focus = strips[this.#focus] ?? null;
    if (focus !== null)
      for (let p = 0; p < MAX_PROCESSORS; p++) {
        const processor = focus.chain.processorAt(p);
        if (processor === null) break;
        meters.writeProcessor(p, 'inputDb', processor.inputDb);
        meters.writeProcessor(p, 'gainDb', processor.gainDb);
        if (processor instanceof Gate) {
          meters.writeProcessor(
            p,
            'state',
            processor.frames > 0 ? processor.openFrames / processor.frames : 0,
          );
          processor.forgetSlowly();
        }
      }
    const { programme, loudness, limiter, truePeak, balance } = this.#mixer;
    meters.writeProgramme('level', programme.level);
    meters.writeProgramme('held', programme.held);
    meters.writeProgramme('clipped', programme.clipped);
    meters.writeProgramme('rms', programme.rms);
    meters.writeProgramme('momentaryLufs', loudness.momentary);
    meters.writeProgramme('shortTermLufs', loudness.shortTerm);
    meters.writeProgramme('truePeak', truePeak);
    meters.writeProgramme('limiterGain', limiter.lowestGain);
    meters.writeProgramme('voiceLufs', this.#mixer.voiceLufs);
    meters.writeProgramme('restLufs', this.#mixer.restLufs);
    limiter.lowestGain = Math.min(1, limiter.lowestGain + 0.02);
    if (slow) {
      meters.writeProgramme('integratedLufs', loudness.integrated());
      meters.writeProgramme('loudnessBlocks', loudness.gatedBlocks);
      meters.writeProgramme('rangeLu', loudness.range());
    } else if (block % BALANCE_EVERY_BLOCKS < METERS_EVERY_BLOCKS)
      meters.writeProgramme('ratioLu', balance.ratioLu());
  }
}
