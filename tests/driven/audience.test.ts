/** Alerts, countdowns and messages on driven time: what viewers see of them in every video frame, and what they hear. */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Browser } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ViewerEvent } from '../../core/audience/events';
import { sampleEvent, sampleMessage, sampleRule } from '../../core/audience/sample-audience';
import type { AlertRuleRecord } from '../../core/show/audience-records';
import {
  DEFAULT_TEXT_STYLE,
  PLAIN_CHANNEL,
  type ChannelRecord,
  type LayerRecord,
} from '../../core/show/records';
import { sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import { launchBrowser } from '../../scripts/lib/browser.mjs';
import { cutTo, Driven, type DrivenResult } from '../lib/driven';
import type { DrivenOrder } from '../lib/driven-desk';
import { DRIVEN_START_MS } from '../lib/driven-start';
import { marksOf } from '../lib/moving-mark';
import { halfLottie, rgbaPng } from '../lib/sample-files';
import { ffmpeg, silences } from '../lib/sound-files';

const FPS = 15;

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

/** Where alerts stand: over the whole frame, so that their colour is all that is seen. */
const place = sampleLayer('alerts', 'talk', 1, { content: { type: 'alert', style: DEFAULT_TEXT_STYLE } });
const scenes = [
  sampleScene('talk', { background: '#000000' }),
  place,
  sampleScene('bare', { background: '#000000', position: 1 }),
];
const boxed = (colour: string): AlertRuleRecord['style'] => ({
  ...DEFAULT_TEXT_STYLE,
  ...{ sizePx: 14, colour, box: colour },
});
const rgb = (colour: string) =>
  [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16)) as [number, number, number];
const plain = (id: string, colour: string, more: Partial<AlertRuleRecord>): AlertRuleRecord =>
  sampleRule({
    ...{ id, name: id, seconds: 1.5, motionSeconds: 0, sound: null, text: '·', style: boxed(colour) },
    ...{ mergeSeconds: 0, coolDownSeconds: 0, perViewerSeconds: 0 },
    ...more,
  });
const happens = (...events: ViewerEvent[]): DrivenOrder => ({
  type: 'audience',
  // What came to the page in the same moment: the clock of a driven programme is known.
  message: { type: 'audience', events, cameMs: Infinity },
});
let seq = 0;
const event = (type: ViewerEvent['type'], more: Partial<ViewerEvent> = {}) =>
  sampleEvent(type, { atMs: DRIVEN_START_MS, seq: (seq += 1), ...more });

/** Video frames in which more than `share` of the picture has the colour: the first and how many, without a hole. */
function seen(
  { files }: DrivenResult,
  colour: string,
  share = 0.5,
): { first: number; count: number; whole: boolean } {
  const frames = marksOf(files.wide!, rgb(colour)).flatMap((mark, i) =>
    (mark?.share ?? 0) > share ? [i] : [],
  );
  return {
    first: frames[0] ?? -1,
    count: frames.length,
    whole: frames.length > 0 && frames.at(-1)! - frames[0] === frames.length - 1,
  };
}
const within = (frames: number, seconds: number, tolerance = 2) =>
  expect(Math.abs(frames - seconds * FPS)).toBeLessThanOrEqual(tolerance);

describe('alerts', () => {
  test('each kind brings its own, one after the other, each as long as it says', async () => {
    const kinds = [
      ['follow', '#ff0000', {}],
      ['subscription', '#00ff00', {}],
      ['donation', '#0000ff', { money: { minor: 500, currency: 'EUR' } }],
      ['donation', '#ffff00', { money: { minor: 7500, currency: 'EUR' } }],
      ['cheer', '#ff00ff', { count: 100 }],
      ['raid', '#00ffff', { count: 40 }],
      ['member', '#ff8800', {}],
      ['order', '#8800ff', { title: 'whistle' }],
      ['reward', '#ffffff', { title: 'lever' }],
    ] as const;
    const result = await driven.record({
      records: [
        sampleShow,
        ...scenes,
        ...kinds.map(([type, colour], i) =>
          plain(`rule-${i}`, colour, { event: type, ...(i === 3 && { from: 5000 }) }),
        ),
      ],
      sceneId: 'talk',
      // All at once: they wait for each other.
      orders: [[0.5, happens(...kinds.map(([type, , more]) => event(type, more)))]],
      seconds: 18,
    });
    const shown = kinds.map(([, colour]) => seen(result, colour, 0.8));
    shown.forEach(({ count, whole }, i) => {
      expect(whole, kinds[i][1]).toBe(true);
      within(count, 1.5);
    });
    expect(shown[0].first).toBeGreaterThan(0.5 * FPS - 2);
    // Nothing overlaps, and none is left out.
    const inOrder = [...shown].sort((a, b) => a.first - b.first);
    for (let i = 1; i < inOrder.length; i++)
      expect(inOrder[i].first).toBeGreaterThanOrEqual(inOrder[i - 1].first + inOrder[i - 1].count);
    expect(result.report.alerts).toMatchObject({ shown: 9, waiting: 0, merged: 0, limited: 0 });
  });

  test('pause holds them back, skip ends one, a scene without a place lets them wait', async () => {
    const order = (what: 'pause' | 'resume' | 'skip'): DrivenOrder => ({
      type: 'audience',
      message: { type: 'alertOrder', order: what },
    });
    const result = await driven.record({
      records: [
        sampleShow,
        ...scenes,
        plain('follow', '#ff0000', { event: 'follow', seconds: 4 }),
        plain('raid', '#00ffff', { event: 'raid' }),
      ],
      sceneId: 'talk',
      orders: [
        [0.5, order('pause')],
        [1, happens(event('follow'))],
        [2, order('resume')],
        [3, order('skip')],
        [4, cutTo('bare')],
        [4.5, happens(event('raid', { count: 3 }))],
        [6, cutTo('talk')],
      ],
      seconds: 9,
    });
    const follow = seen(result, '#ff0000');
    within(follow.first, 2);
    within(follow.count, 1);
    const raid = seen(result, '#00ffff');
    within(raid.first, 6);
    within(raid.count, 1.5);
  });

  test('their sound comes with the first picture, and not when it is muted', async () => {
    const effects: ChannelRecord = {
      ...{ kind: 'channel', id: 'ch-effects', showId: 'show', name: 'Effects', position: 0 },
      ...PLAIN_CHANNEL,
      source: { type: 'effects' },
      gainDb: 0,
    };
    const result = await driven.record({
      records: [
        sampleShow,
        effects,
        ...scenes,
        plain('follow', '#ff0000', { event: 'follow', sound: { type: 'simulated', effect: 'whistle' } }),
      ],
      sceneId: 'talk',
      orders: [
        [2, happens(event('follow'))],
        [5, { type: 'audience', message: { type: 'alertOrder', order: 'mute' } }],
        [6, happens(event('follow', { viewer: 'wetslate' }))],
      ],
      seconds: 9,
    });
    const first = seen(result, '#ff0000').first / FPS;
    const quiet = silences(result.files.wide!, 1);
    expect(quiet).toHaveLength(2);
    // The whistle begins soft: it is there within a tenth of a second of the picture.
    expect(Math.abs(quiet[0].length - first)).toBeLessThan(0.15);
    expect(quiet[1].from + quiet[1].length).toBeGreaterThan(8.5);
    expect(quiet[1].from).toBeLessThan(5);
  });

  const PICTURES = ['png', 'gif', 'apng', 'webp', 'webm', 'lottie'] as const;

  /** Magenta on its left half and clear on its right, as a file of this kind. */
  function halfPicture(kind: (typeof PICTURES)[number]): { file: string; mime: string } {
    const file = path.join(driven.folder, `half-${kind}.${kind === 'lottie' ? 'json' : kind}`);
    if (kind === 'lottie') {
      writeFileSync(file, halfLottie(320, 180));
      return { file, mime: 'application/lottie+json' };
    }
    const still = path.join(driven.folder, 'half.png');
    writeFileSync(
      still,
      rgbaPng(320, 180, (x) => (x < 160 ? [255, 0, 255, 255] : [0, 0, 0, 0])),
    );
    const how = {
      png: '-frames:v 1',
      gif: '-filter_complex split[a][b];[a]palettegen=reserve_transparent=1[p];[b][p]paletteuse',
      apng: '-plays 0 -f apng',
      webp: '-c:v libwebp_anim -lossless 1 -loop 0',
      webm: '-c:v libvpx-vp9 -pix_fmt yuva420p -auto-alt-ref 0',
    }[kind];
    ffmpeg(`-loop 1 -t 1 -r 10 -i ${still} ${how} ${file}`.split(' '));
    return { file, mime: kind === 'webm' ? 'video/webm' : `image/${kind}` };
  }

  test.each(PICTURES)('a picture of its own, %s: solid where it is, clear where it is not', async (kind) => {
    const { file, mime } = halfPicture(kind);
    const as = kind === 'webm' ? 'clip' : kind === 'lottie' ? 'lottie' : 'picture';
    const result = await driven.record({
      records: [
        sampleShow,
        sampleScene('talk', { background: '#0000ff' }),
        place,
        plain('other', '#00000000', {
          ...{ event: 'follow', layout: 'behind' },
          style: { ...DEFAULT_TEXT_STYLE, sizePx: 10, colour: '#00000000', box: 'none' },
          picture: { assetId: driven.asset(file, mime), name: kind, as },
        }),
      ],
      sceneId: 'talk',
      orders: [[0.5, happens(event('follow'))]],
      seconds: 3,
    });
    // The left half and not the right one: the middle of what is magenta lies in the middle of the left.
    const marks = marksOf(result.files.wide!, [255, 0, 255]);
    const shown = marks.filter((mark) => (mark?.share ?? 0) > 0.4);
    within(shown.length, 1.5, 3);
    for (const mark of shown) {
      expect(mark!.share).toBeLessThan(0.52);
      expect(Math.abs(mark!.x - 0.25)).toBeLessThan(0.02);
    }
    const blue = marksOf(result.files.wide!, [0, 0, 255]);
    expect(blue.at(-1)!.share).toBeGreaterThan(0.95);
  });
});

describe('widgets', () => {
  test('a countdown begins anew with its scene, and tells when it is at zero, once', async () => {
    const countdown = sampleLayer('count', 'talk', 2, {
      content: {
        ...{ type: 'widget', style: DEFAULT_TEXT_STYLE, accent: '#63bdbb' },
        widget: {
          ...{ of: 'countdown', to: 'length', seconds: 2, clock: '20:00' },
          ...{ restart: true, endText: 'now', thenNext: true },
        },
      },
    } as Partial<LayerRecord>);
    const result = await driven.run({
      records: [sampleShow, ...scenes, countdown],
      sceneId: 'bare',
      orders: [
        [0.5, cutTo('talk')],
        [1.5, cutTo('bare')],
        [2, cutTo('talk')],
      ],
      seconds: 6,
    });
    const ended = result.told.filter(({ message }) => message.type === 'countdownEnded');
    expect(ended).toHaveLength(1);
    // From the second time it came on.
    expect(Math.abs(ended[0].at - 4)).toBeLessThan(2 / FPS);
  });

  test('a read-out comes on the picture and goes', async () => {
    const card = sampleLayer('card', 'talk', 2, {
      content: {
        ...{ type: 'widget', accent: '#e2ae45', widget: { of: 'readOut' } },
        style: { ...DEFAULT_TEXT_STYLE, sizePx: 60, box: '#ff00ff', colour: '#ffffff' },
      },
    } as Partial<LayerRecord>);
    const readOut = (message: ReturnType<typeof sampleMessage> | null): DrivenOrder => ({
      type: 'audience',
      message: { type: 'readOut', message },
    });
    const result = await driven.record({
      records: [sampleShow, ...scenes, card],
      sceneId: 'talk',
      orders: [
        [1, readOut(sampleMessage('is the roof done yet?'))],
        [3, readOut(null)],
      ],
      seconds: 5,
    });
    const bar = seen(result, '#ff00ff', 0.02);
    expect(bar.first).toBeGreaterThanOrEqual(FPS - 1);
    expect(bar.first).toBeLessThan(1.6 * FPS);
    expect(bar.first + bar.count).toBeGreaterThan(2.9 * FPS);
    expect(bar.first + bar.count).toBeLessThan(3.8 * FPS);
  });
});
