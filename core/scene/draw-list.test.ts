import { describe, expect, test } from 'vitest';
import { documentOf } from '../show/document';
import {
  DEFAULT_TEXT_STYLE,
  fullPlacement,
  type AnyRecord,
  type InputRecord,
  type LayerRecord,
  type Placement,
} from '../show/records';
import { buildDrawList, inputsOf } from './draw-list';
import { fadeProgress, takeScene } from './programme';

const FRAME = { width: 1920, height: 1080 };
const show: AnyRecord = {
  kind: 'show',
  id: 's',
  showId: 's',
  name: 's',
  position: 0,
  frames: { wide: { ...FRAME, used: true }, tall: { width: 1080, height: 1920, used: false } },
  fields: { host: 'lampwright' },
};
const scene: AnyRecord = {
  kind: 'scene',
  id: 'a',
  showId: 's',
  name: 'a',
  position: 0,
  folder: '',
  transition: { type: 'fade', seconds: 1 },
  background: '#112233',
};
const input = (id: string, source: InputRecord['source']): InputRecord => ({
  kind: 'input',
  id,
  showId: 's',
  name: id,
  position: 0,
  source,
});
const camera = input('cam', { type: 'simulated', picture: 'desk-camera' });
const logo = input('logo', { type: 'picture', assetId: 'x' });
const layer = (
  id: string,
  position: number,
  inputId: string,
  placement: Partial<Placement> = {},
  more: Partial<LayerRecord> = {},
): LayerRecord => ({
  kind: 'layer',
  id,
  showId: 's',
  name: id,
  position,
  sceneId: 'a',
  visible: true,
  locked: false,
  content: { type: 'input', inputId, fit: 'fill' },
  placements: { wide: { ...fullPlacement(FRAME), ...placement } },
  ...more,
});
const list = (...records: AnyRecord[]) =>
  buildDrawList(documentOf([show, scene, camera, logo, ...records]), 'a', 'wide', {
    width: 640,
    height: 360,
  });
const ids = (...records: AnyRecord[]) => list(...records).items.map((i) => i.layerId);

describe('draw list', () => {
  test('scales frame pixels to output pixels', () => {
    const { items, background } = list(
      layer('l', 0, 'cam', { cx: 960, cy: 540, width: 960, height: 540, cornerPx: 30, borderPx: 6 }),
    );
    expect(background).toBe('#112233');
    expect(items[0].rect).toEqual({ x: 160, y: 90, width: 320, height: 180 });
    expect(items[0].cornerPx).toBe(10);
    expect(items[0].borderPx).toBe(2);
  });

  test('leaves out what an opaque layer covers, and only that', () => {
    expect(ids(layer('below', 0, 'cam'), layer('above', 1, 'cam'))).toEqual(['above']);
    expect(ids(layer('below', 0, 'cam'), layer('above', 1, 'cam', { opacity: 0.5 }))).toEqual([
      'below',
      'above',
    ]);
    expect(ids(layer('below', 0, 'cam'), layer('above', 1, 'cam', { cornerPx: 4 }))).toEqual([
      'below',
      'above',
    ]);
    expect(ids(layer('below', 0, 'cam'), layer('above', 1, 'cam', { rotationDeg: 5 }))).toEqual([
      'below',
      'above',
    ]);
    expect(ids(layer('below', 0, 'cam'), layer('above', 1, 'logo'))).toEqual(['below', 'above']);
    expect(ids(layer('below', 0, 'cam'), layer('above', 1, 'cam', { width: 1900 }))).toEqual([
      'below',
      'above',
    ]);
  });

  test('a hidden layer covers nothing and is not drawn; standing layers come last', () => {
    expect(ids(layer('below', 0, 'cam'), layer('above', 1, 'cam', {}, { visible: false }))).toEqual([
      'below',
    ]);
    expect(ids(layer('standing', 0, 'logo', {}, { sceneId: null }), layer('l', 5, 'cam'))).toEqual([
      'l',
      'standing',
    ]);
  });

  test('leaves out what lies outside, but not its shadow', () => {
    expect(ids(layer('out', 0, 'cam', { cx: 2900 }))).toEqual([]);
    expect(ids(layer('out', 0, 'cam', { cx: 2900, shadowPx: 40 }))).toEqual(['out']);
  });

  test('fields are put into texts; unknown ones stay', () => {
    const text = layer(
      't',
      0,
      'cam',
      {},
      { content: { type: 'text', text: 'with {{host}} and {{guest}}', style: DEFAULT_TEXT_STYLE } },
    );
    expect(list(text).items[0].content).toMatchObject({ text: 'with lampwright and {{guest}}' });
  });

  test('names the inputs in use', () => {
    expect([...inputsOf(list(layer('l', 0, 'cam', { width: 100 }), layer('m', 1, 'logo')))]).toEqual([
      'cam',
      'logo',
    ]);
  });
});

describe('taking a scene', () => {
  const fade = { type: 'fade', seconds: 0.5 } as const;
  test('a fade runs from 0 to 1 and a cut is there at once', () => {
    const first = takeScene(null, 'a', fade, 10);
    expect(fadeProgress(first, 10)).toBe(1);
    const second = takeScene(first, 'b', fade, 20);
    expect(fadeProgress(second, 20)).toBe(0);
    expect(fadeProgress(second, 20.25)).toBeCloseTo(0.5);
    expect(fadeProgress(second, 20.5)).toBe(1);
    expect(takeScene(second, 'c', { type: 'cut', seconds: 0 }, 21).from).toBeNull();
  });
});
