/** Poses and transitions through the interface; how they move is judged on driven time (tests/driven/motion.test.ts). */
import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import type { AnyRecord, PoseRecord } from '../../core/show/records';
import { freshStart } from '../lib/fresh-start';
import { eventually } from '../lib/relay-process';
import { marksOf } from '../lib/moving-mark';
import { halfLottie } from '../lib/sample-files';
import * as stage from '../lib/stage-driver';
import { pause } from '../lib/waits';

freshStart(() => stage.openStage(), stage.closeStage);

const poses = async (): Promise<PoseRecord[]> =>
  (await stage.records())
    .filter((r: AnyRecord): r is PoseRecord => r.kind === 'pose' && r.sceneId.startsWith('sc-test'))
    .filter((r) => r.sceneId === `sc-test-${stage.scenes}`)
    .sort((a, b) => a.position - b.position);
const row = () => stage.page.getByRole('region', { name: 'Poses' });
const addPose = () => row().getByRole('button', { name: 'Add pose' }).click();
const menu = async (pose: string, item: string | RegExp) => {
  await row()
    .getByRole('button', { name: `More for ${pose}`, exact: true })
    .click();
  await stage.page.getByRole('menuitem', { name: item }).click();
  await stage.menusGone();
};
/** A field may keep the first Escape for itself. */
const closePopover = () =>
  eventually(async () => {
    await stage.page.keyboard.press('Escape');
    await pause(200);
    return (await stage.page.locator('.MuiModal-root').count()) === 0;
  });
const wideX = (pose: PoseRecord, layerId: string) => pose.layers[layerId]?.placements.wide?.cx;
async function brightShape(): Promise<void> {
  await stage.addLayer('Shape');
  await stage.inspector().getByLabel('Colour', { exact: true }).fill('#63bdbb');
}

/** More than half of it the square is paler than what is looked for. */
const SLOW_EXIT_SECONDS = 5;

async function threePoses(): Promise<string> {
  await stage.freshScene();
  await brightShape();
  await stage.setNumber('Centre x', 400);
  for (const [pose, x] of [
    ['Pose 2', 960],
    ['Pose 3', 1500],
  ] as const) {
    await addPose();
    // What is typed now belongs to the new one, once it is there.
    await row()
      .getByRole('button', { name: `More for ${pose}`, exact: true })
      .waitFor();
    await stage.setNumber('Centre x', x);
  }
  await eventually(async () => (await poses()).length === 3);
  return (await stage.layerNamed('Shape')).id;
}

describe('poses', () => {
  test('three poses with keys: a key glides to its pose, the pencil’s row shows which is on air', async () => {
    const { page } = stage;
    const layerId = await threePoses();
    expect((await poses()).map((p) => wideX(p, layerId))).toEqual([400, 960, 1500]);
    await row().getByRole('button', { name: 'Glides…' }).click();
    await page
      .getByRole('group', { name: /^Glides of/ })
      .getByLabel('Duration')
      .fill('1500');
    await page.keyboard.press('Enter');
    await closePopover();
    const id = `sc-test-${stage.scenes}`;
    await eventually(async () => {
      const scene = (await stage.records()).find((r) => r.id === id);
      return scene?.kind === 'scene' && scene.glide.seconds === 1.5;
    });
    await page.getByRole('button', { name: new RegExp(`^Test ${stage.scenes}: bring on air`) }).click();
    await page.mouse.click(640, 795);
    for (const key of ['3', '1', '2']) {
      await page.keyboard.press(key);
      await row()
        .getByRole('button', { name: new RegExp(`^Pose ${key}: glide`), pressed: true })
        .waitFor();
    }
  });

  test('off air a pose, an entrance and a transition are played in the editor, unseen by viewers', async () => {
    await stage.freshScene();
    await stage.addLayer('Shape');
    await stage.inspector().getByLabel('Colour', { exact: true }).fill('#ff00ff');
    await stage.setNumber('Centre x', 400);
    // So slow that it is seen gone between two looks, however long a look takes.
    const square = await stage.layerNamed('Shape');
    const timing = { seconds: SLOW_EXIT_SECONDS, easing: 'linear' } as const;
    const slow = { ...square, motion: { ...square.motion, leave: 'fade' as const, timing } };
    await stage.fixture.edit('Slow exit', [slow]);
    await addPose();
    await row().getByRole('button', { name: 'More for Pose 2', exact: true }).waitFor();
    await stage.setNumber('Centre x', 1500);
    const picture = path.join(tmpdir(), `tried-${process.pid}.png`);
    /** Where the square is on the frame, 0…1 of its width; null while it is not seen. */
    const seen = async () => {
      const box = (await stage.page.getByTestId('frame').boundingBox())!;
      await stage.page.screenshot({ clip: box, path: picture });
      return marksOf(picture, [255, 0, 255])[0]?.x ?? null;
    };
    await eventually(async () => ((await seen()) ?? 0) > 0.7);
    const onAir = (await stage.fixture.health()).desk?.onAirSceneId;
    // From the second to the first.
    await stage.page.getByRole('button', { name: /^Pose 1: put it on the frames/ }).click();
    await eventually(async () => Math.abs(((await seen()) ?? 1) - 400 / 1920) < 0.02);
    await stage.choose('Shape');
    await stage.page.getByRole('button', { name: 'Try exit' }).click();
    await eventually(async () => (await seen()) === null);
    // The editor is back afterwards.
    await eventually(async () => Math.abs(((await seen()) ?? 0) - 400 / 1920) < 0.02);
    await stage.page.getByRole('button', { name: 'Try the transition' }).click();
    await eventually(async () => Math.abs(((await seen()) ?? 0) - 400 / 1920) < 0.02);
    expect((await stage.fixture.health()).desk?.onAirSceneId).toBe(onAir);
    rmSync(picture);
  });

  test('what is moved in one pose stays in the others; undo takes it back; a reload goes on in the pose on air', async () => {
    const { page } = stage;
    const layerId = await threePoses();
    await row()
      .getByRole('button', { name: /^Pose 1: put it on the frames/ })
      .click();
    await stage.choose('Shape');
    expect(await stage.numberOf('Centre x')).toBe(400);
    await stage.setNumber('Centre y', 200);
    await stage.drag(await stage.at(400, 200), await stage.at(520, 260), 'Alt');
    await eventually(async () => Math.abs(wideX((await poses())[0], layerId)! - 520) < 8);
    expect((await poses()).slice(1).map((p) => wideX(p, layerId))).toEqual([960, 1500]);
    await stage.undo();
    await eventually(async () => wideX((await poses())[0], layerId) === 400);
    const name = `Test ${stage.scenes}`;
    await page.getByRole('button', { name: new RegExp(`^${name}: bring on air`) }).click();
    await row()
      .getByRole('button', { name: /^Pose 2: glide to it on air/ })
      .click();
    await row()
      .getByRole('button', { name: /^Pose 2: glide/, pressed: true })
      .waitFor();
    await pause(300);
    await page.reload();
    await row()
      .getByRole('button', { name: /^Pose 2: glide/, pressed: true })
      .waitFor();
    await menu('Pose 2', 'Delete');
    await page.getByText('Pose 2 is on air: glide to another pose first.').waitFor();
    expect(await poses()).toHaveLength(3);
  });

  test('keys survive the removal of another; rename, duplicate, update, order and the other frame', async () => {
    const { page } = stage;
    const layerId = await threePoses();
    await menu('Pose 2', 'Delete');
    await eventually(async () => (await poses()).map((p) => p.key).join() === '1,3');
    await menu('Pose 3', 'Rename');
    await page.getByLabel('Name of the pose').fill('Right');
    await page.keyboard.press('Enter');
    await row().getByRole('button', { name: 'More for Right' }).waitFor();
    await menu('Right', 'Duplicate');
    await eventually(
      async () => (await poses()).map((p) => `${p.name} ${p.key}`).join() === 'Pose 1 1,Right 3,Right copy 2',
    );
    await menu('Right copy', 'Move left');
    await eventually(async () => (await poses()).map((p) => p.name).join() === 'Pose 1,Right copy,Right');
    await menu('Pose 1', /^Update from the frames/);
    await eventually(async () => wideX((await poses())[0], layerId) === 1500);
    await menu('Pose 1', 'Arrange Tall after Wide');
    await eventually(async () => (await poses())[0].layers[layerId].placements.tall !== undefined);
    await row()
      .getByRole('button', { name: /^Glide into Right:/ })
      .click();
    const own = page.getByRole('group', { name: 'Glide into Right' });
    await own.getByLabel('Custom timing for Right').click();
    await own.getByLabel('Duration').fill('900');
    await page.keyboard.press('Enter');
    await own.getByLabel('Easing').selectOption('spring(0.35)');
    await eventually(async () => {
      const { glide } = (await poses())[2];
      return glide?.seconds === 0.9 && glide.easing === 'spring(0.35)';
    });
    await own.getByLabel('Easing').selectOption({ label: 'Custom curve' });
    await own.getByLabel('Timing function').fill('cubic-bezier(2, 0, 0, 1)');
    await own.getByText(/lie between 0 and 1/).waitFor();
    await page.keyboard.press('Escape');
    await closePopover();
  });
});

describe('transitions', () => {
  test('a dip with its colour and time; a pair of scenes has a way of its own', async () => {
    const { page } = stage;
    await stage.freshScene();
    await brightShape();
    await stage.freshScene();
    const second = `Test ${stage.scenes}`;
    await page.getByLabel('Transition', { exact: true }).selectOption('dip');
    await page.getByLabel('Duration', { exact: true }).first().fill('1000');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'More about transitions' }).click();
    const panel = page.getByRole('group', { name: 'Transitions' });
    await panel.getByLabel('Colour it goes through').fill('#ff00ff');
    await panel.getByLabel('Add override').selectOption({ label: 'Talk' });
    await panel
      .getByRole('group', { name: 'After Talk' })
      .getByLabel('Transition after Talk')
      .selectOption('slide');
    await closePopover();
    await eventually(async () => {
      const scene = (await stage.records()).find((r) => r.kind === 'scene' && r.name === second);
      return (
        scene?.kind === 'scene' &&
        scene.transition?.colour === '#ff00ff' &&
        scene.transitionAfter['sc-talk']?.type === 'slide'
      );
    });
  });

  test.each([
    ['a WebM clip with sound', 'points.webm', true],
    ['an APNG', 'points.apng', false],
  ])('a stinger is brought in, measured and used: %s', async (_kind, file_, sounds) => {
    const { page } = stage;
    const clip = path.join(stage.fixture.data, file_);
    // Blue over everything from 0.5 to 1 s, nothing else; with a tone where it can have one.
    const made = spawnSync('ffmpeg', [
      ...'-v error -y -f lavfi -i color=blue:s=320x180:r=30:d=1.5 -f lavfi -i color=white:s=320x180:r=30:d=1.5'.split(
        ' ',
      ),
      ...'-f lavfi -i sine=440:d=1.5:r=48000 -filter_complex'.split(' '),
      "[1]format=gray,geq=lum='if(between(T,0.5,1),255,0)'[m];[0][m]alphamerge[v]",
      ...(sounds
        ? '-map [v] -map 2:a -c:v libvpx-vp9 -pix_fmt yuva420p -auto-alt-ref 0 -c:a libopus'
        : '-map [v] -c:v apng -pix_fmt rgba -plays 0'
      ).split(' '),
      clip,
    ]);
    expect(String(made.stderr)).toBe('');
    await stage.freshScene();
    await brightShape();
    await stage.freshScene();
    const second = `Test ${stage.scenes}`;
    await stage.addLayer('Shape');
    await stage.inspector().getByLabel('Colour', { exact: true }).fill('#e2ae45');
    await page.getByLabel('Transition', { exact: true }).selectOption('stinger');
    await page.getByRole('button', { name: 'More about transitions' }).click();
    const panel = page.getByRole('group', { name: 'Transitions' });
    await panel.getByText('Until a clip is chosen the scene comes by a fade.').waitFor();
    await panel.getByLabel('Choose a clip (WebM, APNG or Lottie)').setInputFiles(clip);
    await panel.getByText(/Clip: points, 1\.[45]/).waitFor();
    const cover = Number(await panel.getByLabel('Cut point').inputValue());
    expect(Math.abs(cover - 750)).toBeLessThan(80);
    if (sounds) await panel.getByLabel('Level of its sound').waitFor();
    else {
      // A Lottie animation is measured too; one that never covers is said, and the clip of before is chosen again.
      await panel.getByLabel('Another clip').setInputFiles({
        name: 'half.json',
        mimeType: 'application/json',
        buffer: halfLottie(192, 108),
      });
      await page.getByText(/"half" never covers the whole picture/).waitFor();
      await panel.getByText(/Clip: half/).waitFor();
      await panel.getByLabel('Another clip').setInputFiles(clip);
      await panel.getByText(/Clip: points, 1\.[45]/).waitFor();
    }
    await closePopover();
    await eventually(async () => {
      const scene = (await stage.records()).find((r) => r.kind === 'scene' && r.name === second);
      const stinger = scene?.kind === 'scene' ? scene.transition?.stinger : null;
      return stinger?.name === 'points' && stinger.sounds === sounds;
    });
    await page.getByRole('button', { name: new RegExp(`^${second}: bring on air`) }).click();
    await eventually(async () => {
      const { desk } = await stage.fixture.health();
      return desk?.onAirSceneId === `sc-test-${stage.scenes}`;
    });
  });
});
