import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { DEFAULT_TEXT_STYLE, type AnyRecord, type LayerRecord, type Placement } from '../show/records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene } from '../show/sample-show';
import { buildDrawList } from './draw-list';

const scene = sampleScene('a', { background: '#112233' });
const camera = sampleInput('cam');
const logo = sampleInput('logo', { source: { type: 'picture', assetId: 'x', loop: true } });
const layer = (
  id: string,
  position: number,
  inputId: string,
  wide: Partial<Placement> = {},
  more: Partial<LayerRecord> = {},
): LayerRecord =>
  sampleLayer(id, 'a', position, { content: { type: 'input', inputId, fit: 'fill' }, wide, ...more });
const list = (...records: AnyRecord[]) =>
  buildDrawList(sampleDocument(scene, camera, logo, ...records), 'a', 'wide', {
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

  test('the order of the records does not matter', () => {
    const layers = [
      layer('a1', 0, 'cam', { width: 400 }),
      layer('b1', 1, 'logo', { cx: 300 }),
      sampleLayer('g', 'a', 2, { content: { type: 'group' } }),
      layer('m', 3, 'logo', {}, { groupId: 'g' }),
      layer('n', 1, 'cam', { width: 300 }, { groupId: 'g' }),
      layer('top', 0, 'logo', {}, { sceneId: null }),
    ];
    const expected = list(...layers);
    expect(expected.items.map((i) => i.layerId)).toEqual(['a1', 'b1', 'n', 'm', 'top']);
    fc.assert(
      fc.property(fc.shuffledSubarray(layers, { minLength: layers.length }), (shuffled) => {
        expect(list(...shuffled)).toEqual(expected);
      }),
      { seed: 7, numRuns: 60 },
    );
  });

  test('a hidden group hides its members, and the other frame has its own list', () => {
    const group = sampleLayer('g', 'a', 2, { content: { type: 'group' }, visible: false });
    expect(ids(group, layer('m', 0, 'cam', {}, { groupId: 'g' }))).toEqual([]);
    const document = sampleDocument(
      scene,
      sampleLayer('w', 'a', 0),
      sampleLayer('b', 'a', 1, { tall: { width: 500 } }),
    );
    expect(
      buildDrawList(document, 'a', 'tall', { width: 540, height: 960 }).items.map((i) => [
        i.layerId,
        i.rect.width,
      ]),
    ).toEqual([['b', 250]]);
  });

  test('a scene hides or moves a standing layer for itself', () => {
    const standing = sampleLayer('s', null, 0, { wide: { width: 100, height: 100 } });
    const document = sampleDocument(
      scene,
      sampleScene('moved', {
        position: 1,
        standing: { s: { hidden: false, placements: { wide: { ...standing.placements.wide!, cx: 192 } } } },
      }),
      sampleScene('hidden', { position: 2, standing: { s: { hidden: true, placements: {} } } }),
      standing,
    );
    const rects = (id: string) =>
      buildDrawList(document, id, 'wide', { width: 1920, height: 1080 }).items.map((i) => i.rect.x);
    expect(rects('a')).toEqual([910]);
    expect(rects('moved')).toEqual([142]);
    expect(rects('hidden')).toEqual([]);
  });

  test('an inset shows another scene without the standing layers', () => {
    const document = sampleDocument(
      scene,
      sampleScene('inner', { position: 1 }),
      sampleLayer('in', 'inner', 0),
      sampleLayer('s', null, 0, { wide: { width: 100 } }),
      sampleLayer('i', 'a', 0, { content: { type: 'inset', sceneId: 'inner', fit: 'fit' } }),
    );
    const { items } = buildDrawList(document, 'a', 'wide', { width: 640, height: 360 });
    expect(items[0].content).toMatchObject({
      type: 'inset',
      sceneId: 'inner',
      size: { width: 1920, height: 1080 },
    });
    const inside = buildDrawList(document, 'inner', 'wide', { width: 640, height: 360 }, { inside: true });
    expect(inside.items.map((i) => i.layerId)).toEqual(['in']);
  });
});
