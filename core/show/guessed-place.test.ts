import { describe, expect, it } from 'vitest';
import { rectOfPlacement } from '../geometry/rect';
import { changesApplied, documentOf, type ShowDocument } from './document';
import { guessedPlacements } from './guessed-place';
import type { AnyRecord, InputSource } from './records';
import { sampleInput, sampleLayer, sampleScene, sampleShow, TALL, WIDE } from './sample-show';

const camera: InputSource = {
  type: 'camera',
  deviceId: '',
  deviceLabel: '',
  width: 1280,
  height: 720,
  fps: 30,
  controls: {},
  deinterlace: false,
};
const screen: InputSource = { type: 'screen', surface: 'screen' };
const picture: InputSource = { type: 'picture', assetId: 'a', loop: true };
const shape = { width: 16, height: 9 };
const empty = documentOf([sampleShow, sampleScene('one')]);
const guess = (document: ShowDocument, source: InputSource) =>
  guessedPlacements(document, 'one', source, shape, 0.5);
const withLayers = (...more: AnyRecord[]) => changesApplied(empty, more, []);
const game = [
  sampleInput('game'),
  sampleLayer('game-layer', 'one', 0, {
    content: { type: 'input', inputId: 'game', fit: 'fill' },
    tall: { ...TALL, cx: 540, cy: 960 },
  }),
];

describe('a new input', () => {
  it.each([camera, screen])('that is the first picture of a scene fills both frames', (source) => {
    const { wide, tall } = guess(empty, source);
    expect(wide).toMatchObject({ ...WIDE, cx: 960, cy: 540 });
    expect(tall).toMatchObject({ ...TALL, cx: 540, cy: 960 });
    // A ground is no picture yet.
    const ground = withLayers(
      sampleInput('g', { source: { type: 'background', look: 'plain', colour: '#000000' } }),
      sampleLayer('g-layer', 'one', 0, { content: { type: 'input', inputId: 'g', fit: 'fill' } }),
    );
    expect(guess(ground, source).wide).toMatchObject(WIDE);
  });

  it('that is a camera over it goes into a free corner', () => {
    const { wide } = guess(withLayers(...game), camera);
    expect(rectOfPlacement(wide!)).toMatchObject({ x: 32, width: 538 });
    expect(wide!.cy).toBeGreaterThan(540);
    const chat = sampleLayer('chat', 'one', 1, { wide: { cx: 300, cy: 900, width: 560, height: 320 } });
    const beside = guess(withLayers(...game, chat), camera).wide!;
    expect([beside.cx > 960, beside.cy > 540]).toEqual([true, true]);
  });

  it('of another kind stands in the middle in its own shape, and so does one above every scene', () => {
    for (const placement of [
      guess(withLayers(...game), picture).wide!,
      guess(withLayers(...game), screen).wide!,
      guessedPlacements(empty, null, camera, shape, 0.5).wide!,
    ])
      expect(placement).toMatchObject({ cx: 960, cy: 540, width: 960, height: 540 });
  });
});
