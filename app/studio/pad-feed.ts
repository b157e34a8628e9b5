import { recordsOf } from '~/core/show/document';
import { dbOfAmplitude } from '~/core/sound/decibel';
import type { Desk } from '~/engine/desk.client';
import { systemClock } from '~/engine/system-clock';
import type { BusClient } from './bus-client';
import type { DocumentStore } from './document-store';

/** Levels that a pad shows are told so often; scenes have their pictures made one after the other, one each time. */
const LEVELS_MS = 150;
const PICTURE_MS = 300;
/** Once all have one, one in so many times: pictures of scenes off air seldom change. */
const SELDOM = 4;

/** What pads are told by the desk alone: levels, and how scenes look. Nothing while no pad is there. */
export class PadFeed {
  readonly #stops: (() => void)[];
  readonly #told = new Map<string, string>();
  #at = 0;
  #turn = 0;
  #levels = '';
  #busy = false;

  constructor(
    readonly desk: Desk,
    readonly store: DocumentStore,
    readonly bus: BusClient,
  ) {
    this.#stops = [
      systemClock.every(LEVELS_MS, () => this.#tellLevels()),
      systemClock.every(PICTURE_MS, () => void this.#tellPicture()),
    ];
  }

  close(): void {
    for (const stop of this.#stops) stop();
  }

  #tellLevels(): void {
    if (this.bus.snapshot().pads === 0) return;
    const levels = Object.fromEntries(
      recordsOf(this.store.document(), 'channel').flatMap(({ id }) => {
        const reading = this.desk.readMeter(id);
        return reading ? [[id, Math.round(Math.max(-100, Math.min(20, dbOfAmplitude(reading.level))))]] : [];
      }),
    );
    const words = JSON.stringify(levels);
    if (words === this.#levels) return;
    this.#levels = words;
    this.bus.say({ type: 'levels', levels });
  }

  async #tellPicture(): Promise<void> {
    if (this.bus.snapshot().pads === 0) return this.#told.clear();
    this.#turn += 1;
    const scenes = recordsOf(this.store.document(), 'scene');
    if (this.#busy || (this.#told.size >= scenes.length && this.#turn % SELDOM !== 0)) return;
    const scene = scenes[this.#at++ % Math.max(1, scenes.length)];
    if (!scene) return;
    this.#busy = true;
    const bytes = await this.desk.scenePictures.ask(scene.id);
    this.#busy = false;
    if (!bytes) return;
    const jpeg = btoa(String.fromCharCode(...new Uint8Array(bytes)));
    if (this.#told.get(scene.id) === jpeg) return;
    this.#told.set(scene.id, jpeg);
    this.bus.say({ type: 'scenePicture', sceneId: scene.id, jpeg });
  }
}
