import type { ChannelRecord } from '../show/records';
import { DUCKING_RANGES } from './ducker';
import { inRange } from './chain/chain-settings';

/** Levels as they are now, LUFS short-term; NaN or −Infinity when there is none. */
export interface BalanceNow {
  voiceLufs: number;
  restLufs: number;
  /** How far the rest is already turned down at this moment, dB, 0 or negative. */
  duckDb: number;
}

/**
 * Sets ducking up so that a voice stands `wantedDb` above everything else: each other channel that viewers hear and that is
 * no voice goes down by what is missing while the voice speaks.
 *
 * @param now measured while the voice talks
 * @returns the changed channels, and the depth they go down by, dB
 */
export function keepAbove(
  voice: ChannelRecord,
  channels: readonly ChannelRecord[],
  wantedDb: number,
  now: BalanceNow,
): { changed: ChannelRecord[]; depthDb: number } {
  const undressed = now.restLufs - now.duckDb;
  const missing = wantedDb - (now.voiceLufs - undressed);
  // A decibel more than is missing: the rest swells between measurements.
  const depthDb = Number.isFinite(missing)
    ? inRange(Math.ceil(Math.max(0, missing) + 1), DUCKING_RANGES.depthDb)
    : DUCKING_RANGES.depthDb.start;
  // Peaks of talk are some 10 dB above its loudness; its quiet ends should still hold the rest down.
  const thresholdDb = Number.isFinite(now.voiceLufs)
    ? inRange(Math.round(now.voiceLufs - 10), DUCKING_RANGES.thresholdDb)
    : DUCKING_RANGES.thresholdDb.start;
  const changed = channels
    .filter((c) => c.id !== voice.id && c.role === 'background' && c.tracks.includes(1))
    .map((c) => ({
      ...c,
      ducking: {
        byChannelId: voice.id,
        depthDb,
        thresholdDb,
        attackMs: c.ducking?.attackMs ?? DUCKING_RANGES.attackMs.start,
        holdMs: c.ducking?.holdMs ?? DUCKING_RANGES.holdMs.start,
        releaseMs: c.ducking?.releaseMs ?? DUCKING_RANGES.releaseMs.start,
      },
    }));
  return { changed, depthDb };
}
