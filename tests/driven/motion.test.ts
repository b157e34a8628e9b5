/** Glides, transitions and stingers on driven time: where everything is in every video frame, as another decoder sees it. */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Browser } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { CUT, FADE, type Stinger, type Transition } from '../../core/show/motion-records';
import {
  PLAIN_CHANNEL,
  type AnyRecord,
  type ChannelRecord,
  type LayerRecord,
  type PoseRecord,
} from '../../core/show/records';
import { sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import { decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { launchBrowser } from '../../scripts/lib/browser.mjs';
import { Driven, type DrivenResult } from '../lib/driven';
import type { DrivenOrder } from '../lib/driven-desk';
import { marksOf } from '../lib/moving-mark';
import { halfLottie } from '../lib/sample-files';
import { ffmpeg, silences } from '../lib/sound-files';

const FPS = 15;
const GLACIER = [0x63, 0xbd, 0xbb] as const;
const LARCH = [0xe2, 0xae, 0x45] as const;
const MAGENTA = [255, 0, 255] as const;
const BLUE = [0, 0, 255] as const;

let browser: Browser;
let driven: Driven;
beforeAll(async () => {
  browser = await launchBrowser();
  driven = await Driven.open(browser);
});
afterAll(async () => {
  await driven?.close();
  await browser?.close();
});

const shape = (id: string, scene: string, colour: string, place: object = {}): AnyRecord =>
  sampleLayer(id, scene, 0, { content: { type: 'shape', shape: 'rectangle', colour }, wide: place });

/** A square that stands at `x` in each of the poses. */
function posedShow(xs: readonly number[], glideSeconds: number): AnyRecord[] {
  const square = sampleLayer('square', 'moves', 0, {
    content: { type: 'shape', shape: 'rectangle', colour: '#63bdbb' },
    wide: { cx: xs[0], cy: 540, width: 300, height: 300 },
  });
  return [
    sampleShow,
    sampleScene('moves', {
      background: '#000000',
      glide: { seconds: glideSeconds, easing: 'ease-in-out', staggerSeconds: 0 },
    }),
    square,
    ...xs.map((x, i): PoseRecord => ({
      ...{ kind: 'pose', id: `pose-${i + 1}`, showId: 'show', name: `Pose ${i + 1}`, position: i },
      ...{ sceneId: 'moves', key: String(i + 1), glide: null, standing: {} },
      layers: {
        square: {
          visible: true,
          placements: { wide: { ...square.placements.wide!, cx: x } },
          colour: null,
        },
      },
    })),
  ];
}

/** CSS `ease-in-out`: cubic-bezier(0.42, 0, 0.58, 1), found by halving (CSS Easing Functions 1, section 2.3). */
function easeInOut(share: number): number {
  const bezier = (a: number, b: number, t: number) =>
    3 * (1 - t) ** 2 * t * a + 3 * (1 - t) * t * t * b + t ** 3;
  let [low, high] = [0, 1];
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (bezier(0.42, 0.58, middle) < share) low = middle;
    else high = middle;
  }
  return bezier(0, 1, low);
}

const takeBy = (sceneId: string, transition: Partial<Transition>): DrivenOrder => ({
  type: 'take',
  stop: { sceneId, poseId: null },
  transition: { ...CUT, ...transition },
});

/** How much of every video frame has the colour. */
const shares = ({ files }: DrivenResult, colour: readonly [number, number, number]) =>
  marksOf(files.wide!, colour).map((mark) => mark?.share ?? 0);

/** Frames that were left out are found by their stamps: what is asked of every frame must be asked of all. */
function whole(result: DrivenResult, seconds: number): void {
  expect(result.report).toMatchObject({ skipped: 0, late: 0, encoderBusy: 0, leftOut: 0 });
  expect(decodesCleanly(result.files.wide!)).toEqual({ clean: true, complaints: '' });
  const frames = shares(result, GLACIER).length;
  expect(Math.abs(frames - seconds * FPS)).toBeLessThanOrEqual(1);
}

describe('glides', () => {
  test('go from pose to pose with their easing, frame by frame; an interruption does not jump', async () => {
    const result = await driven.record({
      records: posedShow([400, 960, 1500], 1.2),
      sceneId: 'moves',
      orders: [
        [1, { type: 'glide', poseId: 'pose-3' }],
        // In the middle of the way back.
        [3, { type: 'glide', poseId: 'pose-1' }],
        [3.6, { type: 'glide', poseId: 'pose-2' }],
      ],
      seconds: 6,
    });
    whole(result, 6);
    const xs = marksOf(result.files.wide!, GLACIER).map((mark) => mark!.x * 1920);
    // The first way: where the formula has it, to three pixels of the small picture and the frame in which it began.
    const begins = xs.findIndex((x) => x > 402);
    for (let i = 0; i <= 1.2 * FPS; i++) {
      const wanted = 400 + 1100 * easeInOut(Math.min(1, (i + 2) / (1.2 * FPS)));
      const before = 400 + 1100 * easeInOut(Math.min(1, i / (1.2 * FPS)));
      expect(xs[begins + i]).toBeGreaterThan(before - 18);
      expect(xs[begins + i]).toBeLessThan(wanted + 18);
    }
    expect(Math.abs(begins - FPS)).toBeLessThanOrEqual(2);
    // The interruption came half-way: it turned round without having been at the first pose, and ends at the second.
    const back = xs.slice(Math.round(2.5 * FPS));
    expect(Math.abs(back[0] - 1500)).toBeLessThan(12);
    expect(Math.min(...back)).toBeGreaterThan(450);
    expect(Math.abs(back.at(-1)! - 960)).toBeLessThan(12);
    // No frame is further from the one before than the fastest moment of such a glide, twice over for the interruption.
    const steps = xs.slice(1).map((x, i) => Math.abs(x - xs[i]));
    expect(Math.max(...steps)).toBeLessThan(((1100 * 1.8) / 1.2 / FPS) * 1.3);
  });
});

describe('a scene that is held', () => {
  test('is edited unseen; what was edited glides on when it is shown, and then it is held anew', async () => {
    const [show, scene, square] = posedShow([400], 1) as [AnyRecord, AnyRecord, LayerRecord];
    const at = (cx: number): AnyRecord => ({
      ...square,
      placements: { wide: { ...square.placements.wide!, cx } },
    });
    const added = sampleLayer('more', 'moves', 1, {
      content: { type: 'shape', shape: 'rectangle', colour: '#e2ae45' },
      wide: { cx: 960, cy: 160, width: 300, height: 200 },
    });
    const hold = (on: boolean): DrivenOrder => ({ type: 'commands', commands: [{ type: 'hold', on }] });
    const result = await driven.record({
      records: [show, scene, square],
      sceneId: 'moves',
      orders: [
        [0.5, hold(true)],
        [1, { type: 'edit', put: [at(1500), added] }],
        [2, hold(true)],
        [4, { type: 'edit', put: [at(960)] }],
        [4.5, hold(false)],
      ],
      seconds: 7,
    });
    whole(result, 7);
    const xs = marksOf(result.files.wide!, GLACIER).map((mark) => mark!.x * 1920);
    const more = shares(result, LARCH);
    const from = (seconds: number) => Math.round(seconds * FPS);
    expect(xs.slice(0, from(2) - 1).every((x) => Math.abs(x - 400) < 12)).toBe(true);
    expect(more.slice(0, from(2) - 1).every((share) => share === 0)).toBe(true);
    // On its way, not there at once.
    expect(xs[from(2.5)]).toBeGreaterThan(600);
    expect(xs[from(2.5)]).toBeLessThan(1300);
    expect(xs.slice(from(3.2), from(4.5) - 1).every((x) => Math.abs(x - 1500) < 12)).toBe(true);
    expect(more.slice(from(3.2)).every((share) => share > 0.02)).toBe(true);
    expect(Math.abs(xs.at(-1)! - 960)).toBeLessThan(12);
  });

  test('a scene that leaves held leaves as it was seen, and comes again as it was edited', async () => {
    const records = posedShow([400], 0).slice(0, 3) as [AnyRecord, AnyRecord, LayerRecord];
    const moved = { ...records[2], placements: { wide: { ...records[2].placements.wide!, cx: 1500 } } };
    const result = await driven.record({
      records: [...records, sampleScene('other', { background: '#000000', position: 1 })],
      sceneId: 'moves',
      orders: [
        [0.5, { type: 'commands', commands: [{ type: 'hold', on: true }] }],
        [1, { type: 'edit', put: [moved] }],
        [1.5, takeBy('other', { ...FADE, seconds: 1, easing: 'linear' })],
        [3.5, takeBy('moves', {})],
      ],
      seconds: 5,
    });
    whole(result, 5);
    const xs = marksOf(result.files.wide!, GLACIER).map((mark) => mark && mark.x * 1920);
    const before = xs.slice(0, 3 * FPS).filter((x) => x !== null);
    expect(before.length).toBeGreaterThan(FPS);
    expect(before.every((x) => Math.abs(x - 400) < 12)).toBe(true);
    expect(Math.abs(xs.at(-1)! - 1500)).toBeLessThan(12);
  });
});

describe('transitions', () => {
  const twoScenes = [
    sampleShow,
    sampleScene('first', { background: '#000000' }),
    shape('a', 'first', '#63bdbb'),
    sampleScene('second', { background: '#000000', position: 1 }),
    shape('b', 'second', '#e2ae45'),
  ];

  test('a dip goes through its colour and never shows both scenes', async () => {
    const result = await driven.record({
      records: twoScenes,
      sceneId: 'first',
      orders: [[1, takeBy('second', { type: 'dip', seconds: 1, colour: '#ff00ff', easing: 'linear' })]],
      seconds: 3,
    });
    whole(result, 3);
    const [before, dip, after] = [GLACIER, MAGENTA, LARCH].map((colour) => shares(result, colour));
    const deepest = dip.indexOf(Math.max(...dip));
    expect(dip[deepest]).toBeGreaterThan(0.95);
    expect(Math.abs(deepest - 1.5 * FPS)).toBeLessThanOrEqual(3);
    expect(before.slice(0, FPS - 1).every((share) => share > 0.95)).toBe(true);
    expect(before.slice(deepest).every((share) => share < 0.01)).toBe(true);
    expect(after.slice(0, deepest).every((share) => share < 0.01)).toBe(true);
    expect(after.slice(2 * FPS + 2).every((share) => share > 0.95)).toBe(true);
  });

  test.each([
    ['wipe', 'left'],
    ['slide', 'right'],
    ['slide', 'top'],
  ] as const)('a %s from the %s brings as much of the next scene as its time is over', async (type, side) => {
    const result = await driven.record({
      records: twoScenes,
      sceneId: 'first',
      orders: [[1, takeBy('second', { type, side, seconds: 1, easing: 'linear' })]],
      seconds: 2.6,
    });
    whole(result, 2.6);
    const after = shares(result, LARCH);
    const begins = after.findIndex((share) => share > 0.01);
    for (let i = 2; i < FPS - 3; i += 3)
      expect(Math.abs(after[begins + i] - (i + 1) / FPS)).toBeLessThan(0.09);
    const before = shares(result, GLACIER);
    const middle = begins + 7;
    expect(before[middle] + after[middle]).toBeGreaterThan(0.9);
    const marks = marksOf(result.files.wide!, LARCH);
    const x = marks[middle]!.x;
    if (side === 'left') expect(x).toBeLessThan(0.4);
    else if (side === 'right') expect(x).toBeGreaterThan(0.6);
    else expect(Math.abs(x - 0.5)).toBeLessThan(0.05);
  });

  test('a fade mixes both, and an own way after one scene comes in its place', async () => {
    const result = await driven.record({
      records: twoScenes,
      sceneId: 'first',
      orders: [[1, takeBy('second', { ...FADE, seconds: 1, easing: 'linear' })]],
      seconds: 2.6,
    });
    whole(result, 2.6);
    const mixed = GLACIER.map((part, i) => Math.round((part + LARCH[i]) / 2)) as unknown as typeof GLACIER;
    const half = shares(result, mixed);
    const between = half.flatMap((share, i) => (share > 0.95 ? [i] : []));
    expect(between.length).toBeGreaterThan(1);
    expect(Math.abs((between[0] + between.at(-1)!) / 2 - 1.5 * FPS)).toBeLessThanOrEqual(1.5);
  });
});

describe('a take', () => {
  test('begins in picture and sound together, at the picture it is stamped for, and ends so', async () => {
    const channel: ChannelRecord = {
      ...PLAIN_CHANNEL,
      ...{ kind: 'channel', id: 'music', showId: 'show', name: 'Music', position: 0, gainDb: 0 },
      ...{ source: { type: 'simulated', sound: 'night-music' }, heard: 'scenes', sceneIds: ['bright'] },
      fadeSeconds: 0,
    };
    const result = await driven.record({
      records: [
        sampleShow,
        sampleScene('dark', { background: '#000000' }),
        sampleScene('bright', { background: '#000000' }),
        shape('flash', 'bright', '#ff00ff'),
        channel,
      ],
      sceneId: 'dark',
      // Between two pictures of the grid, as a hand is.
      orders: [
        [1.53, takeBy('bright', {})],
        [3.27, takeBy('dark', {})],
      ],
      seconds: 5,
    });
    const lit = shares(result, MAGENTA).flatMap((share, i) => (share > 0.9 ? [i / FPS] : []));
    const quiet = silences(result.files.wide!, 0.3);
    expect(quiet).toHaveLength(2);
    const [before, after] = quiet;
    expect(Math.abs(before.from + before.length - lit[0])).toBeLessThan(0.02);
    // AAC rings on for a frame of its own.
    expect(Math.abs(after.from - (lit.at(-1)! + 1 / FPS))).toBeLessThan(0.02 + 1024 / 48_000);
    expect(lit[0] - 1.53).toBeLessThan(2 / FPS);
  });
});

describe('stingers', () => {
  const effects: ChannelRecord = {
    ...{ kind: 'channel', id: 'ch-effects', showId: 'show', name: 'Effects', position: 0 },
    ...PLAIN_CHANNEL,
    source: { type: 'effects' },
    gainDb: 0,
  };

  /** Blue over everything from 0.5 to 1 s, nothing else; with a tone where it can have one. */
  function clip(kind: 'webm' | 'apng' | 'lottie'): { file: string; mime: string } {
    if (kind === 'lottie') {
      const file = path.join(driven.folder, 'half.json');
      writeFileSync(file, halfLottie(192, 108));
      return { file, mime: 'application/lottie+json' };
    }
    const file = path.join(driven.folder, `points.${kind === 'webm' ? 'webm' : 'png'}`);
    ffmpeg([
      ...'-f lavfi -i color=blue:s=320x180:r=30:d=1.5 -f lavfi -i color=white:s=320x180:r=30:d=1.5'.split(
        ' ',
      ),
      ...'-f lavfi -i sine=440:d=1.5:r=48000 -filter_complex'.split(' '),
      "[1]format=gray,geq=lum='if(between(T,0.5,1),255,0)'[m];[0][m]alphamerge[v]",
      ...(kind === 'webm'
        ? '-map [v] -map 2:a -c:v libvpx-vp9 -pix_fmt yuva420p -auto-alt-ref 0 -c:a libopus'
        : '-map [v] -c:v apng -pix_fmt rgba -plays 0 -f apng'
      ).split(' '),
      file,
    ]);
    return { file, mime: kind === 'webm' ? 'video/webm' : 'image/apng' };
  }

  test.each(['webm', 'apng', 'lottie'] as const)('%s: the scene changes under it', async (kind) => {
    const { file, mime } = clip(kind);
    const stinger: Stinger = {
      ...{ assetId: driven.asset(file, mime), name: kind, seconds: 1.5, coverSeconds: 0.75 },
      ...{ sounds: kind === 'webm', gainDb: 0 },
    };
    const by = { type: 'stinger', seconds: 1.5, easing: 'linear', stinger } as const;
    const result = await driven.record({
      records: [
        sampleShow,
        effects,
        sampleScene('first', { background: '#000000' }),
        shape('a', 'first', '#63bdbb'),
        sampleScene('second', { background: '#000000', position: 1, transition: { ...CUT, ...by } }),
        shape('b', 'second', '#e2ae45'),
      ],
      sceneId: 'first',
      orders: [[1, takeBy('second', by)]],
      seconds: 4,
    });
    whole(result, 4);
    const [before, after] = [GLACIER, LARCH].map((colour) => shares(result, colour));
    if (kind === 'lottie') {
      // It covers a half only: the scenes change in the other one, in a single frame.
      const changes = after.findIndex((share) => share > 0.3);
      expect(before[changes - 1]).toBeGreaterThan(0.3);
      expect(before[changes]).toBeLessThan(0.01);
      expect(marksOf(result.files.wide!, MAGENTA)[changes]!.share).toBeGreaterThan(0.4);
      return;
    }
    const over = shares(result, BLUE);
    const covered = over.flatMap((share, i) => (share > 0.95 ? [i] : []));
    // Half a second of it, without a hole.
    expect(Math.abs(covered.length - FPS / 2)).toBeLessThanOrEqual(1.5);
    expect(covered.at(-1)! - covered[0]).toBe(covered.length - 1);
    expect(before.slice(0, covered[0]).every((share) => share > 0.5)).toBe(true);
    expect(after.slice(0, covered[0]).every((share) => share < 0.01)).toBe(true);
    expect(before.slice(covered.at(-1)! + 1).every((share) => share < 0.01)).toBe(true);
    expect(after.slice(covered.at(-1)! + 1).every((share) => share > 0.5)).toBe(true);
    if (kind !== 'webm') return;
    // Its tone is heard as long as it runs, and nothing else is.
    const quiet = silences(result.files.wide!, 0.5);
    expect(quiet).toHaveLength(2);
    expect(Math.abs(quiet[0].length - 1.15)).toBeLessThan(0.12);
    expect(Math.abs(quiet[1].from - 2.65)).toBeLessThan(0.15);
  });
});
