import type { Rect } from '../core/geometry/rect';

/** A canvas of the page that the stage draws. */
export interface LiveCanvas {
  resize(width: number, height: number): void;
  /** Shows a part of the frame (frame pixels) magnified, or all of it again. */
  setPart(part: Rect | null): void;
  /** Whether any of it can be seen just now. */
  see(seen: boolean): void;
  remove(): void;
}
