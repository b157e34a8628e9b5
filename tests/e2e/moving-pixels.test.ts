/** What the compositor draws while layers move, pixel by pixel. */
import { describe, expect, test } from 'vitest';
import { glideTo, takeScene, type OnAir } from '../../core/motion/programme';
import { FADE, PLAIN_MOTION, type LayerMotion } from '../../core/show/motion-records';
import type { AnyRecord, LayerRecord, Placement, PoseRecord } from '../../core/show/records';
import { sampleDocument, sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import type { Harness } from '../lib/harness-page';
import { H, page, W, withHarness } from '../lib/small-pictures';

declare const globalThis: { harness: Harness };

withHarness();

const LINEAR = { seconds: 1, easing: 'linear', staggerSeconds: 0 };
const scene = sampleScene('a', { glide: LINEAR, background: '#000000' });
const RED = [255, 0, 0];
const box = (wide: Partial<Placement>, more: Partial<LayerRecord> = {}): LayerRecord =>
  sampleLayer('box', 'a', 0, {
    content: { type: 'shape', shape: 'rectangle', colour: '#ff0000' },
    wide,
    ...more,
  });
const pose = (id: string, layer: LayerRecord): PoseRecord => ({
  ...{
    kind: 'pose',
    id,
    showId: 'show',
    name: id,
    position: Number(id.slice(1)),
    sceneId: 'a',
    key: '',
    glide: null,
  },
  ...{
    standing: {},
    layers: { [layer.id]: { visible: layer.visible, placements: layer.placements, colour: colourOf(layer) } },
  },
});
const colourOf = ({ content }: LayerRecord) => (content.type === 'shape' ? content.colour : null);

/** The picture of a glide from one standing of the box to another, at a share of its second. */
async function gliding(from: LayerRecord, to: LayerRecord, share: number) {
  const records: AnyRecord[] = [sampleShow, scene, from, pose('p1', from), pose('p2', to)];
  const start: OnAir = { sceneId: 'a', poseId: 'p1', from: null };
  return drawn(records, glideTo(start, 'p2', 10, sampleDocument(...records.slice(1))), 10 + share);
}

async function drawn(records: AnyRecord[], onAir: OnAir, now: number) {
  const text = await page.evaluate(
    ([all, air, w, h, t]) => globalThis.harness.renderMoving(all, {}, air, w, h, t),
    [records, onAir, W, H, now] as const,
  );
  const rgba = Buffer.from(text, 'base64');
  return (x: number, y: number): number[] => [...rgba.subarray((y * W + x) * 4, (y * W + x) * 4 + 3)];
}

const small = { cx: 300, cy: 540, width: 400, height: 400 };
const hidden = (layer: LayerRecord): LayerRecord => ({ ...layer, visible: false });
const coming = (motion: Partial<LayerMotion>) => box({}, { motion: { ...PLAIN_MOTION, ...motion } });

describe('a glide', () => {
  test('stands half way between, in half of the time', async () => {
    const at = await gliding(box(small), box({ ...small, cx: 1500 }), 0.5);
    // Centre 900, 400 wide: from 700 to 1100 in the frame.
    expect(at(69, 54)).toEqual([0, 0, 0]);
    expect(at(71, 54)).toEqual(RED);
    expect(at(108, 54)).toEqual(RED);
    expect(at(111, 54)).toEqual([0, 0, 0]);
  });

  test('grows, and changes colour as CSS mixes them', async () => {
    const blue = box(
      { cx: 960, cy: 540, width: 1600, height: 800 },
      {
        content: { type: 'shape', shape: 'rectangle', colour: '#0000ff' },
      },
    );
    const at = await gliding(box({ cx: 960, cy: 540, width: 400, height: 400 }), blue, 0.5);
    expect(at(96, 54)).toEqual([128, 0, 128]);
    expect(at(47, 54)[0]).toBeGreaterThan(100);
    expect(at(44, 54)).toEqual([0, 0, 0]);
  });

  test('turns the shorter way', async () => {
    const bar = { cx: 960, cy: 540, width: 800, height: 60 };
    const at = await gliding(box({ ...bar, rotationDeg: 170 }), box({ ...bar, rotationDeg: -170 }), 0.5);
    expect(at(65, 54)).toEqual(RED);
    expect(at(127, 54)).toEqual(RED);
    expect(at(96, 70)).toEqual([0, 0, 0]);
  });
});

describe('a layer comes', () => {
  test('by a wipe: uncovered in place, from its side', async () => {
    const layer = coming({ enter: 'wipe', side: 'left' });
    const at = await gliding(hidden(layer), layer, 0.25);
    expect(at(40, 54)).toEqual(RED);
    expect(at(56, 54)).toEqual([0, 0, 0]);
    const below = coming({ enter: 'wipe', side: 'bottom' });
    const up = await gliding(hidden(below), below, 0.5);
    expect(up(96, 100)).toEqual(RED);
    expect(up(96, 8)).toEqual([0, 0, 0]);
  });

  test('by a slide: from outside the frame', async () => {
    const layer = coming({ enter: 'slide', side: 'top' });
    const at = await gliding(hidden(layer), layer, 0.5);
    expect(at(96, 20)).toEqual(RED);
    expect(at(96, 90)).toEqual([0, 0, 0]);
  });

  test('by a fade and by a zoom: fainter, and smaller', async () => {
    const layer = coming({ enter: 'fade' });
    expect((await gliding(hidden(layer), layer, 0.5))(96, 54)[0]).toBeGreaterThan(120);
    expect((await gliding(hidden(layer), layer, 0.5))(96, 54)[0]).toBeLessThan(135);
    const zoom = coming({ enter: 'zoom' });
    const at = await gliding(hidden(zoom), zoom, 0.5);
    // Between 0.6 and 1 of its size: a tenth of the frame is left at each side.
    expect(at(10, 54)).toEqual([0, 0, 0]);
    expect(at(30, 54)[0]).toBeGreaterThan(100);
  });

  test('at once: all of it with the first picture, nothing before', async () => {
    const layer = coming({ enter: 'cut' });
    expect((await gliding(hidden(layer), layer, 0))(96, 54)).toEqual([0, 0, 0]);
    expect((await gliding(hidden(layer), layer, 0.04))(96, 54)).toEqual(RED);
  });
});

test('carry moves what both scenes show, and the background changes with it', async () => {
  const content: LayerRecord['content'] = { type: 'text', text: 'Hut Nine', style: { ...textStyle() } };
  const records: AnyRecord[] = [
    sampleShow,
    sampleScene('a', { background: '#000000' }),
    sampleScene('b', { background: '#0000ff', position: 1 }),
    sampleLayer('one', 'a', 0, { content, wide: { cx: 400, cy: 300, width: 400, height: 200 } }),
    sampleLayer('two', 'b', 0, { content, wide: { cx: 1500, cy: 800, width: 400, height: 200 } }),
  ];
  const carry = { ...FADE, type: 'carry', easing: 'linear', seconds: 1 } as const;
  const document = sampleDocument(...records.slice(1));
  const onAir = takeScene(
    { sceneId: 'a', poseId: null, from: null },
    { sceneId: 'b', poseId: null },
    carry,
    0,
    document,
  );
  const at = await drawn(records, onAir, 0.5);
  // The box of the words is red: half way it stands about (950, 550).
  expect(at(95, 55)[0]).toBeGreaterThan(200);
  expect(at(40, 30)).toEqual([0, 0, 128]);
  expect(at(150, 80)).toEqual([0, 0, 128]);
});

function textStyle() {
  return {
    font: 'Hanken Grotesk Variable',
    sizePx: 10,
    weight: 400,
    colour: '#ff0000',
    align: 'left',
    box: '#ff0000',
    outlinePx: 0,
    outlineColour: '#14181D',
    shadowPx: 0,
    wrap: true,
    tickerPxPerSecond: 0,
  } as const;
}
