import { describe, expect, test } from 'vitest';
import { DEFAULT_TEXT_STYLE } from '../../../show/records';
import type { TitleNow } from '../audience-now';
import type { Room } from '../drawing';
import { layoutTitle, textOn, TITLE_IN_MS, TITLE_OUT_MS, TITLE_LOOKS, titleShare } from './title';

const title: TitleNow = {
  line1: 'lampwright',
  line2: 'Dispatcher on the night shift',
  sinceMs: 1000,
  untilMs: 9000,
};
const room = (width = 960, height = 200): Room => ({
  ...{ width, height, scale: 1, accent: '#63BDBB' },
  style: { ...DEFAULT_TEXT_STYLE, sizePx: 64 },
  measure: (text, sizePx) => text.length * sizePx * 0.5,
});
const texts = (look: (typeof TITLE_LOOKS)[number], nowMs: number, of = title, at = room()) =>
  layoutTitle(look, of, nowMs, at).flatMap((mark) => (mark.kind === 'text' ? [mark] : []));

test('comes, stays for its time, and leaves', () => {
  expect(titleShare(title, 999)).toBeNull();
  expect(titleShare(title, 1000 + TITLE_IN_MS / 2)).toEqual({ share: 0.5, leaving: false });
  expect(titleShare(title, 5000)).toEqual({ share: 1, leaving: false });
  expect(titleShare(title, 9000 + TITLE_OUT_MS / 2)).toEqual({ share: 0.5, leaving: true });
  expect(titleShare(title, 9000 + TITLE_OUT_MS)).toBeNull();
  expect(titleShare({ ...title, untilMs: null }, 1e9)?.share).toBe(1);
  expect(titleShare(null, 0)).toBeNull();
});

describe.each(TITLE_LOOKS)('%s', (look) => {
  test('shows both lines whole, inside its box', () => {
    expect(
      texts(look, 5000)
        .map(({ text }) => text)
        .sort(),
    ).toEqual([title.line2, title.line1].sort());
    for (const mark of layoutTitle(look, title, 5000, room())) {
      const [x, y, width, height] =
        mark.kind === 'box'
          ? [mark.x, mark.y, mark.width, mark.height]
          : mark.kind === 'text'
            ? [mark.x, mark.y - mark.sizePx, mark.text.length * mark.sizePx * 0.5, mark.sizePx]
            : [0, 0, 0, 0];
      expect(x).toBeGreaterThanOrEqual(-0.01);
      expect(y).toBeGreaterThanOrEqual(-0.01);
      expect(x + width).toBeLessThanOrEqual(960.01);
      expect(y + height).toBeLessThanOrEqual(200.01);
    }
  });
  test('a name that is too long is cut with a sign, and one line needs no second', () => {
    const long = {
      ...title,
      line1: 'A very long name indeed that nobody could ever have on one line of a picture',
    };
    expect(texts(look, 5000, long).some(({ text }) => text.endsWith('…'))).toBe(true);
    expect(texts(look, 5000, { ...title, line2: '' })).toHaveLength(1);
  });
  test('its words are not there before it has come, and go as they came', () => {
    expect(texts(look, 1010).every(({ opacity }) => opacity < 0.3)).toBe(true);
    expect(texts(look, 5000).every(({ opacity }) => opacity > 0.8)).toBe(true);
    expect(texts(look, 9000 + TITLE_OUT_MS * 0.95).every(({ opacity }) => opacity < 0.3)).toBe(true);
    expect(layoutTitle(look, title, 20_000, room())).toEqual([]);
  });
  test('holds in a box of no size to speak of', () => {
    for (const at of [room(1, 1), room(960, 2), room(3, 200)])
      expect(() => layoutTitle(look, title, 5000, at)).not.toThrow();
  });
});

test('words on a colour are dark or light, whichever reads', () => {
  expect(textOn('#63BDBB')).toBe('#10161B');
  expect(textOn('#F6F3EE')).toBe('#10161B');
  expect(textOn('#26324f')).toBe('#F6F3EE');
});
