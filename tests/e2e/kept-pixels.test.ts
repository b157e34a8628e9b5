/** What the compositor keeps from one picture to the next looks as if it were drawn anew. */
import { describe, expect, test } from 'vitest';
import { SIMULATED_PICTURES } from '../../core/show/input-kind';
import type { AnyRecord } from '../../core/show/records';
import { sampleInput, sampleLayer, sampleShow } from '../../core/show/sample-show';
import type { GivenPicture } from '../lib/compositor-harness';
import type { Harness } from '../lib/harness-page';
import {
  BACK,
  box,
  chart,
  compare,
  drawn,
  H,
  page,
  plain,
  scene,
  W,
  withHarness,
} from '../lib/small-pictures';

declare const globalThis: { harness: Harness };

withHarness();

test.each(SIMULATED_PICTURES)('nothing of %s reaches over its box', async (picture) => {
  for (const now of [0.4, 2.7, 9.1]) {
    const got = await drawn(
      [
        sampleInput('chart', { source: { type: 'simulated', picture } }),
        sampleLayer('l', 'a', 0, {
          content: { type: 'input', inputId: 'chart', fit: 'fill' },
          wide: { ...box, height: 540 },
        }),
      ],
      {},
      [W, H],
      now,
    );
    compare(got, (x, y) => (x < 48 || x > 144 || y < 27 || y > 81 ? BACK : null), 0);
  }
});

test.each(SIMULATED_PICTURES)(
  '%s looks the same painted straight on and from its kept parts',
  async (picture) => {
    const records: AnyRecord[] = [
      sampleShow,
      scene,
      sampleInput('chart', { source: { type: 'simulated', picture } }),
      sampleLayer('l', 'a', 0, { content: { type: 'input', inputId: 'chart', fit: 'fill' }, wide: box }),
    ];
    const last = (first: number) =>
      page.evaluate(([all, w, h, from]) => globalThis.harness.renderMany(all, {}, 'a', w, h, 31, from).rgba, [
        records,
        W,
        H,
        first,
      ] as const);
    const [straight, kept] = (await Promise.all([last(30), last(25)])).map((rgba) =>
      Buffer.from(rgba, 'base64'),
    );
    const apart = straight.map((value, i) => Math.abs(value - kept[i]));
    expect(Math.max(...apart)).toBeLessThanOrEqual(2);
    expect(new Set(straight).size).toBeGreaterThan(3);
  },
);

describe('what does not change', () => {
  const still = (id: string, i: number) =>
    sampleLayer(id, 'a', i, {
      content: { type: 'input', inputId: 'chart', fit: 'stretch' },
      wide: { ...box, cx: 300 + i * 40, opacity: 0.9 },
    });
  const many = (records: AnyRecord[], pictures: Record<string, GivenPicture>, count: number) =>
    page.evaluate(([all, given, w, h, n]) => globalThis.harness.renderMany(all, given, 'a', w, h, n), [
      [sampleShow, scene, sampleInput('chart'), ...records] as AnyRecord[],
      pictures,
      W,
      H,
      count,
    ] as const);
  test('is drawn once, however often it is asked for', async () => {
    const layers = Array.from({ length: 10 }, (_, i) => still(`l${i}`, i));
    const { drawn: items } = await many(layers, { chart }, 60);
    expect(items).toBe(10);
  });
  test('below something that moves is kept as one, and the picture is the same as drawn anew', async () => {
    const layers = [
      ...Array.from({ length: 10 }, (_, i) => still(`l${i}`, i)),
      sampleInput('live', { position: 1 }),
      sampleLayer('top', 'a', 20, {
        content: { type: 'input', inputId: 'live', fit: 'stretch' },
        wide: { cx: 1500, width: 300, height: 300 },
      }),
    ];
    const live = { ...plain(200, 100, 50), changes: true };
    const once = await many(layers, { chart, live }, 1);
    const often = await many(layers, { chart, live }, 60);
    expect(often.rgba).toEqual(once.rgba);
    // Ten the first times and once for keeping them, then the one that moves.
    expect(often.drawn).toBeLessThan(60 + 10 * 10);
  });
});

test('after a cut the encoder is given smaller pictures, and viewers get whole ones in their places and colours', async () => {
  const { pictures, softened } = await page.evaluate(
    ([w, h, colours]) => globalThis.harness.decodedAfterCut(w, h, colours),
    [320, 180, ['#c03020', '#20a040', '#3050c0', '#d0d0d0']] as const,
  );
  expect(softened).toBeGreaterThan(3);
  expect(pictures.length).toBeGreaterThan(3);
  const wanted = [
    [192, 48, 32],
    [32, 160, 64],
    [48, 80, 192],
    [208, 208, 208],
  ];
  for (const { size, quarters } of pictures) {
    expect(size).toEqual([320, 180]);
    const off = quarters.flatMap((colour, i) => colour.map((value, c) => Math.abs(value - wanted[i][c])));
    expect(Math.max(...off)).toBeLessThan(24);
  }
});
