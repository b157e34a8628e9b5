/** A video that costs too much: said, made lighter, taken back; and what comes next is opened ahead. */
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { expect, test } from 'vitest';
import { freshStart } from '../lib/fresh-start';
import { eventually } from '../lib/relay-process';
import * as stage from '../lib/stage-driver';
import { pause } from '../lib/waits';

freshStart(() => stage.openStage(), stage.closeStage);

test('a heavy file says what it costs; a lighter copy takes its place, and undo brings it back', async () => {
  const { page } = stage;
  const file = path.join(stage.fixture.data, 'heavy.mp4');
  spawnSync('ffmpeg', [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=size=1920x1080:rate=60', '-t', '2'],
    ...['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', file],
  ]);
  await stage.freshScene();
  await page.getByLabel('Files to bring in').setInputFiles(file);
  await page.getByTestId('layer-heavy').waitFor();
  await page.getByRole('radio', { name: 'Inputs of the show' }).click();
  await page.getByTestId('input-heavy').getByRole('button').first().click();
  const settings = page.getByRole('region', { name: 'Input settings' });
  await settings
    .getByText(/1920×1080, 60 fps: \d+ MB while it is open, ready after [\d.]+ s\. [\d.]+ times/)
    .waitFor();
  const fileOf = async () => {
    const { source } = await stage.inputNamed('heavy');
    return source.type === 'clips' ? source.files[0] : null;
  };
  const original = await fileOf();
  await settings.getByRole('button', { name: 'Make a lighter copy' }).click();
  await settings.getByRole('progressbar', { name: /lighter copy of heavy/ }).waitFor();
  await page.getByText(/shows the lighter copy now/).waitFor();
  const lighter = await fileOf();
  expect(lighter!.assetId).not.toBe(original!.assetId);
  // It fills the frame, so it is as large as the small plan sends that.
  await settings.getByText(/running, 320×180/).waitFor();
  // What it costs is measured a moment after it runs.
  await settings.getByRole('button', { name: 'Make a lighter copy' }).waitFor({ state: 'detached' });
  await stage.undo();
  await eventually(async () => (await fileOf())?.assetId === original!.assetId);
});

test('what the next scene shows is open before it is taken', async () => {
  const { page } = stage;
  // Of the demonstration: after the first scene on air comes another, whose inputs need not be kept ready.
  const records = await stage.records();
  const scenes = records.filter((r) => r.kind === 'scene').sort((a, b) => a.position - b.position);
  await stage.freshScene();
  await stage.addLayer('Background');
  const background = await stage.inputNamed('Background');
  await stage.fixture.edit('Asleep', [{ ...background, keepReady: false }]);
  // The scene before it in the order of the show comes on air; the one with the background is not looked at.
  const before = scenes.at(-1)!;
  await page.reload();
  await page.getByRole('button', { name: new RegExp(`^${before.name}: bring on air`) }).click();
  await page.getByRole('button', { name: `Edit ${scenes[0].name} off air` }).click();
  await page.getByRole('radio', { name: 'Inputs of the show' }).click();
  await page.getByTestId('input-Background').getByRole('button').first().click();
  await pause(6000);
  await page
    .getByRole('region', { name: 'Input settings' })
    .getByText(/running, /)
    .waitFor();
});
