import { MIXER_SAMPLE_RATE } from '../../../core/sound/format';
import { Resampler } from '../../../core/sound/resampler';
import { BLOCK, FileRing } from '../../../protocol/shared-sound';

/** Sound that is further from its place than this is set there anew. */
const OUT_OF_PLACE_FRAMES = 1920;
/** Sound that begins in the middle of something comes in with a ramp. */
const RAMP_FRAMES = 240;

/** Sound that has times of its own, put into the mixer's shared memory at its place in the programme. */
export class PlacedSound {
  #ring: FileRing | null = null;
  #resampler: { rate: number; left: Resampler; right: Resampler } | null = null;
  /** The ring's first programme block; null while no sound runs. */
  #fromBlock: number | null = null;
  #rampAt = 0;

  /** Whether anybody has asked for it. */
  get wanted(): boolean {
    return this.#ring !== null;
  }

  attach(buffer: SharedArrayBuffer): void {
    this.#ring = new FileRing(buffer);
    this.#fromBlock = null;
  }

  /** What comes next is placed anew. */
  renew(): void {
    this.#fromBlock = null;
  }

  stop(): void {
    this.#ring?.stop();
    this.#fromBlock = null;
  }

  /**
   * @param rate of the samples, Hz
   * @param atSeconds programme time of the first of them
   * @param nowSeconds programme time now: what has no room any more is left out
   */
  put(
    leftIn: Float32Array,
    rightIn: Float32Array,
    rate: number,
    atSeconds: number,
    nowSeconds: number,
  ): void {
    const ring = this.#ring;
    if (!ring) return;
    if (this.#resampler?.rate !== rate)
      this.#resampler = {
        rate,
        left: new Resampler(rate, MIXER_SAMPLE_RATE),
        right: new Resampler(rate, MIXER_SAMPLE_RATE),
      };
    const { left, right } = this.#resampler;
    const outL = new Float32Array(left.capacity(leftIn.length));
    const outR = new Float32Array(right.capacity(rightIn.length));
    const count = left.process(leftIn, outL);
    right.process(rightIn, outR);
    const wanted = Math.round(atSeconds * MIXER_SAMPLE_RATE);
    const placed = this.#fromBlock === null ? null : this.#fromBlock * BLOCK + ring.written;
    if (placed === null || Math.abs(wanted - placed) > OUT_OF_PLACE_FRAMES) {
      this.#fromBlock = Math.ceil(wanted / BLOCK);
      ring.start(this.#fromBlock);
      this.#rampAt = 0;
    }
    for (let i = 0; i < count && this.#rampAt < RAMP_FRAMES; i++, this.#rampAt++) {
      outL[i] *= this.#rampAt / RAMP_FRAMES;
      outR[i] *= this.#rampAt / RAMP_FRAMES;
    }
    const room = ring.room(Math.floor((nowSeconds * MIXER_SAMPLE_RATE) / BLOCK));
    ring.write(outL, outR, Math.min(count, room));
  }
}
