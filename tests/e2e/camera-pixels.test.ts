/** Pictures of a camera in every format a browser hands them over in: as they come, and deinterlaced. */
import { describe, expect, test } from 'vitest';
import type { Harness } from '../lib/harness-page';
import { page, withHarness } from '../lib/small-pictures';

declare const globalThis: { harness: Harness };

withHarness();

const [W, H] = [16, 8];
/** Planes of each format: bytes a row, rows. */
const PLANES: Record<string, [rowBytes: number, height: number][]> = {
  I420: [
    [W, H],
    [W / 2, H / 2],
    [W / 2, H / 2],
  ],
  NV12: [
    [W, H],
    [W, H / 2],
  ],
  I422: [
    [W, H],
    [W / 2, H],
    [W / 2, H],
  ],
  RGBA: [[W * 4, H]],
};

/** All of one value, but for odd lines of every plane where a second one is given. */
const picture = (format: string, even: number, odd = even): number[] =>
  PLANES[format].flatMap(([rowBytes, height]) =>
    Array.from({ length: rowBytes * height }, (_, i) => (Math.floor(i / rowBytes) % 2 === 0 ? even : odd)),
  );

async function shown(format: VideoPixelFormat, pictures: number[][], interlaced: boolean) {
  const { bytes, ...rest } = await page.evaluate(
    ([kind, w, h, all, on]) => globalThis.harness.asCameraShows(kind, w, h, all, on),
    [format, W, H, pictures, interlaced] as const,
  );
  return { bytes: [...Buffer.from(bytes, 'base64')], ...rest };
}

describe.each(Object.keys(PLANES) as VideoPixelFormat[])('%s', (format) => {
  // What has just moved: one field saw 40, the other 200.
  const moved = [picture(format, 220), picture(format, 40, 200)];

  test('as it comes it stays a comb', async () => {
    expect(await shown(format, moved, false)).toEqual({ bytes: moved[1], format, stamp: 1 });
  });

  test('deinterlaced it is what the first field saw, in its own format and at its own time', async () => {
    expect(await shown(format, moved, true)).toEqual({ bytes: picture(format, 40), format, stamp: 1 });
  });

  test('what stands still is not touched', async () => {
    const still = picture(format, 40, 200);
    expect((await shown(format, [still, still], true)).bytes).toEqual(still);
  });
});
