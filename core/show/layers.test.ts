import { describe, expect, test } from 'vitest';
import { inputsNeeded, inputsOfScene } from './inputs-shown';
import { layersOfScene, picturesOfScene } from './layers';
import type { LayerContent } from './records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene } from './sample-show';

const shows = (inputId: string): LayerContent => ({ type: 'input', inputId, fit: 'fill' });
const inset = (sceneId: string): LayerContent => ({ type: 'inset', sceneId, fit: 'fit' });

const document = sampleDocument(
  sampleScene('a', { standing: { away: { hidden: true, placements: {} } } }),
  sampleScene('b', { position: 1 }),
  sampleInput('cam', { standInId: 'still' }),
  ...['still', 'game', 'hid', 'badge', 'gone'].map((id, i) => sampleInput(id, { position: i + 1 })),
  sampleLayer('l', 'a', 0, { content: shows('cam') }),
  sampleLayer('h', 'a', 1, { content: shows('hid'), visible: false }),
  sampleLayer('i', 'a', 2, { content: inset('b') }),
  sampleLayer('m', 'b', 0, { content: shows('game') }),
  sampleLayer('top', null, 0, { content: shows('badge') }),
  sampleLayer('away', null, 1, { content: shows('gone') }),
);

describe('what a scene shows', () => {
  test('its layers, then the standing ones, lowest first', () => {
    expect(layersOfScene(document, 'a').map((l) => l.id)).toEqual(['l', 'h', 'i', 'top', 'away']);
    expect(picturesOfScene(document, 'a').map((l) => l.id)).toEqual(['l', 'h', 'i']);
  });
  test('inputs through insets and standing layers; what is hidden is not shown', () => {
    expect([...inputsOfScene(document, 'a')].sort()).toEqual(['badge', 'cam', 'game']);
    expect([...inputsOfScene(document, 'b')].sort()).toEqual(['badge', 'game', 'gone']);
  });
  test('what stands in for them must be open as well', () => {
    expect([...inputsNeeded(document, 'a')].sort()).toEqual(['badge', 'cam', 'game', 'still']);
  });
  test('a scene that is not there shows nothing of its own', () => {
    expect(picturesOfScene(document, 'nowhere')).toEqual([]);
  });
});
