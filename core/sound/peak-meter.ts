import { BLOCK_FRAMES, MIXER_SAMPLE_RATE } from './format';

/** Sample count at and above which a sample counts as clipped: one 16-bit step under full scale. */
export const CLIP_AT = 32767 / 32768;
/** Meters fall 20 dB in 1.7 s (IEC 60268-10 type I), per block. */
const FALL_PER_BLOCK = 10 ** ((-(20 / 1.7) * (BLOCK_FRAMES / MIXER_SAMPLE_RATE)) / 20);
/** Peaks stand for 1.5 s before they fall. */
const HOLD_BLOCKS = Math.round((1.5 * MIXER_SAMPLE_RATE) / BLOCK_FRAMES);
/** Time constant of the RMS reading: 300 ms, as slow as a needle. */
const RMS_SHARE = 1 - Math.exp(-BLOCK_FRAMES / (0.3 * MIXER_SAMPLE_RATE));

/** One meter: level with ballistics, held peak, RMS, number of clipped samples. Linear values. */
export class PeakMeter {
  level = 0;
  held = 0;
  clipped = 0;
  meanSquare = 0;
  #heldFor = 0;

  get rms(): number {
    return Math.sqrt(this.meanSquare);
  }

  /**
   * @param peak largest absolute sample of one block
   * @param clipped how many of its samples were at full scale
   * @param square mean square of the block
   */
  take(peak: number, clipped: number, square: number): void {
    const fallen = this.level * FALL_PER_BLOCK;
    this.level = peak > fallen ? peak : fallen;
    this.clipped += clipped;
    this.meanSquare += (square - this.meanSquare) * RMS_SHARE;
    if (this.meanSquare < 1e-20) this.meanSquare = 0;
    if (peak >= this.held || this.#heldFor > HOLD_BLOCKS) {
      this.held = peak >= this.held ? peak : this.level;
      this.#heldFor = 0;
    } else this.#heldFor += 1;
  }
}
