/** Signals to line up levels with: made sample by sample, alike at every run. */
import { TONE_RANGES, type ToneChannel } from '../show/channels/tone';
import { amplitudeOfDb } from './decibel';
import { MIXER_SAMPLE_RATE } from './format';

/** EBU R 49: the left side is interrupted for 0.25 s every 3 s. */
const IDENT_EVERY = 3 * MIXER_SAMPLE_RATE;
const IDENT_GAP = 0.25 * MIXER_SAMPLE_RATE;
/** A sine that stops clicks: it goes and comes within this many samples. */
const IDENT_RAMP = 240;

/** A sweep goes through the octaves from low to high in this time, and begins again. */
const SWEEP_SECONDS = 20;
const SWEEP_FROM = 20;
const SWEEP_TO = 20_000;

/** What the filter below gives of noise between −1 and 1, as a mean: measured over ten minutes. */
const PINK_MEAN_DB = 4.92;

export class TestTone {
  readonly #gain: number;
  readonly #tone: ToneChannel;
  #phase = 0;
  #noise = 0x2545f491;
  readonly #b = new Float64Array(7);

  constructor(tone: ToneChannel) {
    this.#tone = tone;
    const { levelDb, signal } = tone;
    this.#gain = amplitudeOfDb(
      signal === 'pink' ? Math.min(levelDb, TONE_RANGES.noiseDb.max) - PINK_MEAN_DB : levelDb,
    );
  }

  /**
   * Fills both blocks.
   * @param frame number of the first sample since the start of the programme
   */
  render(frame: number, left: Float32Array, right: Float32Array, frames: number): void {
    const { signal, hz, ident } = this.#tone;
    for (let i = 0; i < frames; i++) {
      const value = this.#gain * (signal === 'pink' ? this.#pink() : this.#sine(frame + i, hz));
      right[i] = value;
      left[i] = ident ? value * identGain((frame + i) % IDENT_EVERY) : value;
    }
  }

  #sine(frame: number, hz: number): number {
    let now = hz;
    if (this.#tone.signal === 'sweep') {
      const share = (frame / MIXER_SAMPLE_RATE / SWEEP_SECONDS) % 1;
      now = SWEEP_FROM * (SWEEP_TO / SWEEP_FROM) ** share;
    }
    this.#phase += now / MIXER_SAMPLE_RATE;
    if (this.#phase >= 1) this.#phase -= 1;
    return Math.sin(2 * Math.PI * this.#phase);
  }

  /** White noise through a bank of first-order low-passes: 3 dB less in each octave, within 0.05 dB above 10 Hz (P. Kellet, 1999). */
  #pink(): number {
    // xorshift (Marsaglia, 2003).
    let x = this.#noise;
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    this.#noise = x;
    const white = x / 2147483648;
    const b = this.#b;
    b[0] = 0.99886 * b[0] + white * 0.0555179;
    b[1] = 0.99332 * b[1] + white * 0.0750759;
    b[2] = 0.969 * b[2] + white * 0.153852;
    b[3] = 0.8665 * b[3] + white * 0.3104856;
    b[4] = 0.55 * b[4] + white * 0.5329522;
    b[5] = -0.7616 * b[5] - white * 0.016898;
    const out = b[0] + b[1] + b[2] + b[3] + b[4] + b[5] + b[6] + white * 0.5362;
    b[6] = white * 0.115926;
    return out;
  }
}

/** Gain of the left side, `at` samples after the beginning of a turn. */
function identGain(at: number): number {
  const since = Math.min(at, IDENT_EVERY - at);
  const inGap = at < IDENT_GAP;
  if (!inGap) return at - IDENT_GAP < IDENT_RAMP ? (at - IDENT_GAP) / IDENT_RAMP : 1;
  return since < IDENT_RAMP ? 1 - since / IDENT_RAMP : 0;
}
