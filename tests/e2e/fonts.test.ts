/** Font files of one's own: brought in by the field or dropped, seen on the picture, taken back, refused. */
import { readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from 'vitest';
import { en } from '../../app/words/en';
import { freshStart } from '../lib/fresh-start';
import { marksOf } from '../lib/moving-mark';
import { eventually } from '../lib/relay-process';
import * as stage from '../lib/stage-driver';

freshStart(() => stage.openStage(), stage.closeStage);

/** Its letters are all equally wide: an i has feet to stand on. */
const FONT = path.join(
  path.dirname(createRequire(import.meta.url).resolve('@fontsource-variable/jetbrains-mono/package.json')),
  'files/jetbrains-mono-latin-wght-normal.woff2',
);
const picture = path.join(tmpdir(), `fonts-${process.pid}.png`);

/** How much of the frame the words cover. */
async function share(): Promise<number> {
  const box = (await stage.page.getByTestId('frame').boundingBox())!;
  await stage.page.screenshot({ clip: box, path: picture });
  return marksOf(picture, [255, 0, 255], [640, 360])[0]?.share ?? 0;
}

async function slimWords(): Promise<void> {
  await stage.freshScene();
  await stage.addLayer('Text');
  const words = stage.inspector().getByLabel('Words; {{host}} puts in a field');
  await words.fill('iiiiiiii');
  await words.blur();
  await stage.setNumber('Size', 60);
  await stage.inspector().getByLabel('Colour', { exact: true }).fill('#ff00ff');
  await stage.setNumber('Weight', 900);
  await eventually(async () => (await share()) > 0);
}
const ownFont = async () => {
  const { content } = await stage.layerNamed('Text');
  return content.type === 'text' ? content.style.ownFont : undefined;
};

test('a font file is brought in by the field, writes the words, is offered to other texts, and undone', async () => {
  const { page } = stage;
  await slimWords();
  const before = await share();
  await page.getByLabel(en.fonts.file).setInputFiles(FONT);
  await eventually(async () => (await ownFont())?.name === path.basename(FONT));
  await eventually(async () => (await share()) > before * 1.2);
  const written = await share();
  await stage.undo();
  await eventually(async () => (await ownFont()) === undefined);
  await eventually(async () => Math.abs((await share()) - before) < before * 0.1);
  await stage.inspector().getByLabel(en.fonts.label, { exact: true }).click();
  await page.getByText(en.fonts.own).waitFor();
  await page.getByRole('option', { name: 'jetbrains-mono-latin-wght-normal' }).click();
  await eventually(async () => Math.abs((await share()) - written) < written * 0.1);
  await stage.inspector().getByLabel(en.fonts.label, { exact: true }).click();
  await page.getByRole('option', { name: 'Bricolage Grotesque' }).click();
  await eventually(async () => (await ownFont()) === undefined);
  rmSync(picture);
});

test('dropped on a frame it writes the text that is chosen; one that is damaged is refused with what to do', async () => {
  const { page } = stage;
  await slimWords();
  const bytes = readFileSync(FONT).toString('base64');
  await page.getByTestId('frame').evaluate((frame, base64) => {
    const data = new DataTransfer();
    data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], 'signal.woff2'));
    frame.dispatchEvent(new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: data }));
  }, bytes);
  await eventually(async () => (await ownFont())?.name === 'signal.woff2');
  await page.getByLabel(en.fonts.file).setInputFiles({
    name: 'torn.ttf',
    mimeType: 'font/ttf',
    buffer: readFileSync(FONT).subarray(0, 3000),
  });
  await page.getByText(/the font is damaged \(it is cut off\): get the file anew/).waitFor();
  expect((await ownFont())?.name).toBe('signal.woff2');
});
