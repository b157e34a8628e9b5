import { describe, expect, test } from 'vitest';
import type { InputSource, LayerContent } from '../core/show/records';
import { DEFAULT_TEXT_STYLE } from '../core/show/records';
import { sampleInput, sampleLayer, sampleScene } from '../core/show/sample-show';
import { recordSchemas } from './record-schemas';

const files = [{ assetId: 'abc', name: 'night.mp4' }];
const sources: InputSource[] = [
  {
    type: 'camera',
    deviceId: '',
    deviceLabel: 'Desk',
    width: 1280,
    height: 720,
    fps: 30,
    controls: {},
    deinterlace: false,
  },
  { type: 'screen', surface: 'region' },
  { type: 'picture', assetId: 'abc', loop: true },
  { type: 'clips', files, order: 'shuffled', atEnd: 'next', start: 'on-air' },
  { type: 'slides', files, order: 'listed', intervalSeconds: 5, fadeSeconds: 1 },
  { type: 'lottie', assetId: 'abc', loop: false, speed: 2 },
  { type: 'background', look: 'plain', colour: '#101010' },
  { type: 'background', look: 'gradient', from: '#101010', to: '#20202080', angleDeg: 90, shape: 'radial' },
  { type: 'background', look: 'texture', texture: 'strata', colour: '#101010', ink: '#202020', seed: 4 },
  { type: 'simulated', picture: 'switchback' },
];
const errorOf = (kind: 'input' | 'layer' | 'scene', record: unknown) =>
  recordSchemas[kind].validate(record, { convert: false }).error?.message ?? null;

describe('inputs', () => {
  test.each(sources.map((s) => [s.type, s] as const))('%s passes', (_type, source) => {
    expect(errorOf('input', sampleInput('i', { source }))).toBeNull();
  });
  test.each([
    ['a list of no files', { type: 'clips', files: [], order: 'listed', atEnd: 'loop', start: 'always' }],
    ['an end nobody knows', { type: 'clips', files, order: 'listed', atEnd: 'explode', start: 'always' }],
    [
      'slides that never stand',
      { type: 'slides', files, order: 'listed', intervalSeconds: 0, fadeSeconds: 0 },
    ],
    ['a file with a path', { type: 'picture', assetId: '../../etc', loop: true }],
    ['a look of another kind', { type: 'background', look: 'plain', from: '#101010', to: '#101010' }],
    ['a camera of no size', { ...sources[0], width: 0 }],
    ['an animation that stands', { type: 'lottie', assetId: 'abc', loop: true, speed: 0 }],
  ])('%s is refused', (_what, source) => {
    expect(errorOf('input', { ...sampleInput('i'), source })).not.toBeNull();
  });
  test('a turn that is no quarter, or a crop that leaves nothing, is refused', () => {
    expect(errorOf('input', { ...sampleInput('i'), turnDeg: 45 })).not.toBeNull();
    const crop = { left: 0.5, right: 0.5, top: 0, bottom: 0 };
    expect(errorOf('input', { ...sampleInput('i'), crop })).toMatch(/leave nothing/);
  });
});

describe('layers and scenes', () => {
  const contents: LayerContent[] = [
    { type: 'input', inputId: 'i', fit: 'fit' },
    { type: 'text', text: '', style: { ...DEFAULT_TEXT_STYLE, tickerPxPerSecond: 120, wrap: false } },
    { type: 'shape', shape: 'arrow', colour: '#ffffffcc' },
    { type: 'group' },
    { type: 'inset', sceneId: 'b', fit: 'fill' },
  ];
  test.each(contents.map((c) => [c.type, c] as const))('%s passes', (_type, content) => {
    expect(errorOf('layer', sampleLayer('l', 'a', 0, { content, tall: {} }))).toBeNull();
  });
  test.each([
    ['a width of nothing', { wide: { width: 0 } }],
    ['a height below nothing', { tall: { height: -4 } }],
    ['an opacity above one', { wide: { opacity: 1.2 } }],
    ['a place nobody finds', { wide: { cx: 1e9 } }],
  ])('%s is refused', (_what, more) => {
    expect(errorOf('layer', sampleLayer('l', 'a', 0, more))).not.toBeNull();
  });
  test('a font that does not ship is refused by name', () => {
    const style = { ...DEFAULT_TEXT_STYLE, font: 'Night Grotesk' };
    const layer = { ...sampleLayer('l', 'a', 0), content: { type: 'text', text: 'x', style } };
    expect(errorOf('layer', layer)).toMatch(/content/);
  });
  test('what a scene changes of standing layers is checked like any placement', () => {
    const { placements } = sampleLayer('s', null, 0);
    expect(errorOf('scene', sampleScene('a', { standing: { s: { hidden: false, placements } } }))).toBeNull();
    const bad = { s: { hidden: 'no', placements: {} } };
    expect(errorOf('scene', { ...sampleScene('a'), standing: bad })).not.toBeNull();
    expect(errorOf('scene', { ...sampleScene('a'), mark: 'polka dots' })).not.toBeNull();
  });
});
