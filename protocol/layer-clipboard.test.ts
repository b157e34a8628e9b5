import { describe, expect, test } from 'vitest';
import { CLIPBOARD_FORMAT, copyLayers } from '../core/show/clipboard';
import type { LayerRecord } from '../core/show/records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene } from '../core/show/sample-show';
import { readClipboard } from './layer-clipboard';

const document = sampleDocument(
  sampleScene('a'),
  sampleInput('cam'),
  sampleLayer('l', 'a', 0, { content: { type: 'input', inputId: 'cam', fit: 'fill' }, wide: { width: 400 } }),
);
const good = JSON.stringify(copyLayers(document, [document.get('l') as LayerRecord]));

describe('text from the clipboard', () => {
  test('comes back as it was copied', () => {
    expect(readClipboard(good)).toEqual(copyLayers(document, [document.get('l') as LayerRecord]));
  });
  test('other text is none of ours', () => expect(readClipboard('a shopping list')).toBeNull());
  test('cut off', () => expect(() => readClipboard(good.slice(0, -9))).toThrow(/cut off/));
  test.each([
    ['a size of nothing', good.replace('"width":400', '"width":0')],
    ['a negative size', good.replace('"width":400', '"width":-5')],
    ['an unknown content', good.replace('"type":"input"', '"type":"spell"')],
    ['no layers', JSON.stringify({ format: CLIPBOARD_FORMAT })],
  ])('%s is refused with a reason', (_what, text) => {
    expect(() => readClipboard(text)).toThrow(/copy them again/);
  });
  test('too much is refused before it is read', () => {
    expect(() => readClipboard(good + ' '.repeat(5_000_000))).toThrow(/too much/);
  });
});
