import type { FromStage, ToStage } from '../protocol/engine';

/** Asks the stage for small pictures of scenes. */
export class ScenePictures {
  readonly #waiting = new Map<number, (jpeg: ArrayBuffer | null) => void>();
  #next = 1;

  constructor(readonly say: (message: ToStage) => void) {}

  /** @returns a JPEG; null when the scene is gone */
  ask(sceneId: string): Promise<ArrayBuffer | null> {
    const id = this.#next++;
    return new Promise((resolve) => {
      this.#waiting.set(id, resolve);
      this.say({ type: 'shoot', id, sceneId });
    });
  }

  take({ id, jpeg }: Extract<FromStage, { type: 'shot' }>): void {
    this.#waiting.get(id)?.(jpeg);
    this.#waiting.delete(id);
  }
}
