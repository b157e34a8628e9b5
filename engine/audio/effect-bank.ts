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

  /** @param atSeconds of the programme, when it begins; null for now */
  play({ id, gainDb, repeat }: BankSound, atSeconds: number | null = null): void {
    this.say({ type: 'playEffect', id, gain: faderGain(gainDb), restart: repeat === 'restart', atSeconds });
  }

  stop(id: string | null, seconds: number): void {
    this.say({ type: 'stopEffect', id, seconds });
  }

  /** Reads words aloud. @returns what went wrong, in words for the user, or null */
  async speak(words: string): Promise<string | null> {
    try {
      const response = await fetch(`/files/speech?words=${encodeURIComponent(words)}`);
      if (!response.ok) throw new Error(await response.text());
      const [left, right] = await decode(await response.arrayBuffer());
      const other = right ?? left.slice();
      this.say({ type: 'speak', left, right: other }, [left.buffer, other.buffer]);
      return null;
    } catch (error) {
      return `It cannot be read aloud: ${error instanceof Error ? error.message : String(error)}`;
    }
  }

  async #load(effect: BankSound): Promise<void> {
    const [left, right] =
      effect.source.type === 'simulated'
        ? [makeEffect(effect.source.effect), null]
        : await decode(await stored(effect.source.assetId));
    const other = right ?? left.slice();
    this.say({ type: 'loadEffect', id: effect.id, left, right: other }, [left.buffer, other.buffer]);
    this.tell(effect.id, null);
  }
}

async function stored(assetId: string): Promise<ArrayBuffer> {
  const response = await fetch(assetUrl(assetId));
  if (!response.ok) throw new Error('the file is gone: bring it in again');
  return response.arrayBuffer();
}

async function decode(bytes: ArrayBuffer): Promise<[Float32Array, Float32Array]> {
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
