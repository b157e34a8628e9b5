/** The main job, through the real interface: build a scene, mix, meet the audience; what was set stays. */
import { truncateSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { beforeEach, describe, expect, test } from 'vitest';
import { freshStart } from '../lib/fresh-start';
import { eventually } from '../lib/relay-process';
import { caughtUp } from '../lib/stage-driver';
import { goTo, makeClip, makePicture, showDestinations, StudioFixture } from '../lib/studio-fixture';
import { pause } from '../lib/waits';

let fixture: StudioFixture;
let page: Page;

freshStart(
  async () => {
    fixture = await StudioFixture.start();
    page = await fixture.open();
  },
  async () => fixture?.stop(),
);
/** Each test is about one place: as first try it comes from another, as second one from a studio just opened. */
const inPlace = (place: string) => beforeEach(() => goTo(page, place));

const inspector = () => page.getByRole('region', { name: 'Layer settings' });
const numberOf = async (label: string) => {
  await caughtUp(page);
  return Number(await inspector().getByLabel(label, { exact: true }).inputValue());
};
const undo = () => page.getByRole('button', { name: 'Undo' }).click();
const redo = () => page.getByRole('button', { name: 'Redo' }).click();
const layer = (name: string) => page.getByTestId(`layer-${name}`);

async function addFromMenu(item: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: 'Add layer' }).click();
  await page.getByRole('menuitem', { name: item, exact: typeof item === 'string' }).click();
  // The menu fades out, and the mouse would still hit what lies behind the frame.
  await page.locator('.MuiModal-root').waitFor({ state: 'detached' });
}

/** A part of the page as pixels, to see whether it moves. */
async function picture(): Promise<Buffer> {
  return page.getByTestId('frame').screenshot();
}

describe('Stage', () => {
  inPlace('Stage');

  test('the demonstration is there and moves', async () => {
    await page.getByRole('heading', { name: 'Night Signal Box' }).waitFor();
    const first = await picture();
    await pause(700);
    expect((await picture()).equals(first)).toBe(false);
  });

  test('a text is added, dragged with snapping, moved by keys, resized and undone step by step', async () => {
    await addFromMenu('Text');
    await layer('Text').waitFor();
    expect([await numberOf('Centre x'), await numberOf('Width')]).toEqual([960, 520]);
    const frame = page.getByTestId('frame');
    const box = (await frame.boundingBox())!;
    const at = (x: number, y: number) =>
      [box.x + (x / 1920) * box.width, box.y + (y / 1080) * box.height] as const;
    await page.mouse.move(...at(960, 540));
    await page.mouse.down();
    await page.mouse.move(...at(700, 400), { steps: 6 });
    // Near the frame's left edge: 260 is half the width, so 268 is 8 px away and snaps.
    await page.mouse.move(...at(268, 400), { steps: 6 });
    await page.mouse.up();
    expect(await numberOf('Centre x')).toBe(260);
    const y = await numberOf('Centre y');
    await frame.focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Shift+ArrowDown');
    expect([await numberOf('Centre x'), await numberOf('Centre y')]).toEqual([261, y + 10]);
    const handle = (await page.getByTestId('frame').locator('[data-handle="e"]').boundingBox())!;
    await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2);
    await page.mouse.down();
    await page.mouse.move(handle.x + handle.width / 2 + 83, handle.y + handle.height / 2, { steps: 5 });
    await page.mouse.up();
    expect(await numberOf('Width')).toBeGreaterThan(600);
    for (let i = 0; i < 4; i++) await undo();
    expect([await numberOf('Centre x'), await numberOf('Width')]).toEqual([960, 520]);
    await redo();
    expect(await numberOf('Centre x')).toBe(260);
  });

  test('layers are renamed, hidden, locked, reordered by keyboard and deleted, each undone', async () => {
    if ((await layer('Text').count()) === 0) await addFromMenu('Text');
    await layer('Text')
      .getByRole('button', { name: /^Text text/ })
      .dblclick();
    await page.getByLabel('Name of the layer').fill('Headline');
    await page.keyboard.press('Enter');
    await layer('Headline').waitFor();
    await layer('Headline').getByRole('button', { name: 'Hide Headline' }).click();
    await layer('Headline').getByRole('button', { name: 'Show Headline' }).waitFor();
    await undo();
    await layer('Headline').getByRole('button', { name: 'Lock Headline' }).click();
    await inspector().getByText('Locked').waitFor();
    expect(await layer('Headline').getByRole('button', { name: 'Delete Headline' }).isDisabled()).toBe(true);
    await undo();
    const names = () =>
      page
        .locator('[data-testid^="layer-"]')
        .evaluateAll((rows) => rows.map((r) => r.getAttribute('data-testid')!.slice(6)));
    const before = await names();
    expect(before[0]).toBe('Headline');
    const grip = layer('Headline').getByRole('button', { name: /Move Headline up or down/ });
    await grip.focus();
    await page.keyboard.press('Space');
    await pause(250);
    await page.keyboard.press('ArrowDown');
    await pause(250);
    await page.keyboard.press('Space');
    await eventually(async () => (await names())[1] === 'Headline');
    await undo();
    await eventually(async () => (await names()).join() === before.join());
    await layer('Headline').getByRole('button', { name: 'Delete Headline' }).click();
    await layer('Headline').waitFor({ state: 'detached' });
    await undo();
    await layer('Headline').waitFor();
  });

  test('a camera, a screen, a picture and a video come in as real inputs', async () => {
    const clip = path.join(fixture.data, 'night clip.mp4');
    const still = path.join(fixture.data, 'bars.png');
    makeClip(clip);
    makePicture(still);
    await page.getByRole('button', { name: 'Add layer' }).click();
    await page.getByRole('menuitem', { name: 'Camera…' }).click();
    await page
      .getByRole('menuitem', { name: /fake_device_0|Fake/i })
      .first()
      .click();
    await inspector()
      .getByText(/running, /)
      .waitFor();
    await addFromMenu('Screen…');
    await inspector()
      .getByText(/running, /)
      .waitFor();
    for (const [file, name] of [
      [still, 'bars'],
      [clip, 'night clip'],
    ]) {
      await page.getByLabel('Files to bring in').setInputFiles(file);
      await layer(name).waitFor();
      await inspector()
        .getByText(/running, /)
        .waitFor();
    }
    await inspector().getByText('640×360').waitFor();
    await goTo(page, 'Sound');
    await page.getByRole('group', { name: 'night clip' }).waitFor();
    await goTo(page, 'Stage');
  });

  test.each([
    ['empty.png', Buffer.alloc(0), /is empty/],
    ['words.png', Buffer.from('these are just words'), /neither picture, video nor sound/],
    ['page.mp4', Buffer.from('<html></html>'), /Matroska, WAV/],
  ])('%s is refused in plain words and adds nothing', async (name, bytes, message) => {
    const file = path.join(fixture.data, name);
    writeFileSync(file, bytes);
    await page.locator('[data-testid^="layer-"]').first().waitFor();
    const before = await page.locator('[data-testid^="layer-"]').count();
    await page.getByLabel('Files to bring in').setInputFiles(file);
    await page.getByRole('alert').filter({ hasText: message }).waitFor();
    expect(await page.locator('[data-testid^="layer-"]').count()).toBe(before);
  });

  test('a damaged picture shows a named placeholder with the reason', async () => {
    const bad = path.join(fixture.data, 'torn.png');
    makePicture(bad);
    truncateSync(bad, 60);
    await page.getByLabel('Files to bring in').setInputFiles(bad);
    await layer('torn')
      .getByText(/cannot be shown/)
      .waitFor();
    await layer('torn').getByRole('button', { name: 'Delete torn' }).click();
  });

  test('a press on a scene brings it on air; so does its key, but not while typing', async () => {
    const scenes = page.getByRole('region', { name: 'Scenes' });
    await scenes.getByRole('button', { name: /^Talk: bring on air/ }).click();
    await eventually(
      async () =>
        (await scenes.getByRole('button', { name: /^Talk: bring on air/ }).getAttribute('aria-pressed')) ===
        'true',
    );
    await page.keyboard.press('Shift+2');
    await eventually(
      async () =>
        (await scenes.getByRole('button', { name: /^Game: bring on air/ }).getAttribute('aria-pressed')) ===
        'true',
    );
    await scenes.getByRole('button', { name: 'More for Talk' }).click();
    await page.getByRole('menuitem', { name: 'Rename' }).click();
    await page.getByLabel('Name of the scene').pressSequentially('Welcome!');
    await page.keyboard.press('Shift+3');
    await page.keyboard.press('Escape');
    expect(
      await scenes.getByRole('button', { name: /^Game: bring on air/ }).getAttribute('aria-pressed'),
    ).toBe('true');
  });
});

describe('Sound', () => {
  inPlace('Sound');

  test('meters move, the fader moves by keys and figures, mute silences', async () => {
    const voice = page.getByRole('group', { name: 'Voice', exact: true });
    const fader = voice.getByRole('slider', { name: 'Level of Voice' });
    await page.getByTestId('momentary').filter({ hasText: /−\d/ }).waitFor();
    await fader.focus();
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('ArrowLeft');
    expect(await fader.getAttribute('aria-valuenow')).toBe('-2');
    await voice.getByLabel('Level of Voice in decibels').fill('-3.5');
    await page.keyboard.press('Enter');
    expect(await fader.getAttribute('aria-valuetext')).toBe('-3.5 decibels');
    // Every channel there is, also those of inputs that a test before has added.
    const mutes = page.getByRole('button', { name: 'Mute', exact: true });
    const channels = await mutes.count();
    expect(channels).toBeGreaterThan(2);
    for (let left = channels - 1; left >= 0; left--) {
      await mutes.first().click();
      await eventually(async () => (await mutes.count()) === left);
    }
    await eventually(async () =>
      /^(—|−[6-9]\d)/.test((await page.getByTestId('momentary').textContent()) ?? ''),
    );
    for (let i = 0; i < channels; i++) await page.keyboard.press('Control+z');
    await page
      .getByTestId('momentary')
      .filter({ hasText: /−[1-4]\d/ })
      .waitFor();
  });

  test('a microphone is added and gives sound', async () => {
    await page.getByRole('button', { name: 'Add channel' }).click();
    await page
      .getByRole('menuitem')
      .filter({ hasText: /fake|default/i })
      .first()
      .click();
    const row = page.getByRole('group', { name: /fake|default/i }).first();
    await row.getByText('Microphone · every scene').waitFor();
  });
});

describe('Audience', () => {
  inPlace('Audience');

  test('chat of the stand-ins arrives; the test button fires the alert', async () => {
    const log = page.getByRole('log', { name: 'Chat and events' });
    await log.getByText('larch').first().waitFor();
    await page.getByRole('button', { name: 'Test Follow', exact: true }).click();
    await log.getByText('test').first().waitFor();
  });
});

describe('Delivery', () => {
  inPlace('Delivery');

  test('keys are hidden and never sent to the page; a wrong address is explained', async () => {
    await showDestinations(page);
    const larch = page.getByRole('group', { name: 'Larch' });
    await larch.getByLabel('Stream key of Larch').waitFor();
    const { key } = fixture.studio.platforms()[0];
    expect(await page.content()).not.toContain(key);
    expect(await fixture.client.text('/delivery')).not.toContain(key);
    await page.getByRole('button', { name: 'Add destination' }).click();
    const own = page.getByRole('group', { name: 'Destination 3' });
    await own.getByLabel('Server URL').fill('http://example');
    await page.keyboard.press('Enter');
    await own.getByText('Must look like rtmp://host/app').waitFor();
    await own.getByLabel('Stream key of Destination 3').fill('a-secret-key-of-mine');
    await own.getByRole('button', { name: 'Store' }).click();
    await own.getByText('Stream key (saved)').first().waitFor();
    expect(await page.content()).not.toContain('a-secret-key-of-mine');
    await own.getByRole('button', { name: 'Remove Destination 3' }).click();
  });
});

describe('what was set stays', () => {
  test('over a reload, and over a restart of the server', async () => {
    await goTo(page, 'Sound');
    await page.getByLabel('Level of Voice in decibels').fill('-4.5');
    await page.keyboard.press('Enter');
    await goTo(page, 'Stage');
    await addFromMenu('Text');
    await layer('Text').waitFor();
    await eventually(async () => (await page.getByText('saved', { exact: true }).count()) > 0);
    await page.reload();
    await layer('Text').waitFor();
    const web = fixture.studio.children.get('web')!;
    web.kill('SIGKILL');
    await eventually(
      async () =>
        fixture.client.ask(fixture.studio.url).then(
          (r) => r.ok,
          () => false,
        ),
      20_000,
    );
    await page.reload();
    await layer('Text').waitFor();
    await goTo(page, 'Sound');
    expect(
      await page.getByRole('slider', { name: 'Level of Voice', exact: true }).getAttribute('aria-valuetext'),
    ).toBe('-4.5 decibels');
  });

  test('no page threw an error meanwhile', () => {
    expect(fixture.pageErrors).toEqual([]);
  });
});
