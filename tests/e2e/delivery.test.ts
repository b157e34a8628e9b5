/** Delivery before going live, through the interface: preflight, line tests, plans, encoders, accounts. */
import type { Page } from 'playwright-core';
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { setLine, signIn, startDelivery } from '../lib/delivery-driver';
import { eventually } from '../lib/relay-process';
import { goTo, showDestinations, type StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;

const checks = () => page.getByRole('list', { name: 'Checks' });

beforeAll(async () => {
  ({ fixture, page } = await startDelivery());
});
afterAll(async () => {
  await fixture?.stop();
});

test('preflight finds what is wrong, and its button mends it', async () => {
  await checks().getByText('Desk camera', { exact: true }).first().waitFor();
  await checks().getByText('moving').first().waitFor();
  await checks().getByText('was never measured: the plan is a guess').waitFor();
  await goTo(page, 'Sound');
  await page.getByRole('group', { name: 'Voice', exact: true }).getByRole('button', { name: 'Mute' }).click();
  await goTo(page, 'Delivery');
  await checks().getByText('is muted: nobody hears it').first().waitFor();
  await checks().getByRole('button', { name: 'Unmute: Voice', exact: true }).click();
  await eventually(async () => (await checks().getByText('is muted: nobody hears it').count()) <= 1);
});

test('the line is measured to every server, and the plan is made for it', async () => {
  // A second try finds no dialog open.
  await page.reload();
  await setLine(fixture, { kbps: '5000' });
  await page.getByRole('button', { name: 'Test upload speed' }).click();
  const dialog = page.getByRole('dialog', { name: 'Test upload speed' });
  await dialog.getByRole('button', { name: 'Measure now' }).click();
  await dialog.getByRole('button', { name: /^Plan with [2345]\.\d Mbps$/ }).waitFor();
  await dialog.getByRole('button', { name: 'Stop after this one' }).click();
  await dialog.getByRole('button', { name: 'Measure now' }).waitFor();
  await dialog.getByRole('button', { name: /^Plan with/ }).click();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('img', { name: /megabits a second in all of [2345]\.\d/ }).waitFor();
  await checks()
    .getByText(/Mbps, measured today/)
    .waitFor();
  await setLine(fixture, {});
});

test('a plan is proposed with its reasons, kept beside the present one, and one can go back', async () => {
  await page.getByRole('button', { name: 'Propose plan', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Propose a plan' });
  await dialog.getByText(/3 destinations share them/).waitFor();
  await dialog.getByText(/A keyframe every 2 s, as platforms ask/).waitFor();
  await dialog.getByRole('button', { name: 'Keep beside the present one' }).click();
  const plans = page.getByRole('combobox', { name: 'Plan in use' });
  await plans.waitFor();
  expect(await plans.locator('option').allTextContents()).toEqual(['Home fibre', 'Home fibre, proposed']);
  await page.getByRole('button', { name: 'Compare plans' }).click();
  const compared = page.getByRole('dialog', { name: 'Compare plans' });
  await compared.getByRole('row', { name: /^Wide picture 320×180 at 15/ }).waitFor();
  await compared.getByRole('button', { name: 'Use Home fibre', exact: true }).click();
  await compared.getByRole('button', { name: 'Use Home fibre, proposed' }).waitFor();
  await compared.getByRole('button', { name: 'Close' }).click();
  await page.locator('.MuiModal-root').waitFor({ state: 'detached' });
  expect(await plans.inputValue()).toBe('plan-home');
  await page.getByRole('img', { name: /320 by 180/ }).waitFor();
});

test('values by hand against practice are warned of', async () => {
  await page.getByRole('button', { name: 'Edit values' }).click();
  const field = page.getByLabel('Keyframe interval');
  await field.fill('6');
  await field.press('Enter');
  await page
    .getByText(/platforms ask for 2 s; viewers wait longer/)
    .first()
    .waitFor();
  await field.fill('2');
  await field.press('Enter');
  await page.getByRole('button', { name: 'Summary' }).click();
});

test('a destination with a low cap gets an encode of its own, shown in the drawing', async () => {
  await showDestinations(page);
  const cairn = page.getByRole('group', { name: 'Cairn' });
  await cairn.getByRole('button', { name: 'Settings of Cairn' }).click();
  const own = cairn.getByLabel('Bitrate override (0 = plan)');
  await own.fill('300');
  await own.press('Enter');
  await page.getByText('Encode B: Cairn has its own bitrate, 300 kbps').waitFor();
  await page.getByRole('img', { name: /396 kbps, to Cairn/ }).waitFor();
});

test('an account is signed in to with a code: the key comes by itself, without ever being shown', async () => {
  await showDestinations(page);
  await signIn(fixture, page, 'Snow on the pass');
});

test('encoders are tried on the running scene, with cost and likeness', async () => {
  await page.getByRole('button', { name: 'Compare encoders' }).click();
  const dialog = page.getByRole('dialog', { name: 'Compare encoders' });
  await dialog.getByRole('button', { name: 'Try now' }).click();
  await dialog.getByText('best here').waitFor();
  await dialog.getByRole('button', { name: 'Try again' }).waitFor({ timeout: 60_000 });
  const row = dialog.getByRole('row').filter({ hasText: '320 × 180, Fast, CPU' });
  expect(await row.innerText()).toMatch(/\d+\.\d of 67 ms\s+\d+ kbps\s+\d\d\.\d dB/);
  // The one that is used is the one that encodes from then on.
  await row.getByRole('button', { name: /^Use / }).click();
  await dialog.waitFor({ state: 'detached' });
  const chosen = async () => {
    const records = await fixture.records();
    return records.flatMap((r) => (r.kind === 'plan' ? [[r.effort, r.encoder]] : []));
  };
  await expect.poll(chosen).toContainEqual(['quick', 'cpu']);
});

test('what this computer carries is measured, said in preflight, and saved as a file', async () => {
  await page.getByRole('radio', { name: 'Preflight' }).click();
  await page.getByText('what it carries was never measured').waitFor();
  await page.getByRole('button', { name: 'Measure computer' }).click();
  const dialog = page.getByRole('dialog', { name: 'This computer' });
  await dialog.getByRole('button', { name: 'Measure', exact: true }).click();
  await dialog.getByRole('button', { name: 'Measure again' }).waitFor({ timeout: 90_000 });
  for (const size of ['1920 × 1080', '1280 × 720', '960 × 540', '640 × 360']) {
    const row = dialog.getByRole('row').filter({ hasText: size });
    expect(await row.innerText()).toMatch(/(carries it|just|too much)\s+\d+% of a core/);
  }
  // More pixels take more, at twice the rate twice as much.
  const shares = async (size: string) => {
    const words = await dialog.getByRole('row').filter({ hasText: size }).innerText();
    return [...words.matchAll(/(\d+)% of a core/g)].map(([, percent]) => Number(percent));
  };
  const [large, small] = [await shares('1920 × 1080'), await shares('640 × 360')];
  expect(large[0]).toBeGreaterThan(small[0]);
  expect(Math.abs(large[1] - 2 * large[0])).toBeLessThanOrEqual(1);
  const saving = page.waitForEvent('download');
  await dialog.getByRole('link', { name: 'Save as a file' }).click();
  const file = JSON.parse(readFileSync(await (await saving).path(), 'utf8')) as { trials: unknown[] };
  expect(file.trials.length).toBeGreaterThanOrEqual(4);
  await dialog.getByRole('button', { name: 'Close' }).click();
  await page.getByText(/(the plan takes|just carries the plan|the plan takes .* more)/).waitFor();
});

test('any even size can be sent, in the shape of the frame', async () => {
  await page.getByRole('button', { name: 'Edit values' }).click();
  await page.getByLabel('Wide picture').click();
  await page.getByRole('option', { name: 'Other size…' }).click();
  const side = page.getByLabel('Wide, shorter side');
  await side.fill('201');
  await side.press('Enter');
  await expect
    .poll(async () => {
      const records = await fixture.records();
      return records.flatMap((r) =>
        r.kind === 'plan' ? [r.frames.wide && [r.frames.wide.width, r.frames.wide.height]] : [],
      );
    })
    .toContainEqual([358, 202]);
});
