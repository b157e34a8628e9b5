import { expect, test } from 'vitest';
import { fontFamily, ownFamily, ownFontsIn } from './fonts';
import { DEFAULT_TEXT_STYLE } from './records';
import { sampleLayer, sampleScene } from './sample-show';

const own = { assetId: 'a'.repeat(40), name: 'signal.ttf' };

test('a shipped font stands in until the show’s own is there', () => {
  const shipped = '"Hanken Grotesk Variable", sans-serif';
  const isThere = (assetId: string) => assetId === own.assetId;
  expect(fontFamily(DEFAULT_TEXT_STYLE, isThere)).toBe(shipped);
  const style = { ...DEFAULT_TEXT_STYLE, ownFont: own };
  expect(fontFamily(style, isThere)).toBe(`"${ownFamily(own.assetId)}", ${shipped}`);
  expect(fontFamily(style, () => false)).toBe(shipped);
});

test('fonts are found in every text that has a look', () => {
  const style = { ...DEFAULT_TEXT_STYLE, ownFont: own };
  const text = sampleLayer('ly-1', 'sc-1', 0, { content: { type: 'text', text: 'Hello', style } });
  const shape = sampleLayer('ly-2', 'sc-1', 1, {
    content: { type: 'shape', shape: 'star', colour: '#ffffff' },
  });
  const alert = sampleLayer('ly-3', 'sc-1', 2, {
    content: { type: 'alert', style: { ...style, ownFont: { ...own, assetId: 'b'.repeat(40) } } },
  });
  expect([...ownFontsIn([sampleScene('sc-1'), text, shape, alert])]).toEqual([
    [own.assetId, 'signal.ttf'],
    ['b'.repeat(40), 'signal.ttf'],
  ]);
  expect(ownFontsIn([shape]).size).toBe(0);
});
