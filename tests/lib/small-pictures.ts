/** Small pictures that the compositor draws in a page of a test file, and their comparison with what is reckoned here. */
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll } from 'vitest';
import type { AnyRecord } from '../../core/show/records';
import { sampleInput, sampleScene, sampleShow } from '../../core/show/sample-show';
import { launchBrowser } from '../../scripts/lib/browser.mjs';
import type { GivenPicture } from './compositor-harness';
import { drawnPicture, type Colour, type Pixels } from './drawn-picture';
import { harnessPage } from './harness-page';

/** The page in which the compositor draws: one for a test file. */
export let page: Page;

/** Opens the page before the file's tests and closes it after them. */
export function withHarness(): void {
  let browser: Browser;
  beforeAll(async () => {
    browser = await launchBrowser();
    page = await harnessPage(browser, import.meta.dirname);
  });
  afterAll(() => browser?.close());
}

export const BACK: Colour = [20, 24, 29];
/** Size of every picture here: a tenth of the frame. */
export const [W, H] = [192, 108];

/** 8 × 4 pixels, each of its own colour, so that a wrong one is told. */
export const chart: GivenPicture = {
  width: 8,
  height: 4,
  rgba: Array.from({ length: 32 }, (_, i) => [
    (i % 8) * 30 + 20,
    Math.floor(i / 8) * 60 + 20,
    120,
    255,
  ]).flat(),
};
export const plain = (r: number, g: number, b: number, a = 255): GivenPicture => ({
  width: 2,
  height: 2,
  rgba: Array.from({ length: 4 }, () => [r, g, b, a]).flat(),
});

export const scene = sampleScene('a');
export const box = { cx: 960, cy: 540, width: 960, height: 480 };

export const drawn = (
  records: AnyRecord[],
  pictures: Record<string, GivenPicture> = { chart },
  size: [number, number] = [W, H],
  now = 1,
): Promise<Pixels> =>
  drawnPicture(page, [sampleShow, scene, sampleInput('chart'), ...records], pictures, size, now);

/** Compares with a picture given by a function of the pixel's middle; `edge` leaves out pixels that lie on an edge. */
export function compare(
  got: (x: number, y: number) => Colour,
  want: (x: number, y: number) => Colour | null,
  tolerance = 2,
): void {
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const expected = want(x + 0.5, y + 0.5);
      if (!expected) continue;
      const actual = got(x, y);
      if (expected.some((v, i) => Math.abs(v - actual[i]) > tolerance))
        throw new Error(`at ${x}, ${y}: ${actual.join()} instead of ${expected.join()}`);
    }
}
