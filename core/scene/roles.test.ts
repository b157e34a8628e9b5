import { describe, expect, test } from 'vitest';
import type { InputSource, LayerContent } from '../show/records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene, TALL } from '../show/sample-show';
import { picturesOfScene } from '../show/layers';
import { pictureOf, proposedLayers, roleOf } from './roles';
import { missingFields } from './fields';

const document = (content: LayerContent, source?: InputSource) =>
  sampleDocument(
    sampleScene('a'),
    sampleScene('b', { position: 1 }),
    sampleInput('in', source && { source }),
    sampleLayer('l', 'a', 0, { content, tall: { crop: { left: 0.5, right: 0, top: 0, bottom: 0 } } }),
  );
const input: LayerContent = { type: 'input', inputId: 'in', fit: 'fill' };
const only = (d: ReturnType<typeof document>) => picturesOfScene(d, 'a')[0];

describe('what a layer is to a viewer', () => {
  test.each<[string, InputSource]>([
    [
      'person',
      {
        type: 'camera',
        deviceId: '',
        deviceLabel: '',
        width: 16,
        height: 9,
        fps: 30,
        controls: {},
        deinterlace: false,
      },
    ],
    ['person', { type: 'simulated', picture: 'lever-camera' }],
    ['screen', { type: 'simulated', picture: 'switchback' }],
    ['screen', { type: 'screen', surface: 'window' }],
    ['background', { type: 'background', look: 'plain', colour: '#000000' }],
    ['graphic', { type: 'picture', assetId: 'x', loop: true }],
    ['graphic', { type: 'lottie', assetId: 'x', loop: true, speed: 1 }],
    ['person', { type: 'seat' } as InputSource],
    ['person', { type: 'simulated', picture: 'desk-camera' }],
    ...(['clips', 'slides', 'feed'] as const).map((type): [string, InputSource] => [
      'screen',
      { type } as InputSource,
    ]),
    ['graphic', { type: 'page' } as InputSource],
  ])('%s: %o', (role, source) => {
    const d = document(input, source);
    expect(roleOf(d, only(d))).toBe(role);
  });
  test('a scene in a scene is a screen, words and shapes are graphics', () => {
    const inset = document({ type: 'inset', sceneId: 'b', fit: 'fit' });
    expect(roleOf(inset, only(inset))).toBe('screen');
    const shape = document({ type: 'shape', shape: 'star', colour: '#ffffff' });
    expect(roleOf(shape, only(shape))).toBe('graphic');
  });
});

test('the shape of a picture is what its crop leaves; an inset has its frame; words have none', () => {
  const d = document(input);
  const size = () => ({ width: 1600, height: 900 });
  expect(pictureOf(d, only(d), 'wide', size)).toMatchObject({ width: 1600 });
  expect(pictureOf(d, only(d), 'tall', size)).toMatchObject({ width: 800 });
  const inset = document({ type: 'inset', sceneId: 'b', fit: 'fit' });
  expect(pictureOf(inset, only(inset), 'wide', () => null)).toMatchObject({ width: 1920, height: 1080 });
  const shape = document({ type: 'shape', shape: 'star', colour: '#ffffff' });
  expect(pictureOf(shape, only(shape), 'tall', size)).toBeNull();
  expect(TALL.width).toBeLessThan(TALL.height);
});

test('an input that is gone is a graphic without a shape', () => {
  const gone = document({ ...input, inputId: 'gone' });
  expect(roleOf(gone, only(gone))).toBe('graphic');
  expect(pictureOf(gone, only(gone), 'wide', () => null)).toBeNull();
});

test('a picture that stands in one frame only has its whole shape in the other', () => {
  const d = sampleDocument(sampleScene('a'), sampleInput('in'), sampleLayer('l', 'a', 0, { content: input }));
  expect(pictureOf(d, only(d), 'tall', () => ({ width: 1600, height: 900 }))).toMatchObject({ width: 1600 });
});

test('words and panels may get another shape, pictures and shapes may not; groups are not proposed', () => {
  const flows = (type: string) => {
    const d = document({ type, inputId: 'in', sceneId: 'b' } as unknown as LayerContent);
    return proposedLayers(d, picturesOfScene(d, 'a'), 'wide', () => null).map((l) => l.flows);
  };
  for (const type of ['text', 'chatPanel', 'alert', 'widget']) expect(flows(type)).toEqual([true]);
  for (const type of ['input', 'inset', 'shape']) expect(flows(type)).toEqual([false]);
  const group = sampleLayer('g', 'a', 0, { content: { type: 'group' } });
  const placed = { ...group, placements: sampleLayer('x', 'a', 0).placements };
  expect(proposedLayers(sampleDocument(sampleScene('a')), [placed], 'wide', () => null)).toEqual([]);
});

test('only layers that stand in the frame are proposed for the other one', () => {
  const d = sampleDocument(
    sampleScene('a'),
    sampleLayer('both', 'a', 0, { tall: {} }),
    sampleLayer('wide', 'a', 1),
  );
  const ids = (frame: 'wide' | 'tall') =>
    proposedLayers(d, picturesOfScene(d, 'a'), frame, () => null).map((l) => l.id);
  expect([ids('wide'), ids('tall')]).toEqual([['both', 'wide'], ['both']]);
});

test('fields without a value are named once each', () => {
  expect(missingFields('{{host}} meets {{guest}} and {{ guest }}', { host: 'x' })).toEqual(['guest']);
  expect(missingFields('no {{}} fields {{a b}}', {})).toEqual([]);
});
