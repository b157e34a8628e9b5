/** Every place in both themes: accessibility rules, nothing cut, nothing that scrolls sideways. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { en } from '../../app/words/en';
import { goTo, StudioFixture, SELDOM } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const PLACES = ['stage', 'sound', 'audience', 'delivery', 'air', 'vault'] as const;
const SIZES: readonly [number, number][] = [
  [1024, 768],
  [2560, 1440],
  [1280, 800],
];

let fixture: StudioFixture;
let page: Page;

beforeAll(async () => {
  fixture = await StudioFixture.start({}, { fps: SELDOM });
  page = await fixture.open();
});
afterAll(async () => {
  await fixture?.stop();
});

interface Finding {
  id: string;
  nodes: { html: string; failureSummary?: string }[];
}

/** Keeps the accessibility rules, and nothing scrolls sideways. */
async function looksWell(): Promise<void> {
  await page.evaluate(axe);
  const findings = (await page.evaluate(() =>
    (
      globalThis as unknown as {
        axe: { run: (c: Document, o: object) => Promise<{ violations: Finding[] }> };
      }
    ).axe
      .run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] })
      .then((r) => r.violations),
  )) as Finding[];
  expect(
    findings.map(
      (f) =>
        `${f.id}: ${f.nodes.map((n) => `${n.html.slice(0, 160)} ${n.failureSummary?.slice(0, 200)}`).join(' | ')}`,
    ),
  ).toEqual([]);
  const sideways = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('main *')]
      .filter(
        (e) =>
          e.scrollWidth > e.clientWidth + 2 && ['auto', 'scroll'].includes(getComputedStyle(e).overflowX),
      )
      .map((e) => e.outerHTML.slice(0, 120)),
  );
  expect(sideways).toEqual([]);
}

/** What a place looks like follows its width when the page has had time for it. */
async function sized(width: number, height: number): Promise<void> {
  await page.setViewportSize({ width, height });
  await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve))));
}

describe.each(PLACES)('%s', (place) => {
  beforeAll(() => goTo(page, place === 'air' ? 'On air' : place[0].toUpperCase() + place.slice(1)));

  test.each(['dark', 'light'])('%s theme', async (theme) => {
    const now = await page.evaluate(() => document.documentElement.dataset.theme ?? 'dark');
    if (now !== theme) await page.getByRole('button', { name: /theme \(/ }).click();
    await pause(600);
    await looksWell();
    if (place !== 'audience') return;
    await page.getByRole('button', { name: /^Donation from 50/ }).click();
    await looksWell();
    for (const part of ['Goals', 'Filters', 'Sources', 'Alerts']) {
      await page.getByRole('radio', { name: part, exact: true }).click();
      await looksWell();
    }
  });

  test.each(SIZES)('%d × %d: the window does not scroll and the live button is there', async (...size) => {
    await sized(...size);
    const button = page.getByRole('button', { name: 'Go live', exact: true });
    const box = (await button.boundingBox())!;
    expect(box.x + box.width).toBeLessThanOrEqual(size[0]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
  });
});

test('an address of a place opens it, in the theme that was chosen last', async () => {
  await sized(1280, 800);
  for (const place of ['vault', 'delivery']) {
    await page.goto(`${fixture.api}/${place}`);
    await page.getByRole('button', { name: 'Go live', exact: true }).waitFor();
    expect(await page.evaluate(() => document.documentElement.dataset.theme)).toBe('light');
    await looksWell();
  }
});

describe.each(['dark', 'light'] as const)('beside the places, %s theme', (theme) => {
  const inTheme = async () => {
    const now = await page.evaluate(() => document.documentElement.dataset.theme ?? 'dark');
    if (now !== theme) await page.getByRole('button', { name: /theme \(/ }).click();
    await pause(400);
  };

  test('parts of other shows, kits, and making one', async () => {
    await page.goto(`${fixture.api}/stage`);
    await inTheme();
    await page.getByRole('button', { name: en.parts.open }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('heading', { name: en.parts.title }).waitFor();
    await pause(400);
    await looksWell();
    await dialog.getByRole('button', { name: /^Fell lines/ }).click();
    await dialog.getByRole('button', { name: /^Bring in \d/ }).waitFor();
    await looksWell();
    await dialog.getByRole('button', { name: en.parts.back }).click();
    await dialog.getByRole('button', { name: en.parts.make }).click();
    await dialog.getByLabel(en.parts.kitName).waitFor();
    await looksWell();
  });

  test.each(['', 'backups', 'computer'])('/%s', async (where) => {
    await page.goto(fixture.studio.url + where);
    await inTheme();
    await looksWell();
    if (where !== 'computer') return;
    await page.getByRole('button', { name: en.computer.letIn }).click();
    await page.getByLabel(en.computer.linkName).fill('Ida');
    await pause(400);
    await looksWell();
    await page.getByRole('button', { name: en.computer.makeLink }).click();
    await page.getByText(/Shown this once, for Ida/).waitFor();
    await looksWell();
  });

  test('the door', async () => {
    await page.emulateMedia({ colorScheme: theme });
    await page.goto(`http://127.0.0.1:${fixture.studio.doorPort}/`);
    await page.getByRole('heading', { name: 'Come in' }).waitFor();
    await looksWell();
  });
});
