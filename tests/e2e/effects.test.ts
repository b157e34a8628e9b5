/** Edges, effects and widgets through the interface: what is pressed is in the show, seen on the frame, and taken back. */
import { spawnSync } from 'node:child_process';
import jsQR from 'jsqr';
import { expect, test } from 'vitest';
import { PLAIN_FINISH } from '../../core/show/finish-records';
import { freshStart } from '../lib/fresh-start';
import { eventually } from '../lib/relay-process';
import * as stage from '../lib/stage-driver';
import { makePicture } from '../lib/studio-fixture';

freshStart(() => stage.openStage(), stage.closeStage);

const finish = async () => (await stage.layerNamed('Shape')).finish;
const toggle = (name: string) => stage.inspector().getByRole('switch', { name, exact: true }).click();

async function shape(): Promise<void> {
  await stage.freshScene();
  await stage.addLayer('Shape');
  await stage.inspector().getByLabel('Blend mode').waitFor();
}

test('glow, blend and shadow are set by numbers, and undone step by step', async () => {
  await shape();
  await toggle('Outer glow');
  await stage.setNumber('Reach', 60);
  await stage.inspector().getByLabel('Blend mode').selectOption('screen');
  await stage.setNumber('Shadow', 40);
  await stage.setNumber('Shadow angle', 45);
  expect(await finish()).toMatchObject({
    blend: 'screen',
    outerGlow: { sizePx: 60 },
    shadow: { angleDeg: 45 },
  });
  for (let i = 0; i < 4; i++) await stage.undo();
  expect(await finish()).toMatchObject({ blend: 'normal', outerGlow: { sizePx: 24 } });
  await stage.undo();
  expect(await finish()).toEqual(PLAIN_FINISH);
});

test('an area is drawn over the layer; the blur follows it, and Escape leaves the drawing', async () => {
  const { page } = stage;
  await shape();
  await toggle('Blur');
  await stage.inspector().getByLabel('What is blurred').selectOption('inside');
  await stage.inspector().getByRole('button', { name: 'Remove area 1' }).click();
  const draw = stage.inspector().getByRole('button', { name: 'Draw an area' });
  await draw.click();
  await page.keyboard.press('Escape');
  await draw.click();
  // The shape stands in the middle, 640 by 360: its left upper quarter.
  await stage.drag(await stage.at(640, 360), await stage.at(960, 540));
  await draw.waitFor();
  const [area] = (await finish()).blur!.areas;
  expect(area.left).toBeCloseTo(0, 1);
  expect(area.top).toBeCloseTo(0, 1);
  expect(area.width).toBeCloseTo(0.5, 1);
  expect(area.height).toBeCloseTo(0.5, 1);
  // The layer itself has not been moved by the drag.
  expect((await stage.layerNamed('Shape')).placements.wide).toMatchObject({ cx: 960, cy: 540 });
  await draw.click();
  await stage.drag(await stage.at(20, 20), await stage.at(200, 200));
  await page.getByText(/lies outside "Shape"/).waitFor();
});

test('a picture masks the layer, the other way round, and is taken away; a file of another kind is refused', async () => {
  const { page, fixture } = stage;
  await shape();
  const file = `${fixture.data}/mask.png`;
  makePicture(file);
  const choose = stage.inspector().getByLabel('Mask from a picture…');
  await choose.setInputFiles({ name: 'words.png', mimeType: 'image/png', buffer: Buffer.from('only words') });
  await page.getByText(/neither picture, video nor sound/).waitFor();
  await choose.setInputFiles(file);
  await stage.inspector().getByText('Mask: mask').waitFor();
  await toggle('Invert');
  await eventually(async () => (await finish()).mask?.inverted === true);
  await stage.inspector().getByRole('button', { name: 'Remove the mask' }).click();
  expect((await finish()).mask).toBeNull();
  await stage.undo();
  await stage.inspector().getByRole('button', { name: 'Without effects' }).click();
  expect(await finish()).toEqual(PLAIN_FINISH);
});

test('a grade smooths skin by its slider', async () => {
  const { page } = stage;
  await stage.freshScene();
  await page.getByRole('radio', { name: 'Inputs of the show' }).click();
  await page.getByTestId('input-Desk camera').getByRole('button').first().click();
  const settings = page.getByRole('region', { name: 'Input settings' });
  await settings.getByLabel('Grade of Desk camera').selectOption('new');
  const value = settings.getByLabel(/Skin smoothed in/);
  await value.fill('60');
  await value.press('Enter');
  await eventually(async () =>
    (await stage.records()).some((r) => r.kind === 'grade' && r.smoothing === 0.6),
  );
  await settings.getByText(/running, /).waitFor();
});

/** What a phone reads in a picture file; nothing when there is no code. */
function read(png: Buffer): string | undefined {
  const [width, height] = [png.readUInt32BE(16), png.readUInt32BE(20)];
  const { stdout } = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-f', 'png_pipe', '-i', 'pipe:0', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-'],
    { input: png, maxBuffer: 64e6 },
  );
  return jsQR(new Uint8ClampedArray(stdout), width, height)?.data;
}

test('a code on the picture is read by another program; a field of the show changes it', async () => {
  const { page } = stage;
  await stage.freshScene();
  await page.getByRole('button', { name: 'Add layer' }).click();
  await page.getByRole('menuitem', { name: 'Audience…' }).click();
  await page.getByRole('menuitem', { name: 'QR code', exact: true }).click();
  await stage.menusGone();
  await stage.setNumber('Width', 900);
  await stage.setNumber('Height', 1000);
  const type = async (label: string, text: string) => {
    await stage.inspector().getByLabel(label, { exact: true }).fill(text);
    await stage.inspector().getByLabel(label, { exact: true }).press('Enter');
  };
  const seen = async () => read(await page.getByTestId('frame').screenshot());
  await type('Address or text', 'https://signal-box.example/{{host}}');
  await type('Words below', 'Give for the roof');
  await eventually(async () => (await seen()) === 'https://signal-box.example/lampwright');
  await type('Address or text', 'https://signal-box.example/roof');
  await eventually(async () => (await seen()) === 'https://signal-box.example/roof');
  await stage.undo();
  await eventually(async () => (await seen()) === 'https://signal-box.example/lampwright');
});

test('a test picture fills a scene, and shows what it is told to', async () => {
  const { page } = stage;
  await stage.freshScene();
  await stage.addLayer('Test picture');
  expect((await stage.layerNamed('Test picture')).placements.wide).toMatchObject({
    ...{ cx: 960, cy: 540, width: 1920, height: 1080 },
  });
  await page.getByRole('radio', { name: 'Inputs of the show' }).click();
  await page.getByTestId('input-Test picture').getByRole('button').first().click();
  const settings = page.getByRole('region', { name: 'Input settings' });
  await settings.getByRole('radio', { name: 'Grey steps' }).click();
  await settings.getByRole('switch', { name: 'Moving line' }).click();
  await eventually(async () => {
    const input = await stage.inputNamed('Test picture');
    return JSON.stringify(input.source) === '{"type":"testPicture","pattern":"steps","moving":false}';
  });
});
