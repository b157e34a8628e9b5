/** What colouring and effects cost beside drawing the same picture plainly, in the browser. */
import path from 'node:path';
import type { Browser } from 'playwright-core';
import { START_GLOW, PLAIN_FINISH } from '../../core/show/finish-records';
import type { AnyRecord } from '../../core/show/records';
import { sampleInput, sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import type { GivenPicture } from '../../tests/lib/compositor-harness';
import { harnessPage, type Harness } from '../../tests/lib/harness-page';

declare const globalThis: { harness: Harness };

type Say = (line: object) => void;
const SIDE = 64;
const ROUNDS = 3;
const PICTURES = 100;

/** A table that turns colours a little, so that nothing can be left out. */
function cube(): string {
  const lines = [`LUT_3D_SIZE ${SIDE}`];
  for (let b = 0; b < SIDE; b++)
    for (let g = 0; g < SIDE; g++)
      for (let r = 0; r < SIDE; r++)
        lines.push(
          [r * 0.9 + g * 0.1, g, b * 0.8 + r * 0.2].map((v) => (v / (SIDE - 1)).toFixed(6)).join(' '),
        );
  return lines.join('\n');
}

export async function colourSpeed(say: Say, browser: Browser): Promise<void> {
  const page = await harnessPage(browser, path.resolve('tests/lib'));
  for (const [name, width, height] of [
    ['640x360', 640, 360],
    ['1280x720', 1280, 720],
  ] as const) {
    let [plain, coloured] = [Infinity, Infinity];
    // Interleaved, the best of each: both see the same load of the machine.
    for (let i = 0; i < ROUNDS; i++) {
      plain = Math.min(plain, await timeOf(page, null, width, height));
      coloured = Math.min(coloured, await timeOf(page, cube(), width, height));
    }
    say({
      name: `colour: a .cube table of ${SIDE} over a camera's picture of 1280x720, shown at ${name}`,
      value: coloured,
      unit: 'ms a picture',
      reference: plain,
      ratio: coloured / plain,
      against: 'the same layer drawn plainly',
      goal: '<= 2',
    });
  }
  const part: GivenPicture = { width: 2, height: 1, rgba: [255, 90, 0, 255, 0, 0, 0, 0] };
  const records: AnyRecord[] = [
    sampleShow,
    sampleScene('a'),
    sampleInput('part', { source: { type: 'picture', assetId: 'a', loop: false } }),
    ...Array.from({ length: 6 }, (_, i) =>
      sampleLayer(`l${i}`, 'a', i, {
        content: { type: 'input', inputId: 'part', fit: 'stretch' },
        wide: { cx: 300 + i * 250, cy: 540, width: 240, height: 400, shadowPx: 30 },
        finish: { ...PLAIN_FINISH, outerGlow: START_GLOW, blur: { px: 6, part: 'whole', areas: [] } },
      }),
    ),
  ];
  const { finished } = await page.evaluate(
    ([all, given, count]) => globalThis.harness.renderMany(all, given, 'a', 1280, 720, count),
    [records, { part }, PICTURES] as const,
  );
  say({
    name: `effects: layers finished in ${PICTURES} pictures of six that stand still`,
    value: finished,
    unit: 'times',
    reference: 6,
    ratio: finished / 6,
    against: 'once each',
    goal: '= 1',
  });
  await page.close();
}

function timeOf(
  page: Awaited<ReturnType<typeof harnessPage>>,
  table: string | null,
  width: number,
  height: number,
) {
  return page.evaluate(([text, w, h, n]) => globalThis.harness.timeColour(text, w, h, n), [
    table,
    width,
    height,
    PICTURES,
  ] as const);
}
