import { faderGain } from './decibel';
import { StereoLimiter } from './limiter';
import { LoudnessMeter } from './loudness-meter';
import { TruePeakDetector } from './true-peak';

export const MIXER_SAMPLE_RATE = 48_000;
export const BLOCK_FRAMES = 128;
/** Sample count at and above which a sample counts as clipped: one 16-bit step under full scale. */
const CLIP_AT = 32767 / 32768;
/** Meters fall 20 dB in 1.7 s (IEC 60268-10 type I), per block. */
const FALL_PER_BLOCK = 10 ** ((-(20 / 1.7) * (BLOCK_FRAMES / MIXER_SAMPLE_RATE)) / 20);
/** Peaks stand for 1.5 s before they fall. */
const HOLD_BLOCKS = Math.round((1.5 * MIXER_SAMPLE_RATE) / BLOCK_FRAMES);

/** One meter: level with ballistics, held peak, number of clipped samples. Linear values. */
export class PeakMeter {
  level = 0;
  held = 0;
  clipped = 0;
  #heldFor = 0;

  /** @param peak largest absolute sample of one block */
  take(peak: number, clipped: number): void {
    const fallen = this.level * FALL_PER_BLOCK;
    this.level = peak > fallen ? peak : fallen;
    this.clipped += clipped;
    if (peak >= this.held || this.#heldFor > HOLD_BLOCKS) {
      this.held = peak >= this.held ? peak : this.level;
      this.#heldFor = 0;
    } else this.#heldFor += 1;
  }
}

class Strip {
  readonly meter = new PeakMeter();
  /** Fader alone, for the meter. */
  fader = 1;
  /** Fader and mute together, and how far the glide has got. */
  target = 1;
  gain = 0;
}

/**
 * Gain, mute, sum, metering and a safety limiter for up to `strips` stereo channels. `process` allocates nothing.
 *
 * The programme is late by `StereoLimiter.latencyFrames` against the inputs.
 */
export class Mixer {
  readonly strips: readonly Strip[];
  readonly programme = new PeakMeter();
  readonly loudness = new LoudnessMeter(2);
  /** Highest true peak of the programme since `resetProgramme`, linear. */
  truePeak = 0;
  readonly limiter = new StereoLimiter(-1);
  readonly #peakLeft = new TruePeakDetector();
  readonly #peakRight = new TruePeakDetector();
  readonly #both: [Float32Array, Float32Array] = [new Float32Array(0), new Float32Array(0)];

  constructor(strips: number) {
    this.strips = Array.from({ length: strips }, () => new Strip());
  }

  /** @param gainDb fader, dB; muted channels keep their meter, so that one sees who is talking unheard */
  setStrip(index: number, gainDb: number, muted: boolean): void {
    const strip = this.strips[index];
    strip.fader = faderGain(gainDb);
    strip.target = muted ? 0 : strip.fader;
  }

  /** Meter of a strip: behind its fader and before its mute. Clipping is counted at the input, where it happens. */
  meterOf(index: number): PeakMeter {
    return this.strips[index].meter;
  }

  /** Adds one channel's block to the programme buffers; the gain glides over the block so that nothing clicks. */
  add(
    index: number,
    left: Float32Array,
    right: Float32Array,
    outLeft: Float32Array,
    outRight: Float32Array,
    frames: number,
  ): void {
    const strip = this.strips[index];
    let gain = strip.gain;
    // A third of the way per block (2.7 ms): within 1 % after 30 ms, at once for a mute and without a click.
    const end = Math.abs(strip.target - gain) < 1e-5 ? strip.target : gain + (strip.target - gain) / 3;
    const step = (end - gain) / frames;
    let peak = 0;
    let clipped = 0;
    const silent = gain === 0 && end === 0;
    for (let i = 0; i < frames; i++) {
      const l = left[i];
      const r = right[i];
      const al = l < 0 ? -l : l;
      const ar = r < 0 ? -r : r;
      const a = al > ar ? al : ar;
      if (a > peak) peak = a;
      if (a >= CLIP_AT) clipped += 1;
      if (silent) continue;
      gain += step;
      outLeft[i] += l * gain;
      outRight[i] += r * gain;
    }
    strip.gain = end;
    strip.meter.take(peak * strip.fader, clipped);
  }

  /** Limits and measures the sum in place, after every channel was added. */
  finish(left: Float32Array, right: Float32Array, frames: number): void {
    this.limiter.process(left, right, frames);
    let peak = 0;
    let clipped = 0;
    for (let i = 0; i < frames; i++) {
      const a = Math.max(Math.abs(left[i]), Math.abs(right[i]));
      if (a > peak) peak = a;
      if (a >= CLIP_AT) clipped += 1;
    }
    this.programme.take(peak, clipped);
    this.truePeak = this.#peakLeft.maxOver(left, frames, this.truePeak);
    this.truePeak = this.#peakRight.maxOver(right, frames, this.truePeak);
    this.#both[0] = left;
    this.#both[1] = right;
    this.loudness.process(this.#both, frames);
  }

  /** Starts integrated loudness and true peak anew, as at going live. */
  resetProgramme(): void {
    this.truePeak = 0;
    this.loudness.resetIntegrated();
  }
}
