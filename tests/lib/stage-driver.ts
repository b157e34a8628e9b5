/** Drives the Stage as a user does. One studio and one page for a test file: imported bindings are live. */
import type { BrowserContext, Page } from 'playwright-core';
import { expect } from 'vitest';
import { CUT } from '../../core/show/motion-records';
import {
  PLAIN_SCENE,
  type AnyRecord,
  type InputRecord,
  type LayerRecord,
  type SceneRecord,
} from '../../core/show/records';
import { eventually } from './relay-process';
import { SELDOM, SHOW, StudioFixture } from './studio-fixture';
import { pause } from './waits';

export let fixture: StudioFixture;
export let page: Page;
let context: BrowserContext;

/** @param fps more where something goes out */
export async function openStage(fps = SELDOM): Promise<void> {
  fixture = await StudioFixture.start({}, { fps });
  scenes = 0;
  // There from the start: a page that had to be loaded anew for each would take most of a test's time.
  await fixture.edit(
    'Scenes for tests',
    Array.from({ length: FRESH_SCENES }, (_, i) => emptyScene(i + 1)),
  );
  context = await fixture.browser.newContext({
    viewport: { width: 1280, height: 800 },
    permissions: ['clipboard-read', 'clipboard-write'],
  });
  page = await fixture.open('stage', context);
}

/** Nothing may have failed in the page meanwhile. */
export async function closeStage(): Promise<void> {
  const { pageErrors } = fixture;
  await fixture.stop();
  expect(pageErrors).toEqual([]);
}

/** The show as the server has it, once everything is saved. */
export async function records(): Promise<AnyRecord[]> {
  // An edit shows itself as "saving" with the next drawing of the page.
  await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve))));
  await page.getByText(/· saved/).waitFor();
  return fixture.records();
}
export const layersOf = async (sceneId: string | null) =>
  (await records())
    .filter((r): r is LayerRecord => r.kind === 'layer' && r.sceneId === sceneId)
    .sort((a, b) => a.position - b.position);
/** A layer of the scene in the editor, or a standing one. */
export const layerNamed = async (name: string) =>
  (await records()).find(
    (r): r is LayerRecord =>
      r.kind === 'layer' && r.name === name && (r.sceneId === null || r.sceneId === `sc-test-${scenes}`),
  )!;
export const row = (name: string) => page.getByTestId(`layer-${name}`);
export const choose = (name: string, modifiers: ('Shift' | 'Control')[] = []) =>
  row(name)
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .first()
    .click({ modifiers });
export const inspector = () => page.getByRole('region', { name: 'Layer settings' });
/** Fields follow an edit when the page has time: waits until they have. */
export const caughtUp = (of: Page) => of.locator('[data-testid="stage"][aria-busy="false"]').waitFor();
export const numberOf = async (label: string) => {
  await caughtUp(page);
  return Number(await inspector().getByLabel(label, { exact: true }).inputValue());
};
export const setNumber = async (label: string, value: number) => {
  await caughtUp(page);
  const field = inspector().getByLabel(label, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
};
export const undo = () => page.getByRole('button', { name: 'Undo' }).click();
export async function addLayer(item: string): Promise<void> {
  await page.getByRole('button', { name: 'Add layer' }).click();
  await page.getByRole('menuitem', { name: item, exact: true }).click();
  await menusGone();
}
/** A menu that fades out still lies over the frames for a moment. */
export const menusGone = () => page.locator('.MuiModal-root').waitFor({ state: 'detached' });
/** The button that was pressed may be gone, and with it the focus: it comes back to the dialog by itself. */
export async function closeDialog(name: string): Promise<void> {
  await eventually(async () => {
    await page.keyboard.press('Escape');
    await pause(150);
    return (await page.getByRole('dialog', { name }).count()) === 0;
  });
  await menusGone();
}
export const arrangeButton = () => page.getByRole('button', { name: 'Arrange' });
export async function arrange(...names: string[]): Promise<void> {
  await arrangeButton().click();
  const dialog = page.getByRole('dialog', { name: 'Arrange' });
  for (const name of names) await dialog.getByRole('button', { name, exact: true }).click();
  await closeDialog('Arrange');
}
/** A point of a frame on the page. */
export async function at(x: number, y: number, frame: 'frame' | 'frame-tall' = 'frame') {
  const box = (await page.getByTestId(frame).boundingBox())!;
  const [w, h] = frame === 'frame' ? [1920, 1080] : [1080, 1920];
  return { x: box.x + (x / w) * box.width, y: box.y + (y / h) * box.height };
}
export async function drag(
  from: { x: number; y: number },
  to: { x: number; y: number },
  key?: 'Alt' | 'Shift' | 'Control',
): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  if (key) await page.keyboard.down(key);
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 3 });
  await page.mouse.move(to.x, to.y, { steps: 3 });
  await page.mouse.up();
  if (key) await page.keyboard.up(key);
}
export async function handle(name: string, frame = 'frame') {
  const box = (await page.getByTestId(frame).locator(`[data-handle="${name}"]`).boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}

/** More than any file asks for. */
const FRESH_SCENES = 30;
const emptyScene = (n: number): SceneRecord => ({
  kind: 'scene',
  id: `sc-test-${n}`,
  showId: SHOW,
  name: `Test ${n}`,
  position: 50 + n,
  ...PLAIN_SCENE,
  folder: 'Tests',
  transition: CUT,
  background: '#000000',
});

/** A fresh scene with nothing on it, in the editor and off air. */
export let scenes = 0;
export async function freshScene(): Promise<string> {
  scenes += 1;
  await page.getByRole('button', { name: `Edit Test ${scenes} off air` }).click();
  await page.getByRole('heading', { name: `Test ${scenes}`, exact: true }).waitFor();
  // A test before may have left the list of inputs open.
  await page.getByRole('radio', { name: 'Layers, top first' }).click();
  return `sc-test-${scenes}`;
}
export const inputNamed = async (name: string) =>
  (await records()).find((r): r is InputRecord => r.kind === 'input' && r.name === name)!;
export async function setInputNumber(label: string, value: number): Promise<void> {
  const field = page.getByRole('region', { name: 'Input settings' }).getByLabel(label, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
}
