/** Stage through the real interface: every command by pointer and keyboard, both frames, undone step by step. */
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import type { SceneRecord } from '../../core/show/records';
import { eventually } from '../lib/relay-process';
import {
  addLayer,
  arrange,
  at,
  choose,
  closeDialog,
  closeStage,
  drag,
  fixture,
  freshScene,
  handle,
  inspector,
  layerNamed,
  layersOf,
  menusGone,
  numberOf,
  openStage,
  page,
  records,
  row,
  scenes,
  setNumber,
  undo,
} from '../lib/stage-driver';

beforeAll(() => openStage());
afterAll(closeStage);

describe('placing', () => {
  let sceneId: string;
  beforeEach(async () => {
    sceneId = await freshScene();
    await addLayer('Shape');
    await row('Shape').waitFor();
  });

  test('a shape is moved in both frames, each by itself, and undone', async () => {
    expect([await numberOf('Centre x'), await numberOf('Width')]).toEqual([960, 640]);
    await drag(await at(960, 540), await at(500, 300), 'Alt');
    const wide = [await numberOf('Centre x'), await numberOf('Centre y')];
    expect(Math.abs(wide[0] - 500)).toBeLessThan(6);
    await drag(await at(540, 960, 'frame-tall'), await at(300, 400, 'frame-tall'), 'Alt');
    expect(Math.abs((await numberOf('Centre x')) - 300)).toBeLessThan(8);
    const { placements } = await layerNamed('Shape');
    expect(placements.wide!.cx).toBe(wide[0]);
    await undo();
    await undo();
    expect((await layerNamed('Shape')).placements).toMatchObject({ wide: { cx: 960 }, tall: { cx: 540 } });
  });

  test('resized, turned, rounded and cropped by its handles', async () => {
    const east = await handle('e');
    await drag(east, { x: east.x + 60, y: east.y }, 'Alt');
    expect(await numberOf('Width')).toBeGreaterThan(800);
    const corner = await handle('corner');
    await drag(corner, { x: corner.x + 20, y: corner.y + 20 });
    expect(await numberOf('Corner radius')).toBeGreaterThan(40);
    const turn = await handle('turn');
    const centre = await at(await numberOf('Centre x'), await numberOf('Centre y'));
    await drag(turn, { x: centre.x + 200, y: centre.y });
    expect(await numberOf('Rotation')).toBe(90);
    await page.getByRole('button', { name: 'History' }).click();
    const steps = page.getByRole('list', { name: 'History' });
    await steps.getByRole('button', { name: 'Turn Shape' }).waitFor();
    await steps.getByRole('button', { name: 'Add Shape' }).last().click();
    await closeDialog('History');
    expect([await numberOf('Width'), await numberOf('Corner radius'), await numberOf('Rotation')]).toEqual([
      640, 0, 0,
    ]);
  });

  test('an input is cropped by an edge with Ctrl held', async () => {
    await page.getByRole('button', { name: 'Add layer' }).click();
    await page.getByRole('menuitem', { name: 'Input of the show…' }).click();
    await page.getByRole('menuitem', { name: 'Lever camera' }).click();
    await menusGone();
    const before = await numberOf('Width');
    const west = await handle('w');
    await drag(west, { x: west.x + 60, y: west.y }, 'Control');
    const after = await numberOf('Width');
    const { crop } = (await layerNamed('Lever camera')).placements.wide!;
    expect(after).toBeLessThan(before - 100);
    expect(crop.left).toBeCloseTo(1 - after / before, 1);
    expect(crop.right).toBeCloseTo(0, 3);
  });

  test('every command of Arrange puts it where it says', async () => {
    const place = async () => {
      const p = (await layerNamed('Shape')).placements.wide!;
      return [p.cx - p.width / 2, p.cy - p.height / 2, p.width, p.height].map(Math.round);
    };
    const expected: [string, number[]][] = [
      ['Stretch', [0, 0, 1920, 1080]],
      ['Left half', [0, 0, 960, 1080]],
      ['Right third', [1280, 0, 640, 1080]],
      ['Top two thirds', [0, 0, 1920, 720]],
      ['Bottom third', [0, 720, 1920, 360]],
      ['Centre third', [0, 360, 1920, 360]],
      ['Align top', [0, 0, 1920, 360]],
      ['Align bottom', [0, 720, 1920, 360]],
      ['Centre', [0, 360, 1920, 360]],
    ];
    for (const [name, rect] of expected) {
      await arrange(name);
      expect([name, await place()]).toEqual([name, rect]);
    }
    await setNumber('Width', 400);
    await setNumber('Height', 200);
    await arrange('Bottom right');
    expect(await place()).toEqual([1480, 840, 400, 200]);
    await arrange('Fit');
    expect(await place()).toEqual([0, 60, 1920, 960]);
    await arrange('Fill');
    expect(await place()).toEqual([-120, 0, 2160, 1080]);
    await arrange('Flip horizontal', 'Flip vertical');
    expect((await layerNamed('Shape')).placements.wide).toMatchObject({ flipX: true, flipY: true });
    await arrange('Reset');
    expect((await layerNamed('Shape')).placements.wide).toMatchObject({
      flipX: false,
      rotationDeg: 0,
      opacity: 1,
    });
  });

  test('several are chosen, aligned, spread, made alike, and moved by the keys', async () => {
    for (const [i, x] of [300, 800, 1700].entries()) {
      if (i > 0) await addLayer('Shape');
      await setNumber('Width', 100 + i * 40);
      await setNumber('Centre x', x);
      await setNumber('Centre y', 200 + i * 100);
    }
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+a');
    await inspector().getByText('3 layers chosen').waitFor();
    const xs = async () => (await layersOf(sceneId)).map((l) => l.placements.wide!.cx);
    await arrange('Distribute horizontally', 'Align middle');
    const [a, b, c] = await xs();
    expect([a, c]).toEqual([300, 1700]);
    // 50 + 70 and 70 + 90 are the half widths between the centres.
    expect(b - a - 120).toBeCloseTo(c - b - 160, 0);
    expect(new Set((await layersOf(sceneId)).map((l) => l.placements.wide!.cy)).size).toBe(1);
    await page.getByTestId('frame').focus();
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('Shift+ArrowRight');
    expect(await xs()).toEqual([a + 9, b + 9, c + 9]);
    await arrange('Same size');
    expect(new Set((await layersOf(sceneId)).map((l) => l.placements.wide!.width)).size).toBe(1);
  });

  test('a number that changed under the hand is replaced by what is typed, not lengthened', async () => {
    await setNumber('Width', 100);
    const field = inspector().getByLabel('Width', { exact: true });
    await field.focus();
    await page.keyboard.press('ArrowUp');
    await expect.poll(() => numberOf('Width')).toBe(101);
    await page.keyboard.type('18');
    // It comes a moment later that the number became 101: what is being typed stays.
    await page.keyboard.type('0');
    await page.keyboard.press('Enter');
    expect(await numberOf('Width')).toBe(180);
  });

  test('a rubber band chooses what it touches; a press on nothing lets go', async () => {
    await setNumber('Centre x', 400);
    await page.mouse.click(...(Object.values(await at(1700, 1000)) as [number, number]));
    await inspector().getByText('Choose a layer').waitFor();
    await drag(await at(1600, 900), await at(600, 300));
    await inspector().getByLabel('Centre x', { exact: true }).waitFor();
    expect(await numberOf('Centre x')).toBe(400);
  });

  test('zoom by the wheel to 800 %, pan, and back', async () => {
    const where = await at(960, 540);
    await page.mouse.move(where.x, where.y);
    await page.keyboard.down('Control');
    for (let i = 0; i < 14; i++) await page.mouse.wheel(0, -240);
    await page.keyboard.up('Control');
    await page.getByText('800%').waitFor();
    await page.mouse.wheel(0, 60);
    // An arrow key still moves by one frame pixel.
    await page.getByTestId('frame').focus();
    await page.keyboard.press('ArrowRight');
    expect(await numberOf('Centre x')).toBe(961);
    await page.getByTestId('frame').press('0');
    await page.getByText('800%').waitFor({ state: 'detached' });
  });

  test('safe areas, one frame alone, other sizes', async () => {
    await page.getByRole('button', { name: 'Safe areas' }).click();
    expect(await page.getByTestId('safe-areas').count()).toBe(2);
    await page.getByRole('button', { name: 'Safe areas' }).click();
    await page.getByRole('radiogroup', { name: 'Frames shown' }).getByRole('radio', { name: 'Tall' }).click();
    await page.getByTestId('frame').waitFor({ state: 'detached' });
    await page.getByRole('radiogroup', { name: 'Frames shown' }).getByRole('radio', { name: 'Both' }).click();
    await page.getByRole('button', { name: 'Frame sizes' }).click();
    const sizes = page.getByRole('dialog', { name: 'Frame sizes' });
    await sizes.getByLabel('Width').last().fill('1200');
    await page.keyboard.press('Enter');
    await closeDialog('Frame sizes');
    await page.getByText('1200×1920').waitFor();
    expect((await layerNamed('Shape')).placements.tall!.cx).toBe(600);
    await undo();
    await page.getByText('1080×1920').waitFor();
  });

  test('out of one frame and in again', async () => {
    await row('Shape').getByRole('button', { name: 'Shape in Tall' }).click();
    expect((await layerNamed('Shape')).placements.tall).toBeUndefined();
    await row('Shape').getByRole('button', { name: 'Shape in Tall' }).click();
    expect((await layerNamed('Shape')).placements.tall).toBeDefined();
  });
});

describe('groups, order, copies', () => {
  let sceneId: string;
  beforeEach(async () => {
    sceneId = await freshScene();
    await addLayer('Shape');
    await addLayer('Text');
    await row('Text').waitFor();
  });

  test('grouped by the keys, moved as one, hidden as one, taken apart', async () => {
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.press('Control+g');
    await row('Group').waitFor();
    const [before] = await layersOf(sceneId);
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Shift+ArrowRight');
    const members = (await layersOf(sceneId)).filter((l) => l.groupId !== null);
    expect(members.map((l) => l.placements.wide!.cx)).toEqual([970, 970]);
    expect(before.placements.wide!.cx).toBe(960);
    await row('Group').getByRole('button', { name: 'Close Group' }).click();
    await row('Text').waitFor({ state: 'detached' });
    await row('Group').getByRole('button', { name: 'Open Group' }).click();
    await row('Group').getByRole('button', { name: 'Hide Group' }).click();
    expect((await layerNamed('Group')).visible).toBe(false);
    await choose('Group');
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+Shift+g');
    await row('Group').waitFor({ state: 'detached' });
    expect((await layersOf(sceneId)).map((l) => l.groupId)).toEqual([null, null]);
  });

  test('order by commands and keys', async () => {
    await arrange('Send to back');
    expect((await layersOf(sceneId)).map((l) => l.name)).toEqual(['Text', 'Shape']);
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+ArrowUp');
    expect((await layersOf(sceneId)).map((l) => l.name)).toEqual(['Shape', 'Text']);
  });

  test('copied to another scene in place, cut, and duplicated', async () => {
    await setNumber('Centre x', 700);
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+c');
    const other = await freshScene();
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+v');
    await row('Text').waitFor();
    expect((await layersOf(other))[0].placements.wide!.cx).toBe(700);
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+d');
    await row('Text copy').waitFor();
    await page.keyboard.press('Control+x');
    await row('Text copy').waitFor({ state: 'detached' });
    expect(await layersOf(other)).toHaveLength(1);
    expect(await layersOf(sceneId)).toHaveLength(2);
  });

  test('pasted into the middle, and only the place', async () => {
    await setNumber('Centre x', 300);
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+c');
    await arrange('Paste in the middle');
    await eventually(async () => (await layersOf(sceneId)).length === 3);
    expect((await layersOf(sceneId)).at(-1)!.placements.wide!.cx).toBe(960);
    await choose('Shape');
    await arrange('Paste placement');
    await eventually(async () => (await layerNamed('Shape')).placements.wide!.cx === 300);
    expect((await layerNamed('Shape')).placements.wide!.width).toBe(520);
  });

  test('a paste of something else, or of something torn, is explained', async () => {
    await page.evaluate(() => navigator.clipboard.writeText('milk, bread'));
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+v');
    await page.getByText('There are no layers on the clipboard').waitFor();
    await page.evaluate(() => navigator.clipboard.writeText('{"format":"dolomite-layers/1","layers":['));
    await page.getByTestId('frame').focus();
    await page.keyboard.press('Control+v');
    await page.getByText(/cut off: copy them again/).waitFor();
  });

  test('a supporter strip stands above every scene in two presses; one scene hides or moves it', async () => {
    await arrange('Above every scene');
    expect((await layersOf(null)).map((l) => l.name)).toContain('Text');
    await freshScene();
    await row('Text').waitFor();
    await row('Text').getByRole('button', { name: 'Hide Text' }).click();
    const scene = async () => (await records()).find((r): r is SceneRecord => r.id === `sc-test-${scenes}`)!;
    expect(Object.values((await scene()).standing)).toEqual([{ hidden: true, placements: {} }]);
    await row('Text').getByRole('button', { name: 'Show Text' }).click();
    await choose('Text');
    await inspector().getByLabel('Override placement in this scene').click();
    await setNumber('Centre y', 111);
    expect(Object.values((await scene()).standing)[0].placements.wide!.cy).toBe(111);
    expect((await layerNamed('Text')).placements.wide!.cy).toBe(540);
    await arrange('In this scene only');
    expect((await layersOf(null)).map((l) => l.name)).not.toContain('Text');
  });

  test('a scene in a scene; the one that would show itself cannot be chosen', async () => {
    await page.getByRole('button', { name: 'Add layer' }).click();
    await page.getByRole('menuitem', { name: 'Scene in this scene…' }).click();
    expect(await page.getByRole('menuitem', { name: `Test ${scenes}` }).getAttribute('aria-disabled')).toBe(
      'true',
    );
    await page.getByRole('menuitem', { name: 'Game', exact: true }).click();
    await row('Game').waitFor();
    expect((await layerNamed('Game')).content).toMatchObject({ type: 'inset', sceneId: 'sc-game' });
  });
});

describe('scenes', () => {
  test('from a template with a choice of parts, both frames laid out', async () => {
    await page.getByRole('region', { name: 'Scenes' }).getByRole('button', { name: 'Add' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('radio', { name: /^Game/ }).click();
    await dialog.getByLabel('Chat panel').click();
    await dialog.getByRole('button', { name: 'Make the scene' }).click();
    await page.getByLabel('Name of the scene').fill('Late game');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Late game' }).waitFor();
    const scene = (await records()).find(
      (r): r is SceneRecord => r.kind === 'scene' && r.name === 'Late game',
    )!;
    const layers = await layersOf(scene.id);
    expect(layers.map((l) => l.name)).toEqual(['Switchback Freight', 'Desk camera']);
    for (const layer of layers) expect(Object.keys(layer.placements).sort()).toEqual(['tall', 'wide']);
  });

  test('marked, put into another folder, moved by keys, and folders closed', async () => {
    const strip = page.getByRole('region', { name: 'Scenes' });
    await strip.getByRole('button', { name: 'More for Late game' }).click();
    await page.getByRole('button', { name: 'Larch mark' }).click();
    await strip.getByRole('img', { name: 'Larch mark' }).waitFor();
    await menusGone();
    await strip.getByRole('button', { name: 'More for Late game' }).click();
    await page.getByRole('menuitem', { name: 'To a new folder' }).click();
    await menusGone();
    await strip.getByRole('button', { name: 'New folder', exact: true }).dblclick();
    await page.getByLabel('Name of the folder').fill('Late show');
    await page.keyboard.press('Enter');
    const scene = (await records()).find(
      (r): r is SceneRecord => r.kind === 'scene' && r.name === 'Late game',
    )!;
    expect([scene.folder, scene.mark]).toEqual(['Late show', 'larch']);
    await strip.getByRole('button', { name: 'Close folder Late show' }).click();
    await strip.getByRole('button', { name: /^Late game: bring on air/ }).waitFor({ state: 'detached' });
  });

  test('a tall placement is proposed, seen first, and taken or left', async () => {
    const before = (await layersOf('sc-game')).map((l) => l.placements.tall);
    await page
      .getByRole('button', { name: 'Edit Game off air' })
      .or(page.getByRole('button', { name: /^Game: bring on air/ }))
      .first()
      .click();
    await page.getByRole('heading', { name: 'Game', exact: true }).waitFor();
    await page.getByRole('button', { name: 'Propose Tall' }).click();
    await page.getByRole('group', { name: 'Proposal' }).getByRole('button', { name: 'Discard' }).click();
    expect((await layersOf('sc-game')).map((l) => l.placements.tall)).toEqual(before);
    await page.getByRole('button', { name: 'Propose Tall' }).click();
    // Going to another scene leaves the proposal behind.
    await page.getByRole('button', { name: 'Edit Talk off air' }).click();
    await page.getByRole('group', { name: 'Proposal' }).waitFor({ state: 'detached' });
    await page
      .getByRole('button', { name: 'Edit Game off air' })
      .or(page.getByRole('button', { name: /^Game: bring on air/ }))
      .first()
      .click();
    await page.getByRole('heading', { name: 'Game', exact: true }).waitFor();
    expect((await layersOf('sc-game')).map((l) => l.placements.tall)).toEqual(before);
    await page.getByRole('button', { name: 'Propose Tall' }).click();
    await page.getByRole('group', { name: 'Proposal' }).getByRole('button', { name: 'Apply' }).click();
    const host = (await layersOf('sc-game')).find((l) => l.name === 'Desk camera')!;
    expect(host.placements.tall).toMatchObject({ cy: 320, width: 1080, height: 640 });
    await undo();
    expect((await layersOf('sc-game')).map((l) => l.placements.tall)).toEqual(before);
  });
});

test('what is changed elsewhere comes by itself, and takes nothing of what was done here; a value that both changed is told', async () => {
  const sceneId = await freshScene();
  await addLayer('Shape');
  await row('Shape').getByRole('button', { name: 'Hide Shape' }).click();
  await eventually(async () => (await layersOf(sceneId))[0]?.visible === false);
  const scene = (await records()).find((r) => r.id === sceneId)!;
  await fixture.edit('Renamed elsewhere', [{ ...scene, name: 'Renamed elsewhere' }]);
  await page.getByRole('heading', { name: 'Renamed elsewhere' }).waitFor();
  const [shape] = await layersOf(sceneId);
  await fixture.edit('Shown elsewhere', [{ ...shape, visible: true }]);
  await page
    .getByRole('alert')
    .getByText(/“Shape” was changed in another window too/)
    .waitFor();
  await row('Shape').getByRole('button', { name: 'Hide Shape' }).waitFor();
  // What was done here can still be taken back, and what was done elsewhere stays.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await eventually(async () => (await layersOf(sceneId)).length === 0);
  await page.getByRole('heading', { name: 'Renamed elsewhere' }).waitFor();
  // It does not lie over the place for good, but it is not lost either.
  await page.getByRole('alert').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: /^Notice: “Shape” was changed/ }).click();
  await page.getByRole('alert').getByRole('button', { name: 'Dismiss' }).click();
  await page.getByRole('alert').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: /^Notice:/ }).waitFor({ state: 'detached' });
});
