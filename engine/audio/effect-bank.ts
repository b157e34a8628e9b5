import { faderGain } from '../../core/sound/decibel';
import type { EffectRecord } from '../../core/show/records';
import { stereoOf } from '../../core/sound/downmix';
import { MIXER_SAMPLE_RATE } from '../../core/sound/format';
import type { ToMixer } from '../../protocol/sound-engine';
import { makeEffect } from '../../standins/inputs/sounds/effects';
import { assetUrl } from '../asset-url';

/** A longer clip belongs into a music or clip channel: this one lies decoded in memory. */
const MAX_SECONDS = 60;

/** A sound that is played at a press, or by an alert. */
export type BankSound = Pick<EffectRecord, 'id' | 'name' | 'source' | 'gainDb' | 'repeat'>;

/** Decodes the clips of the effect buttons and hands them to the sound thread. */
export class EffectBank {
  readonly #loaded = new Map<string, string>();

  constructor(
    readonly say: (message: ToMixer, transfer?: Transferable[]) => void,
    /** Words for the user, or null when all is well. */
    readonly tell: (effectId: string, problem: string | null) => void,
  ) {}

  update(effects: readonly BankSound[]): void {
    for (const [id] of this.#loaded)
      if (!effects.some((e) => e.id === id)) {
        this.#loaded.delete(id);
        this.say({ type: 'unloadEffect', id });
      }
    for (const effect of effects) {
      const source = JSON.stringify(effect.source);
      if (this.#loaded.get(effect.id) === source) continue;
      this.#loaded.set(effect.id, source);
      void this.#load(effect).catch((error: unknown) =>
        this.tell(
          effect.id,
          `"${effect.name}" cannot be played: ${error instanceof Error ? error.message : String(error)}`,
        ),
      );
    }
  }

  play({ id, gainDb, repeat }: BankSound): void {
    this.say({ type: 'playEffect', id, gain: faderGain(gainDb), restart: repeat === 'restart' });
  }

  stop(id: string | null, seconds: number): void {
    this.say({ type: 'stopEffect', id, seconds });
  }

  async #load(effect: BankSound): Promise<void> {
    const [left, right] =
      effect.source.type === 'simulated'
        ? [makeEffect(effect.source.effect), null]
        : await decode(effect.source.assetId);
    const other = right ?? left.slice();
    this.say({ type: 'loadEffect', id: effect.id, left, right: other }, [left.buffer, other.buffer]);
    this.tell(effect.id, null);
  }
}

async function decode(assetId: string): Promise<[Float32Array, Float32Array]> {
  const response = await fetch(assetUrl(assetId));
  if (!response.ok) throw new Error('the file is gone: bring it in again');
  const bytes = await response.arrayBuffer();
  let buffer: AudioBuffer;
  try {
    // An offline context resamples to its own rate whatever the file has.
    buffer = await new OfflineAudioContext(2, 1, MIXER_SAMPLE_RATE).decodeAudioData(bytes);
  } catch {
    throw new Error('this browser cannot decode it: bring it in as WAV, MP3, Ogg or FLAC');
  }
  if (buffer.duration > MAX_SECONDS)
    throw new Error(`it is longer than ${MAX_SECONDS} s: put it into a music channel`);
  const planes = Array.from({ length: buffer.numberOfChannels }, (_, c) => buffer.getChannelData(c));
  const [left, right] = stereoOf(planes);
  return [left.slice(), right.slice()];
}
