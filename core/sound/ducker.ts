import { amplitudeOfDb, dbOfAmplitude } from './decibel';
import { BLOCK_FRAMES, MIXER_SAMPLE_RATE } from './format';
import type { ParameterRange } from './chain/chain-settings';

export interface DuckingValues {
  /** How far the channel goes down, dB, positive. */
  depthDb: number;
  /** Level of the key (behind its voice chain and fader) from which on it works, dBFS peak. */
  thresholdDb: number;
  attackMs: number;
  holdMs: number;
  releaseMs: number;
}

export const DUCKING_RANGES = {
  depthDb: { label: 'Depth', min: 0, max: 40, start: 9, unit: 'dB' },
  thresholdDb: { label: 'From', min: -60, max: 0, start: -32, unit: 'dB' },
  attackMs: { label: 'Attack', min: 5, max: 500, start: 40, unit: 'ms', logarithmic: true },
  holdMs: { label: 'Hold', min: 0, max: 3000, start: 400, unit: 'ms' },
  releaseMs: { label: 'Release', min: 20, max: 4000, start: 500, unit: 'ms', logarithmic: true },
} as const satisfies Record<keyof DuckingValues, ParameterRange>;

const BLOCK_MS = (BLOCK_FRAMES / MIXER_SAMPLE_RATE) * 1000;

/**
 * Turns a channel down while another one speaks. The gain moves in straight lines of dB: all the depth within `attackMs`,
 * all the way back within `releaseMs`, after the key has been quiet for `holdMs`. Works once a block.
 */
export class Ducker {
  /** Present change, dB, 0 or negative. */
  gainDb = 0;
  #quietMs = Infinity;

  /**
   * @param keyPeak largest absolute sample of the key's block, linear
   * @returns the gain at the end of the block, linear
   */
  step(values: DuckingValues | null, keyPeak: number): number {
    if (values !== null && keyPeak > 0 && dbOfAmplitude(keyPeak) >= values.thresholdDb) this.#quietMs = 0;
    else this.#quietMs += BLOCK_MS;
    const down = values !== null && this.#quietMs <= values.holdMs;
    if (down) {
      const step = (values.depthDb * BLOCK_MS) / values.attackMs;
      this.gainDb = Math.max(-values.depthDb, this.gainDb - step);
    } else if (this.gainDb < 0) {
      const depth = values?.depthDb ?? 12;
      const step = (Math.max(depth, 1) * BLOCK_MS) / (values?.releaseMs ?? 100);
      this.gainDb = Math.min(0, this.gainDb + step);
    }
    return this.gainDb === 0 ? 1 : amplitudeOfDb(this.gainDb);
  }
}
