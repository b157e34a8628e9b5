/** A scene as the compositor draws it, to be asked pixel by pixel. */
import type { Page } from 'playwright-core';
import type { AnyRecord } from '../../core/show/records';
import type { GivenPicture } from './compositor-harness';
import type { Harness } from './harness-page';

declare const globalThis: { harness: Harness };

export type Colour = readonly [number, number, number];
export type Pixels = (x: number, y: number) => Colour;

/** RGBA rows, base64, as a function of the pixel. */
export function pixelsOf(base64: string, width: number): Pixels {
  const rgba = Buffer.from(base64, 'base64');
  return (x, y) => [...rgba.subarray((y * width + x) * 4, (y * width + x) * 4 + 3)] as unknown as Colour;
}

/** Draws the wide frame of scene `a`. */
export async function drawnPicture(
  page: Page,
  records: AnyRecord[],
  pictures: Record<string, GivenPicture>,
  [width, height]: readonly [number, number],
  now = 1,
): Promise<Pixels> {
  const text = await page.evaluate(
    ([all, given, w, h, t]) => globalThis.harness.render(all, given, 'a', 'wide', w, h, t),
    [records, pictures, width, height, now] as const,
  );
  return pixelsOf(text, width);
}
