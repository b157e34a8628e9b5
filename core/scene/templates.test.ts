import { describe, expect, test } from 'vitest';
import { intersection, type Rect } from '../geometry/rect';
import { WIDE, TALL } from '../show/sample-show';
import { rectOfShare, TEMPLATES, type TemplatePart } from './templates';

const FRAMES = { wide: WIDE, tall: TALL } as const;
const area = (a: Rect, b: Rect) => {
  const both = intersection(a, b);
  return Math.max(0, both.width) * Math.max(0, both.height);
};
const cases = TEMPLATES.flatMap((template) =>
  (['wide', 'tall'] as const).map((frame) => ({ template, frame, name: `${template.name}, ${frame}` })),
);
const rectOf = (part: TemplatePart, frame: 'wide' | 'tall') => rectOfShare(part[frame]!, FRAMES[frame]);

test('a share of a frame in whole pixels', () => {
  expect(rectOfShare([0.1, 0.2, 0.3, 0.4], WIDE)).toEqual({ x: 192, y: 216, width: 576, height: 432 });
  expect(rectOfShare([0, 1 / 3, 1, 0.3165], TALL)).toEqual({ x: 0, y: 640, width: 1080, height: 608 });
});

test('each is known by one name, says what it is, and has each part once', () => {
  for (const list of [TEMPLATES, ...TEMPLATES.map(({ parts }) => parts)])
    expect(new Set(list.map(({ id }) => id)).size).toBe(list.length);
  for (const { id, name, says } of TEMPLATES) expect([id, name, says]).not.toContain('');
  expect(TEMPLATES.flatMap(({ parts }) => parts).every(({ id, name }) => id !== '' && name !== '')).toBe(
    true,
  );
  expect(TEMPLATES[0]).toMatchObject({ id: 'blank', parts: [] });
  expect(TEMPLATES.slice(1).every(({ parts }) => parts.length >= 3)).toBe(true);
});

describe.each(cases)('$name', ({ template: { parts }, frame }) => {
  const whole: Rect = { x: 0, y: 0, ...FRAMES[frame] };
  const seen = parts.filter((part) => part[frame] !== null);
  const of = (...types: TemplatePart['type'][]) => seen.filter(({ type }) => types.includes(type));

  test('everything is there, on the frame, and large enough to be seen', () => {
    expect(seen).toHaveLength(parts.length);
    for (const part of seen) {
      const rect = rectOf(part, frame);
      expect(area(rect, whole), part.name).toBe(rect.width * rect.height);
      expect(Math.min(rect.width, rect.height), part.name).toBeGreaterThan(60);
    }
  });

  test('people and screens lie beside each other, unless a screen fills the frame', () => {
    const pictures = of('person', 'screen');
    for (const a of pictures)
      for (const b of pictures)
        if (a.id < b.id && ![a, b].some((p) => area(rectOf(p, frame), whole) === whole.width * whole.height))
          expect(area(rectOf(a, frame), rectOf(b, frame)), `${a.name}, ${b.name}`).toBeLessThan(4000);
  });

  test('words and chat cover nobody who does not fill the frame, and not each other', () => {
    const words = of('text', 'chat');
    for (const word of words) {
      for (const person of of('person')) {
        const rect = rectOf(person, frame);
        if (rect.height < whole.height)
          expect(area(rectOf(word, frame), rect), word.name).toBeLessThan(rect.width * rect.height * 0.02);
      }
      for (const other of words)
        if (other.id < word.id) expect(area(rectOf(word, frame), rectOf(other, frame))).toBe(0);
    }
  });

  test('a background lies below everything and fills the frame', () => {
    for (const back of of('background')) {
      expect(rectOf(back, frame)).toEqual(whole);
      expect(parts[0]).toBe(back);
    }
  });

  test('corners are round by a little, and words are filled from fields', () => {
    for (const part of seen) {
      expect(part.corner ?? 0).toBeLessThan(0.05);
      if (part.type === 'text') {
        expect(part.text).toMatch(/^\{\{\w+\}\}$/);
        expect(part.style).toMatchObject({
          align: 'center',
          box: expect.stringMatching(/^#[0-9A-F]{8}$/) as string,
        });
      }
    }
  });
});
