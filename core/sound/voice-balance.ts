/** Over how long the ratio is measured, hops of 10 ms. */
const WINDOW_HOPS = 800;
/** A voice is there when its last 100 ms are this loud, LUFS… */
const VOICE_FROM_LUFS = -45;
/** …and not far below what it was lately: pauses between words do not count. */
const VOICE_WITHIN_LU = 15;
const SMOOTH_HOPS = 10;
const MIN_VOICE_HOPS = 60;
const OFFSET_LU = -0.691;

function loudness(energy: number): number {
  return energy > 0 ? OFFSET_LU + 10 * Math.log10(energy) : -Infinity;
}

/**
 * How far the voices stand above everything else while someone talks, over the last eight seconds.
 *
 * Fed with the K-weighted energies (BS.1770-4) of both sides, 10 ms each. Allocates nothing while running.
 */
export class VoiceBalance {
  readonly #voice = new Float64Array(WINDOW_HOPS);
  readonly #rest = new Float64Array(WINDOW_HOPS);
  #at = 0;
  #smooth = 0;
  #loudest = 0;

  take(voiceEnergy: number, restEnergy: number): void {
    this.#smooth += (voiceEnergy - this.#smooth) / SMOOTH_HOPS;
    this.#loudest = Math.max(this.#smooth, this.#loudest * 0.998);
    const talks =
      loudness(this.#smooth) > VOICE_FROM_LUFS &&
      loudness(this.#smooth) > loudness(this.#loudest) - VOICE_WITHIN_LU &&
      // The end of a word rings on in the mean, not in itself.
      loudness(voiceEnergy) > loudness(this.#loudest) - VOICE_WITHIN_LU - 5;
    this.#voice[this.#at] = talks ? voiceEnergy : -1;
    this.#rest[this.#at] = restEnergy;
    this.#at = this.#at + 1 === WINDOW_HOPS ? 0 : this.#at + 1;
  }

  /**
   * @returns LU of the voice above the rest while it talks; NaN while nobody has talked lately; at most 60 when there is
   * nothing else to hear
   */
  ratioLu(): number {
    let voice = 0;
    let rest = 0;
    let hops = 0;
    for (let i = 0; i < WINDOW_HOPS; i++)
      if (this.#voice[i] > 0) {
        voice += this.#voice[i];
        rest += this.#rest[i];
        hops += 1;
      }
    if (hops < MIN_VOICE_HOPS) return Number.NaN;
    return Math.min(60, 10 * Math.log10(voice / Math.max(rest, 1e-12)));
  }

  reset(): void {
    this.#voice.fill(-1);
  }
}

/** Below this a voice fights with the rest; from 10 on it leads; from 25 on the rest is hardly there. */
export function balanceVerdict(ratioLu: number): { text: string; fine: boolean } {
  if (!Number.isFinite(ratioLu)) return { text: 'nobody talks', fine: true };
  const shown = `voice ${Math.abs(ratioLu).toFixed(0)} dB ${ratioLu < 0 ? 'below' : 'above'} the rest`;
  if (ratioLu >= 55) return { text: 'voice alone', fine: true };
  if (ratioLu < 4) return { text: `${shown}: hard to follow`, fine: false };
  if (ratioLu < 9) return { text: `${shown}: a strain`, fine: false };
  if (ratioLu > 28) return { text: `${shown}: the rest is hardly there`, fine: true };
  return { text: `${shown}: clear`, fine: true };
}
