import { describe, expect, test } from 'vitest';
import { inputsNeeded, inputsOfScene, sceneAfter } from './inputs-shown';
import { sampleDocument, sampleInput, sampleLayer, sampleScene } from './sample-show';

const shows = (inputId: string) => ({ content: { type: 'input', inputId, fit: 'fill' } as const });
const document = sampleDocument(
  sampleScene('one', { position: 2 }),
  sampleScene('two', { position: 5 }),
  sampleScene('three', { position: 1 }),
  sampleInput('camera', { standInId: 'card' }),
  sampleInput('card'),
  sampleInput('hidden'),
  sampleLayer('a', 'one', 0, shows('camera')),
  sampleLayer('b', 'one', 1, { ...shows('hidden'), visible: false }),
  sampleLayer('c', 'two', 0, { content: { type: 'inset', sceneId: 'one', fit: 'fill' } }),
);

describe('what a scene shows', () => {
  test('is what its visible layers show, through insets too', () => {
    expect([...inputsOfScene(document, 'one')]).toEqual(['camera']);
    expect([...inputsOfScene(document, 'two')]).toEqual(['camera']);
    expect([...inputsOfScene(document, 'three')]).toEqual([]);
  });
  test('needs what stands in for it as well', () => {
    expect([...inputsNeeded(document, 'two')].sort()).toEqual(['camera', 'card']);
  });
});

describe('the scene after another', () => {
  test('goes by the order of the show, not by names or ids', () => {
    expect(sceneAfter(document, 'three')).toBe('one');
    expect(sceneAfter(document, 'one')).toBe('two');
  });
  test('is none after the last, and for one that is gone', () => {
    expect(sceneAfter(document, 'two')).toBeNull();
    expect(sceneAfter(document, 'gone')).toBeNull();
  });
});
