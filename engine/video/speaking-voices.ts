import { amplitudeOfDb } from '../../core/sound/decibel';
import { MeterMemory } from '../../protocol/shared-sound';

/** A voice above this speaks; breath and the room stay below. */
const SPEAKS_AT = amplitudeOfDb(-38);
/** A name stays through the pauses between words. */
const HOLD_SECONDS = 0.6;

/** Who of the voices is heard speaking, from the meters that the sound thread keeps. */
export class SpeakingVoices {
  #meters: MeterMemory | null = null;
  #voices: readonly { strip: number; name: string }[] = [];
  readonly #until = new Map<number, number>();
  speaking: readonly string[] = [];

  attach(meters: SharedArrayBuffer): void {
    this.#meters = new MeterMemory(meters);
  }

  set(voices: readonly { strip: number; name: string }[]): void {
    this.#voices = voices;
  }

  advance(seconds: number): void {
    const names: string[] = [];
    for (const { strip, name } of this.#voices) {
      if ((this.#meters?.readStrip(strip).level ?? 0) > SPEAKS_AT)
        this.#until.set(strip, seconds + HOLD_SECONDS);
      if ((this.#until.get(strip) ?? -1) > seconds) names.push(name);
    }
    if (names.join('|') !== this.speaking.join('|')) this.speaking = names;
  }
}
