/** What goes wrong while live, and what the studio makes of it. */
import { readdirSync } from 'node:fs';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest';
import { analyse } from '../../scripts/lib/analyse.mjs';
import { eventually } from '../lib/relay-process';
import { goLive, goTo, stopLive, StudioFixture } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

let fixture: StudioFixture;

beforeAll(async () => {
  // Real throttling of hidden pages, as a user's browser has it.
  fixture = await StudioFixture.start({ throttling: true });
});
afterAll(async () => {
  await fixture?.stop();
});

const session = async () => (await fixture.health()).relay?.session ?? null;
const allLive = async () =>
  ((await session())?.destinations ?? []).filter((d) => d.state === 'live' && d.framesSent > 10).length === 2;

describe('live', () => {
  // One test that fails must not take the others with it.
  afterEach(() => fixture.clear());

  test('a hidden page keeps its rate', async () => {
    const page = await fixture.open('air');
    await goLive(page);
    await eventually(allLive, 45_000);
    const cover = await fixture.browser.newPage();
    await cover.goto('about:blank');
    await cover.bringToFront();
    await pause(1000);
    const before = (await fixture.health()).desk!;
    await pause(6000);
    const after = (await fixture.health()).desk!;
    await cover.close();
    const due = after.due - before.due;
    // A throttled page would come to one a second; a busy machine may cost some, but not that.
    expect(due).toBeGreaterThan(45);
    expect(after.composed - before.composed).toBeGreaterThan(due / 3);
    await page.bringToFront();
    await stopLive(page);
    await page.close();
  });

  test('the page is closed: viewers get the cover, the recording goes on; opened again, the desk goes on by itself', async () => {
    const page = await fixture.open('air');
    await goLive(page);
    await eventually(allLive, 45_000);
    await eventually(async () => (await session())?.coverReady === true, 30_000);
    await page.close();
    await eventually(async () => (await session())?.state === 'covered', 20_000);
    const during = (await session())!.destinations.map((d) => d.framesSent);
    await eventually(async () => {
      const { destinations } = (await session())!;
      return destinations.every((d, i) => d.state === 'live' && d.framesSent > during[i] + 30);
    });
    expect((await session())!.state).toBe('covered');
    const again = await fixture.open('air');
    await again.mouse.click(640, 795);
    await eventually(async () => (await session())?.state === 'live', 30_000);
    await pause(2500);
    await stopLive(again);
    const files = readdirSync(path.join(fixture.data, 'recordings')).sort();
    const result = analyse(path.join(fixture.data, 'recordings', files.at(-1)!));
    expect(result.stampsRise).toBe(true);
    expect(result.largestGapSeconds).toBeLessThan(2.5);
    await again.close();
  });

  test('the relay is killed: it is started again, the broadcast is opened anew, what was recorded is kept', async () => {
    const page = await fixture.open('air');
    await goLive(page);
    await eventually(allLive, 45_000);
    await pause(3000);
    const before = readdirSync(path.join(fixture.data, 'recordings')).length;
    fixture.studio.children.get('relay')!.kill('SIGKILL');
    await eventually(
      async () =>
        readdirSync(path.join(fixture.data, 'recordings')).length === before + 1 && (await allLive()),
      30_000,
    );
    await page
      .getByRole('navigation', { name: 'Places' })
      .getByText(/^\d+ (kbps|dropped)$/)
      .waitFor();
    await stopLive(page);
    await goTo(page, 'Vault');
    await page.getByText(new RegExp(`^${before + 1} files?$`)).waitFor();
    for (const file of readdirSync(path.join(fixture.data, 'recordings')).sort().slice(-2)) {
      const result = analyse(path.join(fixture.data, 'recordings', file));
      expect(result.video.codec).toBe('h264');
      expect(result.stampsRise).toBe(true);
    }
    await page.close();
  });

  test('a revoked key is said plainly where the user looks, and the other destination goes on', async () => {
    const page = await fixture.open('delivery');
    await fixture.standIn('larch').post('mood', { mood: 'refuse' });
    await goLive(page);
    const larch = page.getByRole('group', { name: 'Larch' });
    await larch.getByText(/The key is probably wrong or revoked/).waitFor();
    await page.getByRole('group', { name: 'Cairn' }).getByText(/kbps/).waitFor();
    await page.getByRole('navigation', { name: 'Places' }).getByText('Larch refused').waitFor();
    await fixture.standIn('larch').post('mood', { mood: 'normal' });
    await larch.getByRole('button', { name: 'Try again' }).click();
    await larch.getByText(/kbps/).waitFor();
    await stopLive(page);
    await page.close();
  });
});

test('no page threw an error', () => {
  expect(fixture.pageErrors).toEqual([]);
});
