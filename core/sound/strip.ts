import { faderGain } from './decibel';
import { DelayLine } from './delay-line';
import { Ducker, type DuckingValues } from './ducker';
import { ALIGN_FRAMES, BLOCK_FRAMES, MIXER_SAMPLE_RATE, OFFSET_MAX_MS, TRACK_COUNT } from './format';
import { LevelCourse, type LevelOrder } from './level-course';
import { LoudnessMeter } from './loudness-meter';
import { CLIP_AT, PeakMeter } from './peak-meter';
import { TruePeakDetector } from './true-peak';
import type { CompareTap } from './compare-tap';
import { EMPTY_CHAIN, type ChainSettings } from './chain/chain-settings';
import { VoiceChain, type ChainParts } from './chain/voice-chain';

export const MONITOR_MODES = ['off', 'with', 'only'] as const;
/** Not in the headphones; in them and in the programme; in them alone. */
export type MonitorMode = (typeof MONITOR_MODES)[number];
export const CHANNEL_ROLES = ['voice', 'background'] as const;
/** Whether a channel counts as a voice or as what voices must stand above. */
export type ChannelRole = (typeof CHANNEL_ROLES)[number];

export interface StripSettings {
  /** Gain in front of everything, dB: what the soundcheck sets. */
  trimDb: number;
  gainDb: number;
  /** How long a new level takes to be reached, seconds; 0 as fast as it can without a click. */
  levelSeconds: number;
  muted: boolean;
  /** −1 left … 1 right. */
  pan: number;
  /** Both sides are summed to one. */
  mono: boolean;
  inverted: boolean;
  /** Later (positive) or earlier than its picture, −200…2000. */
  offsetMs: number;
  monitor: MonitorMode;
  /** Numbers 1…6; 1 is the programme. */
  tracks: readonly number[];
  role: ChannelRole;
  /** Heard in the present scene. */
  present: boolean;
  /** How long it takes to come and go with a scene, seconds. */
  fadeSeconds: number;
  chain: ChainSettings;
  ducking: (DuckingValues & { key: number }) | null;
}

export const PLAIN_STRIP: StripSettings = {
  trimDb: 0,
  gainDb: 0,
  levelSeconds: 0,
  muted: false,
  pan: 0,
  mono: false,
  inverted: false,
  offsetMs: 0,
  monitor: 'off',
  tracks: [1],
  role: 'background',
  present: true,
  fadeSeconds: 0.02,
  chain: EMPTY_CHAIN,
  ducking: null,
};

/** Samples beyond ±8 (18 dB over full scale) are a fault of the source, not sound. */
const LIMIT = 8;
/** Tracks 1…6 and the monitor. */
const BUSES = TRACK_COUNT + 1;
export const MONITOR_SEND = TRACK_COUNT;
/** What is switched takes four blocks: without a click. */
const SWITCH_STEP = 0.25;
/** Blocks of silence after which chains have rung out: about a second. */
const RUNG_OUT = 400;
/** …and after which the longest delay line is empty too. */
const EMPTY_AFTER = RUNG_OUT + Math.ceil((ALIGN_FRAMES + OFFSET_MAX_MS * 48) / BLOCK_FRAMES);

/** Multiplies into another buffer by a gain that goes in a straight line. @returns the gain at the end */
function ramp(x: Float32Array, out: Float32Array, from: number, to: number, frames: number): number {
  if (from === to) for (let i = 0; i < frames; i++) out[i] = x[i] * to;
  else {
    const step = (to - from) / frames;
    let gain = from;
    for (let i = 0; i < frames; i++) {
      gain += step;
      out[i] = x[i] * gain;
    }
  }
  return to;
}

/** One channel: takes a block in, runs its chain, and holds what the buses take from it. Allocates nothing in `take`. */
export class Strip {
  readonly meter = new PeakMeter();
  readonly chain: VoiceChain;
  readonly ducker = new Ducker();
  settings: StripSettings = PLAIN_STRIP;
  /** Fader alone. */
  fader = 1;
  truePeak = 0;
  /** Samples that were no numbers or beyond all measure, since construction. */
  faults = 0;
  /** Mean of the input over about a second: what a broken cable or interface adds. */
  dc = 0;
  /** Largest absolute sample behind chain and fader in this block: the key of others' ducking. */
  keyPeak = 0;
  /** Untouched input of this block, one voice: for the soundcheck, the echo finder and drawings. */
  readonly raw = new Float32Array(BLOCK_FRAMES);
  /** Behind the chain. */
  readonly left = new Float32Array(BLOCK_FRAMES);
  readonly right = new Float32Array(BLOCK_FRAMES);
  /** Behind ducking and pan. Fader, mute and scene come after it: for the monitor at once, for the programme when it gets there. */
  readonly outLeft = new Float32Array(BLOCK_FRAMES);
  readonly outRight = new Float32Array(BLOCK_FRAMES);
  /** Heard in the headphones in place of the processed sound, as loud; null for not comparing. */
  compare: CompareTap | null = null;
  #gainLeft = 0;
  #gainRight = 0;
  /** How much goes to each bus at the begin and the end of the block, 0…1: switched without a click. */
  readonly sendFrom = new Float64Array(BUSES);
  readonly sendTo = new Float64Array(BUSES);
  readonly #delays: readonly [DelayLine, DelayLine];
  readonly delayedLeft = new Float32Array(BLOCK_FRAMES);
  readonly delayedRight = new Float32Array(BLOCK_FRAMES);
  readonly #peakLeft = new TruePeakDetector();
  readonly #peakRight = new TruePeakDetector();
  readonly #loudness: readonly [LoudnessMeter, LoudnessMeter] = [
    new LoudnessMeter(1, 2),
    new LoudnessMeter(2),
  ];
  readonly #one: Float32Array[] = [this.left];
  readonly #both: Float32Array[] = [this.left, this.right];
  #single = false;
  /** Fader, mute and scene as the headphones have them: now. */
  readonly now = new LevelCourse();
  /** Of somebody in the wings: heard in the headphones by their fader alone, by nobody else. */
  inWings = false;
  readonly wings = { from: 0, to: 0 };
  /** As the programme has them, by its own time: it is `ALIGN_FRAMES` late. */
  readonly later = new LevelCourse();
  #frame = 0;
  #trim = 1;
  #trimNow = 1;
  #monoShare = 0;
  #fresh = true;
  #idle = 0;

  constructor(parts: ChainParts) {
    this.chain = new VoiceChain(parts);
    const longest = ALIGN_FRAMES + (OFFSET_MAX_MS * MIXER_SAMPLE_RATE) / 1000;
    this.#delays = [new DelayLine(longest), new DelayLine(longest)];
  }

  get loudness(): LoudnessMeter {
    return this.#loudness[this.#single ? 0 : 1];
  }

  /** By how many samples the programme is not reached because chain and offset want more than there is. */
  get missingFrames(): number {
    return Math.max(0, -this.#wantedDelay());
  }

  #wantedDelay(): number {
    const offset = Math.round((this.settings.offsetMs * MIXER_SAMPLE_RATE) / 1000);
    return ALIGN_FRAMES - this.chain.latencyFrames + offset;
  }

  /** @param inFrames samples from now to the moment in which fader, mute and scene change in the programme; may be over */
  set(settings: StripSettings, inFrames = 0): void {
    this.settings = settings;
    this.fader = faderGain(settings.gainDb);
    this.#trim = 10 ** (settings.trimDb / 20) * (settings.inverted ? -1 : 1);
    this.chain.set(settings.chain);
    const delay = this.#wantedDelay();
    for (const line of this.#delays) line.setDelay(delay, this.#fresh);
    const order: LevelOrder = {
      level: settings.muted ? 0 : this.fader,
      levelSeconds: settings.levelSeconds,
      present: settings.present,
      fadeSeconds: settings.fadeSeconds,
    };
    if (this.#fresh) {
      this.now.start(order);
      this.later.start(order);
    } else {
      this.now.order(this.#frame + Math.max(0, inFrames), order);
      this.later.order(this.#frame + inFrames + ALIGN_FRAMES, order);
    }
    if (this.#fresh) {
      this.#trimNow = this.#trim;
      this.#monoShare = settings.mono ? 1 : 0;
      for (let bus = 0; bus < BUSES; bus++) this.sendTo[bus] = this.#wantsSend(bus, 0) ? 1 : 0;
    }
  }

  /** Whether the channel goes to a bus: 0…5 the tracks, 6 the monitor. */
  #wantsSend(bus: number, solo: number): boolean {
    const { monitor, tracks } = this.settings;
    if (bus === MONITOR_SEND) return solo === 0 ? monitor !== 'off' : solo === 1;
    return tracks.includes(bus + 1) && !(bus === 0 && monitor === 'only');
  }

  /** Takes one block in, through trim, phase, mono and chain. The same array on both sides means one voice. */
  take(inLeft: Float32Array, inRight: Float32Array, frames: number): void {
    this.#fresh = false;
    const { settings, left, right, raw } = this;
    let mono = this.#monoShare;
    this.#monoShare = settings.mono ? Math.min(1, mono + 0.25) : Math.max(0, mono - 0.25);
    const monoStep = (this.#monoShare - mono) / frames;
    const single = inLeft === inRight || (mono === 1 && this.#monoShare === 1);
    this.#single = single;
    let gain = this.#trimNow;
    const step = (this.#trim - gain) / frames;
    this.#trimNow = this.#trim;
    let clipped = 0;
    let sum = 0;
    let inPeak = 0;
    for (let i = 0; i < frames; i++) {
      let l = inLeft[i];
      let r = inRight[i];
      if (!(l < LIMIT && l > -LIMIT && r < LIMIT && r > -LIMIT)) {
        this.faults += 1;
        l = l >= LIMIT ? 1 : l <= -LIMIT ? -1 : l === l ? l : 0;
        r = r >= LIMIT ? 1 : r <= -LIMIT ? -1 : r === r ? r : 0;
      }
      const middle = inLeft === inRight ? l : (l + r) * 0.5;
      raw[i] = middle;
      sum += middle;
      const al = l < 0 ? -l : l;
      const ar = r < 0 ? -r : r;
      const a = al > ar ? al : ar;
      if (a > inPeak) inPeak = a;
      if (a >= CLIP_AT) clipped += 1;
      gain += step;
      if (single) left[i] = middle * gain;
      else {
        mono += monoStep;
        left[i] = (l + (middle - l) * mono) * gain;
        right[i] = (r + (middle - r) * mono) * gain;
      }
    }
    this.dc += (sum / frames - this.dc) * 0.003;
    // A channel that has been silent for long (chains ring and look ahead) needs no work.
    this.#idle = inPeak === 0 ? this.#idle + 1 : 0;
    if (this.#idle > RUNG_OUT) {
      left.fill(0);
      right.fill(0);
    } else {
      this.compare?.keep(left, right, single, frames);
      this.chain.process(left, single ? null : right, frames);
      if (single) right.set(left);
    }
    let peak = 0;
    let square = 0;
    for (let i = 0; i < frames; i++) {
      const l = left[i];
      const r = right[i];
      const al = l < 0 ? -l : l;
      const ar = r < 0 ? -r : r;
      const a = al > ar ? al : ar;
      if (a > peak) peak = a;
      square += l * l + r * r;
    }
    const { fader } = this;
    this.keyPeak = settings.muted || !settings.present ? 0 : peak * fader;
    this.meter.take(peak * fader, clipped, (square / (2 * frames)) * fader * fader);
    if (fader > 0 && peak > 0) {
      this.truePeak = this.#peakLeft.maxOver(left, frames, this.truePeak / fader) * fader;
      if (!single) this.truePeak = this.#peakRight.maxOver(right, frames, this.truePeak / fader) * fader;
    }
    this.loudness.process(single ? this.#one : this.#both, frames, fader);
  }

  /**
   * Works out the gains of this block and brings the channel to the programme's time.
   * @param key peak of the channel that ducks this one, 0 without
   * @param solo 0 nothing is heard alone, 1 this one is, −1 another is
   */
  arrange(key: number, solo: number, frames: number): void {
    const { settings } = this;
    for (let bus = 0; bus < BUSES; bus++) {
      const before = this.sendTo[bus];
      this.sendFrom[bus] = before;
      this.sendTo[bus] = this.#wantsSend(bus, solo)
        ? Math.min(1, before + SWITCH_STEP)
        : Math.max(0, before - SWITCH_STEP);
    }
    const duck = this.ducker.step(settings.ducking, key);
    const frame = this.#frame;
    this.#frame = frame + frames;
    this.now.step(frame, frames);
    this.later.step(frame, frames);
    const { wings } = this;
    wings.from = wings.to;
    const wanted = this.inWings ? this.fader : 0;
    wings.to += Math.max(-SWITCH_STEP, Math.min(SWITCH_STEP, wanted - wings.to));
    const gain = duck;
    const angle = ((settings.pan + 1) * Math.PI) / 4;
    // Equal power, and unity in the middle: the near side rises by 3 dB at most.
    const toLeft = settings.pan === 0 ? gain : gain * Math.SQRT2 * Math.cos(angle);
    const toRight = settings.pan === 0 ? gain : gain * Math.SQRT2 * Math.sin(angle);
    if (this.#idle > EMPTY_AFTER) {
      // Everything has left the delay lines too.
      this.#gainLeft = toLeft;
      this.#gainRight = toRight;
      return;
    }
    this.compare?.take(this, frames);
    this.#gainLeft = ramp(this.left, this.outLeft, this.#gainLeft, toLeft, frames);
    this.#gainRight = ramp(this.right, this.outRight, this.#gainRight, toRight, frames);
    this.#delays[0].process(this.outLeft, this.delayedLeft, frames);
    this.#delays[1].process(this.outRight, this.delayedRight, frames);
    this.compare?.replace(this, frames);
  }

  /** Nothing is playing here and nothing rings on: sums need not be made. */
  get idle(): boolean {
    return this.#idle > EMPTY_AFTER;
  }
}
