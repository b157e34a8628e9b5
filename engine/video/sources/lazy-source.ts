import { messageOf } from '../../../core/fault';
import type { ClipsOrder, InputState, Played } from '../../../protocol/engine';
import type { Rect } from '../../../core/geometry/rect';
import type { DrawContext, PictureSource } from './picture-source';

/** A source whose code is fetched first; until then it waits, and what is done to it is done as soon as it is there. */
export class LazySource<T extends PictureSource> implements PictureSource {
  readonly #later: ((source: T) => void)[] = [];
  #source: T | null = null;
  #failure: string | null = null;
  #closed = false;

  constructor(open: () => Promise<T>) {
    open().then(
      (source) => {
        if (this.#closed) return source.close();
        this.#source = source;
        for (const step of this.#later) step(source);
      },
      (error: unknown) => (this.#failure = `cannot be opened: ${messageOf(error)}`),
    );
  }

  whenOpen(step: (source: T) => void): void {
    if (this.#source) step(this.#source);
    else this.#later.push(step);
  }

  get state(): InputState['state'] {
    return this.#failure === null ? (this.#source?.state ?? 'waiting') : 'failed';
  }

  get message(): string {
    return this.#failure ?? this.#source?.message ?? 'loading';
  }

  get width(): number {
    return this.#source?.width ?? 0;
  }

  get height(): number {
    return this.#source?.height ?? 0;
  }

  get hasSound(): boolean {
    return this.#source?.hasSound ?? false;
  }

  get version(): number {
    return this.#source ? this.#source.version + 1 : this.#failure === null ? 0 : -1;
  }

  get caughtUp(): boolean {
    return this.#failure !== null || (this.#source !== null && (this.#source.caughtUp ?? true));
  }

  setOnAir(onAir: boolean, seconds: number): void {
    this.whenOpen((source) => source.setOnAir?.(onAir, seconds));
  }

  get played(): Played | null {
    return this.#source?.played ?? null;
  }

  obey(order: ClipsOrder): void {
    this.whenOpen((source) => source.obey?.(order));
  }

  advance(seconds: number): void {
    this.#source?.advance(seconds);
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    this.#source?.draw(context, part, width, height);
  }

  frame(): VideoFrame | null {
    return this.#source?.frame?.() ?? null;
  }

  close(): void {
    this.#closed = true;
    this.#source?.close();
  }
}
