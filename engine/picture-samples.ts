import type { FromStage, ToStage } from '../protocol/engine';

type Colour = [number, number, number];

/** Questions to the stage for the colour of a picture at a point, and who waits for the answers. */
export class PictureSamples {
  readonly #waiting = new Map<number, (colour: Colour | null) => void>();
  #next = 1;

  constructor(readonly say: (message: ToStage) => void) {}

  /** Mean colour (0…1) around a point (0…1 each way) of an input's picture as it comes in; null while it has none. */
  ask(inputId: string, x: number, y: number): Promise<Colour | null> {
    const id = this.#next++;
    return new Promise((resolve) => {
      this.#waiting.set(id, resolve);
      this.say({ type: 'sample', id, inputId, x, y });
    });
  }

  take({ id, colour }: Extract<FromStage, { type: 'sampled' }>): void {
    this.#waiting.get(id)?.(colour);
    this.#waiting.delete(id);
  }
}
