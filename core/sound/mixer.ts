import { CompareTap } from './compare-tap';
import { BLOCK_FRAMES, TRACK_COUNT } from './format';
import type { LevelCourse } from './level-course';
import { Limiter } from './limiter';
import { LoudnessMeter } from './loudness-meter';
import { CLIP_AT, PeakMeter } from './peak-meter';
import { ReturnMix, type ReturnSend } from './return-mix';
import { MONITOR_SEND, Strip, type StripSettings } from './strip';
import { TruePeakDetector } from './true-peak';
import { VoiceBalance } from './voice-balance';
import { applyGain } from './chain/processor';
import type { ChainParts } from './chain/voice-chain';

/** A stereo sum. */
class Bus {
  readonly left = new Float32Array(BLOCK_FRAMES);
  readonly right = new Float32Array(BLOCK_FRAMES);
  readonly both: readonly [Float32Array, Float32Array] = [this.left, this.right];

  clear(): void {
    this.left.fill(0);
    this.right.fill(0);
  }

  /** Adds what a strip sends to this bus from two of its buffers. @param level its fader, mute and scene in this block */
  add(
    strip: Strip,
    bus: number,
    left: Float32Array,
    right: Float32Array,
    level: Pick<LevelCourse, 'from' | 'to'>,
    frames: number,
  ): void {
    const sendFrom = strip.sendFrom[bus] * level.from;
    const sendTo = strip.sendTo[bus] * level.to;
    if (sendFrom === 0 && sendTo === 0) return;
    const outLeft = this.left;
    const outRight = this.right;
    if (sendFrom === 1 && sendTo === 1) {
      for (let i = 0; i < frames; i++) {
        outLeft[i] += left[i];
        outRight[i] += right[i];
      }
      return;
    }
    const step = (sendTo - sendFrom) / frames;
    let send = sendFrom;
    for (let i = 0; i < frames; i++) {
      send += step;
      outLeft[i] += left[i] * send;
      outRight[i] += right[i] * send;
    }
  }
}

/**
 * The whole mixer: strips with their chains, ducking, the programme with its limiter and meters, recording tracks and the
 * monitor. `process` works on one block and allocates nothing.
 *
 * The programme and the tracks are late by `ALIGN_FRAMES + Limiter.latencyFrames` against the inputs, the monitor by the
 * chains and the limiter alone.
 */
export class Mixer {
  readonly strips: (Strip | null)[];
  readonly programme = new PeakMeter();
  readonly loudness = new LoudnessMeter(2);
  readonly balance = new VoiceBalance();
  /** Highest true peak of the programme since `resetProgramme`, linear. */
  truePeak = 0;
  readonly limiter = new Limiter(-1);
  /** Sums of tracks 2…6, and the programme as the first; what is encoded. */
  readonly tracks: readonly Bus[] = Array.from({ length: TRACK_COUNT }, () => new Bus());
  readonly monitor = new Bus();
  /** The programme without one strip and not delayed, for the echo finder; −1 for none. */
  referenceFor = -1;
  readonly reference = new Bus();
  /**
   * What clean windows sound like: the programme as its picture in the window has it, not delayed, without the strip
   * `windowsWithout` (−1 for none), so that whoever is in a call does not hear themselves. Worked out while `windowsHear`.
   */
  readonly windows = new Bus();
  windowsHear = false;
  windowsWithout = -1;
  /** What guests hear, one for each place of a return; null where nobody does. */
  readonly returns: (ReturnMix | null)[];
  /** Strips that are heard alone in the monitor, as bits; 0 for none. Viewers are not concerned. */
  solo = 0;
  /** Linear. */
  monitorGain = 1;
  /** Everything is silent at once: the emergency. */
  allMuted = false;
  readonly #voice = new Bus();
  readonly #rest = new Bus();
  readonly #voiceLoudness = new LoudnessMeter(2);
  readonly #restLoudness = new LoudnessMeter(2);
  #balancedHops = 0;
  readonly #trackLimiters = Array.from({ length: TRACK_COUNT - 1 }, () => new Limiter(-1));
  /** Tracks that any strip is on, as bits; only these are worked out. */
  #usedTracks = 1;
  readonly #monitorLimiter = new Limiter(-1);
  readonly #windowsLimiter = new Limiter(-1);
  readonly #peakLeft = new TruePeakDetector();
  readonly #peakRight = new TruePeakDetector();
  #master = 1;

  constructor(
    strips: number,
    readonly parts: Pick<ChainParts, 'denoiser'> = { denoiser: null },
    returns = 0,
  ) {
    this.strips = Array.from({ length: strips }, () => null);
    this.returns = Array.from({ length: returns }, () => null);
  }

  /**
   * Sets a strip up, or with null takes it away.
   * @param inFrames samples from now to the moment in which its fader, mute and scene change in the programme; may be over
   */
  setStrip(index: number, settings: StripSettings | null, inFrames = 0): void {
    if (settings === null) this.strips[index] = null;
    else
      (this.strips[index] ??= new Strip({ denoiser: this.parts.denoiser, stagger: index })).set(
        settings,
        inFrames,
      );
    let used = 1;
    for (const strip of this.strips)
      for (const track of strip?.settings.tracks ?? []) used |= 1 << (track - 1);
    this.#usedTracks = used;
  }

  /** @param sends how each strip is heard in a return; null: nobody listens there any more */
  setReturn(place: number, sends: readonly ReturnSend[] | null): void {
    if (sends === null) this.returns[place] = null;
    else (this.returns[place] ??= new ReturnMix(this.strips.length)).sends = sends;
  }

  /** @param bits of the strips whose people wait in the wings: the headphones hear them, nobody else */
  setWings(bits: number): void {
    this.strips.forEach((strip, i) => {
      if (strip !== null) strip.inWings = (bits & (1 << i)) !== 0;
    });
  }

  uses(track: number): boolean {
    return (this.#usedTracks & (1 << (track - 1))) !== 0;
  }

  /** Lets the monitor hear one strip as it is before its chain; −1 ends that. */
  setCompare(index: number): void {
    this.strips.forEach((strip, i) => {
      if (strip !== null) strip.compare = i === index ? (strip.compare ?? new CompareTap()) : null;
    });
  }

  setCeiling(ceilingDb: number): void {
    this.limiter.set(ceilingDb);
    for (const limiter of this.#trackLimiters) limiter.set(ceilingDb);
  }

  /** Takes one channel's block in. Every strip there is must get one before `finish`. */
  take(index: number, left: Float32Array, right: Float32Array, frames: number): void {
    this.strips[index]?.take(left, right, frames);
  }

  /** Sums, limits and measures, after every channel was taken in. */
  finish(frames: number): void {
    const { strips, tracks, monitor } = this;
    for (const track of tracks) track.clear();
    this.#voice.clear();
    this.#rest.clear();
    monitor.clear();
    this.reference.clear();
    this.windows.clear();
    const { returns } = this;
    for (let r = 0; r < returns.length; r++) returns[r]?.clear();
    for (let s = 0; s < strips.length; s++) {
      const strip = strips[s];
      if (strip === null) continue;
      const { settings } = strip;
      const key = settings.ducking === null ? null : strips[settings.ducking.key];
      const solo = this.solo === 0 ? 0 : (this.solo & (1 << s)) !== 0 ? 1 : -1;
      strip.arrange(key ? key.keyPeak : 0, solo, frames);
      if (strip.idle) continue;
      const { delayedLeft, delayedRight } = strip;
      const programme = settings.role === 'voice' ? this.#voice : this.#rest;
      programme.add(strip, 0, delayedLeft, delayedRight, strip.later, frames);
      for (let t = 1; t < TRACK_COUNT; t++)
        tracks[t].add(strip, t, delayedLeft, delayedRight, strip.later, frames);
      monitor.add(strip, MONITOR_SEND, strip.outLeft, strip.outRight, strip.now, frames);
      monitor.add(strip, MONITOR_SEND, strip.outLeft, strip.outRight, strip.wings, frames);
      if (this.referenceFor >= 0 && s !== this.referenceFor)
        this.reference.add(strip, 0, strip.outLeft, strip.outRight, strip.now, frames);
      if (this.windowsHear && s !== this.windowsWithout)
        this.windows.add(strip, 0, strip.outLeft, strip.outRight, strip.now, frames);
      for (let r = 0; r < returns.length; r++) returns[r]?.add(s, strip, frames);
    }
    for (let r = 0; r < returns.length; r++) returns[r]?.finish(frames);
    this.#sum(frames);
    this.#finishProgramme(frames);
    for (let t = 1; t < TRACK_COUNT; t++)
      if (this.uses(t + 1)) this.#trackLimiters[t - 1].process(tracks[t].left, tracks[t].right, frames);
    const gain = this.monitorGain;
    for (let i = 0; i < frames; i++) {
      monitor.left[i] *= gain;
      monitor.right[i] *= gain;
    }
    this.#monitorLimiter.process(monitor.left, monitor.right, frames);
    if (!this.windowsHear) return;
    const { windows } = this;
    if (this.#master < 1) applyGain(windows.left, windows.right, 0, frames, this.#master, this.#master);
    this.#windowsLimiter.process(windows.left, windows.right, frames);
  }

  /** Voices and the rest to the programme, with the emergency mute. */
  #sum(frames: number): void {
    const { left, right } = this.tracks[0];
    const before = this.#master;
    this.#master = this.allMuted ? Math.max(0, before - 0.25) : Math.min(1, before + 0.25);
    const step = (this.#master - before) / frames;
    let gain = before;
    for (let i = 0; i < frames; i++) {
      gain += step;
      left[i] = (this.#voice.left[i] + this.#rest.left[i]) * gain;
      right[i] = (this.#voice.right[i] + this.#rest.right[i]) * gain;
    }
    if (before < 1 || this.#master < 1)
      // Along with the programme: a cut would be heard as a click in their recordings.
      for (let t = 1; t < TRACK_COUNT; t++)
        if (this.uses(t + 1))
          applyGain(this.tracks[t].left, this.tracks[t].right, 0, frames, before, this.#master);
    this.#voiceLoudness.process(this.#voice.both, frames);
    this.#restLoudness.process(this.#rest.both, frames);
    if (this.#voiceLoudness.hops !== this.#balancedHops) {
      this.#balancedHops = this.#voiceLoudness.hops;
      this.balance.take(this.#voiceLoudness.hopEnergy, this.#restLoudness.hopEnergy);
    }
  }

  #finishProgramme(frames: number): void {
    const { left, right, both } = this.tracks[0];
    this.limiter.process(left, right, frames);
    let peak = 0;
    let clipped = 0;
    let square = 0;
    for (let i = 0; i < frames; i++) {
      const l = left[i];
      const r = right[i];
      const a = Math.max(Math.abs(l), Math.abs(r));
      if (a > peak) peak = a;
      if (a >= CLIP_AT) clipped += 1;
      square += l * l + r * r;
    }
    this.programme.take(peak, clipped, square / (2 * frames));
    this.truePeak = this.#peakLeft.maxOver(left, frames, this.truePeak);
    this.truePeak = this.#peakRight.maxOver(right, frames, this.truePeak);
    this.loudness.process(both, frames);
  }

  /** Loudness of all voices and of the rest lately, LUFS short-term, as they are in the programme. */
  get voiceLufs(): number {
    return this.#voiceLoudness.shortTerm;
  }

  get restLufs(): number {
    return this.#restLoudness.shortTerm;
  }

  /** Starts integrated loudness, range, true peaks and clip counts anew, as at going live. */
  resetProgramme(): void {
    this.truePeak = 0;
    this.programme.clipped = 0;
    this.loudness.resetIntegrated();
    for (const strip of this.strips) {
      if (strip === null) continue;
      strip.truePeak = 0;
      strip.meter.clipped = 0;
      strip.loudness.resetIntegrated();
    }
  }
}
