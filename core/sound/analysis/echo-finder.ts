/** Finds the programme coming back in a microphone. */
import FFT from 'fft.js';

export const ECHO_RATE = 16_000;
/** Samples looked at together: 8 s at 16 kHz. */
export const ECHO_WINDOW = 128_000;
export const ECHO_MAX_MS = 1500;
const MAX_LAG = (ECHO_MAX_MS * ECHO_RATE) / 1000;
const SIZE = 262_144;
const LOW_HZ = 150;
const HIGH_HZ = 6000;
/** How far spectra are made flat: all the way is worse as soon as someone talks. */
const WHITENING = 0.7;
/** Peak of the lag function over its RMS from which a window counts. Chance alone stays below 6 for 24,000 lags. */
const PEAK_FROM = 7.5;
/** A voice resembles itself: more is asked for when it is compared with its own past. */
const SELF_PEAK_FROM = 11;
/** Nearer than this a voice always resembles itself. */
const SELF_FROM_LAG = (70 * ECHO_RATE) / 1000;
const AGREE_MS = 2;
/** Windows that are remembered, and how many of them must agree. */
const MEMORY = 3;
const AGREE = 2;
/** No room or device is this slow: only what went out to a platform and came back. */
const TAB_FROM_MS = 250;
/** Quieter than this (mean square) there is nothing to come back. */
const SILENT = 1e-8;

export type EchoKind = 'tab' | 'monitor' | 'speakers';

export interface EchoFinding {
  kind: EchoKind;
  delayMs: number;
  /** How far the peak stands out. */
  strength: number;
}

interface Transform {
  createComplexArray(): number[];
  realTransform(out: number[], data: ArrayLike<number>): void;
  inverseTransform(out: number[], data: number[]): void;
  completeSpectrum(spectrum: number[]): void;
}

export interface LagPeak {
  delayMs: number;
  /** Peak over RMS of the lag function. */
  strength: number;
}

/** Keeps every third sample of 48 kHz, behind a short low-pass (a moving average of nine, twice): enough up to 6 kHz. */
export function decimate(samples: Float32Array, out: Float32Array): void {
  for (let i = 0; i < out.length; i++) {
    let sum = 0;
    for (let k = -2; k <= 2; k++) sum += (samples[3 * i + k] ?? 0) * (3 - Math.abs(k));
    out[i] = sum / 9;
  }
}

/** Cross-correlation by FFT with partly whitened spectra, at lags 0…1500 ms. */
export class Correlator {
  readonly #fft = new FFT(SIZE) as unknown as Transform;
  readonly #a = this.#fft.createComplexArray();
  readonly #b = this.#fft.createComplexArray();
  readonly #c = this.#fft.createComplexArray();
  readonly #padded = new Float64Array(SIZE);

  #transform(samples: Float32Array, out: number[]): void {
    this.#padded.fill(0);
    this.#padded.set(samples);
    this.#fft.realTransform(out, this.#padded);
  }

  /**
   * @param later what may hold an echo; @param earlier what it may be an echo of; both `ECHO_WINDOW` at `ECHO_RATE`
   * @param fromLag lags below are not looked at
   */
  peak(later: Float32Array, earlier: Float32Array, fromLag = 0): LagPeak {
    this.#transform(later, this.#a);
    this.#transform(earlier, this.#b);
    const a = this.#a;
    const b = this.#b;
    const low = Math.round((LOW_HZ * SIZE) / ECHO_RATE);
    const high = Math.round((HIGH_HZ * SIZE) / ECHO_RATE);
    a.fill(0, 0, 2 * low);
    for (let k = low; k < high; k++) {
      const re = a[2 * k] * b[2 * k] + a[2 * k + 1] * b[2 * k + 1];
      const im = a[2 * k + 1] * b[2 * k] - a[2 * k] * b[2 * k + 1];
      const size = re * re + im * im;
      const scale = size > 0 ? size ** (-WHITENING / 2) : 0;
      a[2 * k] = re * scale;
      a[2 * k + 1] = im * scale;
    }
    a.fill(0, 2 * high, SIZE + 2);
    this.#fft.completeSpectrum(a);
    this.#fft.inverseTransform(this.#c, a);
    let square = 0;
    let best = 0;
    let at = fromLag;
    for (let lag = fromLag; lag <= MAX_LAG; lag++) {
      const v = this.#c[2 * lag];
      square += v * v;
      if (Math.abs(v) > best) {
        best = Math.abs(v);
        at = lag;
      }
    }
    const rms = Math.sqrt(square / (MAX_LAG - fromLag + 1));
    return { delayMs: (at * 1000) / ECHO_RATE, strength: rms > 0 ? best / rms : 0 };
  }
}

function meanSquare(samples: Float32Array): number {
  let sum = 0;
  for (const v of samples) sum += v * v;
  return sum / samples.length;
}

/**
 * Watches one microphone: each call of `look` takes the last eight seconds. An echo is named when two of three looks found
 * it at the same delay.
 *
 * The reference is the programme without that microphone, so that a talker does not resemble it. The microphone is also
 * compared with its own past: a voice that comes back too went through the whole programme (a tab that plays the broadcast,
 * slow) or through the headphones' way (quick); where it does not, loudspeakers play what the microphone should not hear.
 */
export class EchoFinder {
  readonly #correlator = new Correlator();
  #looks: (LagPeak | null)[] = [];
  #selfLooks: (LagPeak | null)[] = [];

  /** Begins anew, for another microphone. */
  reset(): void {
    this.#looks = [];
    this.#selfLooks = [];
  }

  /** Whether the last look found something that the next may confirm. */
  get suspects(): boolean {
    return Boolean(this.#looks.at(-1) ?? this.#selfLooks.at(-1));
  }

  look(microphone: Float32Array, reference: Float32Array): EchoFinding | null {
    const heard = meanSquare(microphone) > SILENT;
    const played = meanSquare(reference) > SILENT;
    const peak = heard && played ? this.#correlator.peak(microphone, reference) : null;
    const found = peak && peak.strength >= PEAK_FROM ? peak : null;
    const self = heard ? this.#correlator.peak(microphone, microphone, SELF_FROM_LAG) : null;
    const own = self && self.strength >= SELF_PEAK_FROM ? self : null;
    this.#looks = [...this.#looks, found].slice(-MEMORY);
    this.#selfLooks = [...this.#selfLooks, own].slice(-MEMORY);
    const sure = agreed(this.#looks);
    const sureOwn = agreed(this.#selfLooks);
    if (sure) {
      const ownToo = this.#selfLooks.some((l) => l && Math.abs(l.delayMs - sure.delayMs) < 40);
      const kind = sure.delayMs >= TAB_FROM_MS ? 'tab' : ownToo ? 'monitor' : 'speakers';
      return { kind, ...sure };
    }
    // Nothing else is playing: the voice alone comes back.
    if (sureOwn && !played) return { kind: sureOwn.delayMs >= TAB_FROM_MS ? 'tab' : 'monitor', ...sureOwn };
    return null;
  }
}

/** The newest peak that enough of the looks agree with. */
function agreed(looks: readonly (LagPeak | null)[]): LagPeak | null {
  for (const peak of [...looks].reverse()) {
    if (!peak) continue;
    if (looks.filter((l) => l && Math.abs(l.delayMs - peak.delayMs) <= AGREE_MS).length >= AGREE) return peak;
  }
  return null;
}

/** What an echo is, and what to do about it, in plain words. */
export function explainEcho({ kind, delayMs }: EchoFinding): { what: string; cure: string } {
  const late = `${Math.round(delayMs)} ms later`;
  switch (kind) {
    case 'tab':
      return {
        what: `Your broadcast comes back into the microphone ${late}`,
        cure: 'A tab or phone plays it aloud: mute or close it.',
      };
    case 'monitor':
      return {
        what: `Your own voice comes back into the microphone ${late}`,
        cure: 'The headphones’ sound gets into it: take the microphone out of the monitor, or turn them down.',
      };
    case 'speakers':
      return {
        what: `The microphone hears the loudspeakers, ${late}`,
        cure: 'Use headphones, or turn the loudspeakers down.',
      };
  }
}
