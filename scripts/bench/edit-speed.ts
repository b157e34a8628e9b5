/** How long a show of 200 layers holds the page up while it is edited by keys and by dragging. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import type { AnyRecord } from '../../core/show/records';
import { sampleLayer, sampleScene } from '../../core/show/sample-show';
import { launchBrowser } from '../lib/browser.mjs';
import { startStudio } from '../lib/studio.mjs';

const SHOW = 'night-signal-box';
/** What a page may be held up for without anybody noticing (W3C Long Tasks API). */
const LONG_TASK_MS = 50;

/** Twenty scenes of ten layers. */
function largeShow(): AnyRecord[] {
  const ours = (record: AnyRecord): AnyRecord => ({ ...record, showId: SHOW });
  return Array.from({ length: 20 }, (_, i) => `sc-l${i}`).flatMap((id, i) => [
    ours(sampleScene(id, { position: 40 + i, name: `Large ${i}` })),
    ...Array.from({ length: 10 }, (_, n) =>
      ours(
        sampleLayer(`${id}-${n}`, id, n, {
          wide: { cx: 200 + n * 160, cy: 540, width: 140, height: 140 },
          tall: { cx: 540, cy: 150 + n * 180, width: 140, height: 140 },
        }),
      ),
    ),
  ]);
}

async function longestTask(page: Page): Promise<number> {
  await page.getByRole('button', { name: 'Edit Large 3 off air' }).click();
  await page
    .getByTestId('layer-sc-l3-4')
    .getByRole('button', { name: /^sc-l3-4/ })
    .first()
    .click();
  await page.evaluate(() => {
    const seen: number[] = [];
    (globalThis as unknown as { tasks: number[] }).tasks = seen;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) seen.push(entry.duration);
    }).observe({ type: 'longtask' });
  });
  const frame = page.getByTestId('frame');
  await frame.focus();
  for (let i = 0; i < 30; i++) await page.keyboard.press('ArrowRight');
  const box = (await frame.boundingBox())!;
  const x = box.x + ((200 + 4 * 160 + 30) / 1920) * box.width;
  await page.mouse.move(x, box.y + box.height / 2);
  await page.mouse.down();
  for (let i = 1; i <= 40; i++) await page.mouse.move(x + i * 2, box.y + box.height / 2 + i);
  await page.mouse.up();
  return page.evaluate(() => Math.max(0, ...(globalThis as unknown as { tasks: number[] }).tasks));
}

export async function editSpeed(say: (line: object) => void): Promise<void> {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const studio = await startStudio({ data, quiet: true });
  const browser = await launchBrowser();
  try {
    const api = `${studio.url}show/${SHOW}`;
    await (await studio.owner(`/show/${SHOW}`)).edit({ name: 'Large show', put: largeShow(), removed: [] });
    const page = await studio.page(browser, { viewport: { width: 1280, height: 800 } });
    await page.goto(`${api}/stage`);
    await page.getByRole('navigation', { name: 'Places' }).waitFor();
    const value = await longestTask(page);
    say({
      ...{ name: 'longest task while a show of 200 layers is edited', value, unit: 'ms' },
      ...{ reference: LONG_TASK_MS, ratio: value / LONG_TASK_MS, goal: '<= 1' },
    });
  } finally {
    await browser.close();
    await studio.stop();
    rmSync(data, { recursive: true, force: true });
  }
}
