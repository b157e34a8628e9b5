import { describe, expect, test } from 'vitest';
import { START_GLOW, type LayerFinish } from '../show/finish-records';
import { PLAIN_MOTION, type LayerMotion, type Side } from '../show/motion-records';
import {
  DEFAULT_TEXT_STYLE,
  NO_CROP,
  type LayerContent,
  type LayerRecord,
  type Placement,
} from '../show/records';
import { sampleLayer, WIDE } from '../show/sample-show';
import {
  awayState,
  byContent,
  byLayer,
  isSeen,
  mixArrangements,
  standingLayer,
  type MovingLayer,
} from './moving';

const PLACE: Partial<Placement> = { cx: 500, cy: 400, width: 200, height: 100, opacity: 0.8 };
const motion = (part: Partial<LayerMotion>): LayerMotion => ({ ...PLAIN_MOTION, ...part });
function moving(id: string, wide: Partial<Placement> = {}, more: Partial<LayerRecord> = {}): MovingLayer {
  const layer = sampleLayer(id, 'a', 0, { wide: { ...PLACE, ...wide }, ...more });
  return standingLayer(layer, layer.placements.wide!);
}
const text = (words: string): LayerContent => ({ type: 'text', text: words, style: DEFAULT_TEXT_STYLE });
const even = (share: number) => () => share;
const mixed = (from: MovingLayer[], to: MovingLayer[], share: number, match = byLayer) =>
  mixArrangements(from, to, match, even(share), WIDE);

describe('standing still', () => {
  test('a shape has its colour, others have none; words are laid out for the box alone', () => {
    expect(moving('a')).toMatchObject({
      wipe: NO_CROP,
      colour: '#26324f',
      gradeFrom: null,
      layouts: [{ width: 200, height: 100, share: 1 }],
    });
    expect(moving('a', {}, { content: text('Tide') }).colour).toBeNull();
  });

  test('it is seen unless it is clear, or wiped away from the sides together', () => {
    const seen = (placement: Partial<Placement>, wipe: Partial<typeof NO_CROP>) =>
      isSeen({ ...moving('a', placement), wipe: { ...NO_CROP, ...wipe } });
    expect(seen({}, {})).toBe(true);
    expect(seen({ opacity: 0 }, {})).toBe(false);
    expect(seen({ opacity: 0.01 }, { left: 0.5, right: 0.49 })).toBe(true);
    expect(seen({}, { left: 0.5, right: 0.5 })).toBe(false);
    expect(seen({}, { top: 0.4, bottom: 0.59 })).toBe(true);
    expect(seen({}, { top: 0.4, bottom: 0.6 })).toBe(false);
  });
});

describe('where a layer comes from', () => {
  const away = (how: LayerMotion['enter'], side: Side = 'left', of = moving('a')) =>
    awayState(of, how, side, WIDE);

  test('by cut and fade it is there and clear; by zoom smaller too, but never nothing', () => {
    for (const how of ['cut', 'fade'] as const)
      expect(away(how)).toEqual({ ...moving('a'), placement: { ...moving('a').placement, opacity: 0 } });
    expect(away('zoom').placement).toEqual({
      ...moving('a').placement,
      ...{ opacity: 0, width: 120, height: 60 },
    });
    const speck = moving('a', { width: 1, height: 1.5 });
    expect(away('zoom', 'left', speck).placement).toMatchObject({ width: 1, height: 1 });
  });

  test.each([
    ['left', 'right'],
    ['right', 'left'],
    ['top', 'bottom'],
    ['bottom', 'top'],
  ] as const)('a wipe from %s hides everything from %s on', (side, hidden) => {
    expect(away('wipe', side)).toEqual({ ...moving('a'), wipe: { ...NO_CROP, [hidden]: 1 } });
  });

  test('a slide begins just outside the frame on its side, with border, shadow and glow', () => {
    expect(away('slide', 'left').placement).toMatchObject({ cx: -100, cy: 400, opacity: 0.8 });
    expect(away('slide', 'right').placement).toMatchObject({ cx: 2020, cy: 400 });
    expect(away('slide', 'top').placement).toMatchObject({ cx: 500, cy: -50 });
    expect(away('slide', 'bottom').placement).toMatchObject({ cx: 500, cy: 1130 });
    const bordered = moving('a', { borderPx: 7 });
    expect(away('slide', 'right', bordered).placement.cx).toBe(2027);
    expect(away('slide', 'bottom', bordered).placement.cy).toBe(1137);
    const glowing: LayerFinish = { ...moving('a').finish, outerGlow: { ...START_GLOW, sizePx: 20 } };
    expect(away('slide', 'left', { ...moving('a'), finish: glowing }).placement.cx).toBe(-130);
  });

  test('one that is turned needs its diagonal, one that stands on its head does not', () => {
    const turned = (rotationDeg: number) => moving('a', { width: 300, height: 400, rotationDeg });
    expect(away('slide', 'left', turned(45)).placement.cx).toBe(-250);
    expect(away('slide', 'top', turned(30)).placement.cy).toBe(-250);
    expect(away('slide', 'left', turned(180)).placement.cx).toBe(-150);
    expect(away('slide', 'bottom', turned(360)).placement.cy).toBe(1280);
  });
});

describe('which are the same to a viewer', () => {
  const one = moving('one', {}, { content: { type: 'input', inputId: 'cam', fit: 'fill' } });
  const named = (id: string, content: LayerContent, name = id) => moving(id, {}, { content, name });

  test('within a scene the same layer and nothing else', () => {
    const other = moving('one', { cx: 0 });
    const found = byLayer([one, moving('two')], [moving('three'), other]);
    expect([...found]).toEqual([[other, one]]);
  });

  test('between scenes what shows the same, each once, the lowest first', () => {
    const contents: LayerContent[] = [
      { type: 'input', inputId: 'cam', fit: 'fill' },
      { type: 'inset', sceneId: 'b', fit: 'fill' },
      text('Tide'),
    ];
    for (const content of contents) {
      const [a, b, c] = [named('a', content), named('b', content), named('c', content)];
      expect([...byContent([a, b], [c])]).toEqual([[c, a]]);
      const second = named('d', content);
      expect([...byContent([a, b], [c, second])]).toEqual([
        [c, a],
        [second, b],
      ]);
      const third = named('e', content);
      expect(byContent([a], [c, third]).has(third)).toBe(false);
    }
    expect(
      byContent([named('a', contents[0])], [named('b', { ...contents[0], inputId: 'game' } as LayerContent)])
        .size,
    ).toBe(0);
    expect(
      byContent([named('a', contents[1])], [named('b', { type: 'inset', sceneId: 'c', fit: 'fill' })]).size,
    ).toBe(0);
    expect(byContent([named('a', contents[2])], [named('b', text('Ebb'))]).size).toBe(0);
  });

  test('a layer of its own comes before one that only shows the same', () => {
    const content = text('Tide');
    const [same, other] = [named('same', content), named('other', content)];
    const to = [named('new', content), named('same', content)];
    expect([...byContent([same, other], to)]).toEqual([
      [to[1], same],
      [to[0], other],
    ]);
  });

  test('shapes are known by shape and name; groups are never the same', () => {
    const shape = (id: string, name: string, of: 'rectangle' | 'ellipse' = 'rectangle') =>
      named(id, { type: 'shape', shape: of, colour: '#26324f' }, name);
    expect(byContent([shape('a', 'Bar')], [shape('b', 'Bar')]).size).toBe(1);
    expect(byContent([shape('a', 'Bar')], [shape('b', 'Box')]).size).toBe(0);
    expect(byContent([shape('a', 'Bar')], [shape('b', 'Bar', 'ellipse')]).size).toBe(0);
    const group = (id: string): MovingLayer => ({
      ...moving(id),
      layer: { ...moving(id).layer, content: { type: 'group' } as LayerContent },
    });
    expect(byContent([group('a')], [group('b')]).size).toBe(0);
  });
});

describe('on the way', () => {
  test('what stays goes from the one place to the other, and its wipe with it', () => {
    const [from, to] = [moving('a'), moving('a', { cx: 700 })];
    const [half] = mixed([{ ...from, wipe: { ...NO_CROP, left: 0.4 } }], [to], 0.5);
    expect(half.placement.cx).toBe(600);
    expect(half.wipe).toEqual({ left: 0.2, top: 0, right: 0, bottom: 0 });
    expect(half.layer).toBe(to.layer);
    const [over] = mixed([{ ...from, wipe: { left: 0.4, top: 0.9, right: 0.3, bottom: 0.2 } }], [to], -2);
    expect(over.wipe).toEqual({
      left: 1,
      top: 1,
      right: expect.closeTo(0.9) as number,
      bottom: expect.closeTo(0.6) as number,
    });
    const [beyond] = mixed([{ ...from, wipe: { left: 0.4, top: 0.9, right: 0.3, bottom: 0.2 } }], [to], 1.5);
    expect(beyond.wipe).toEqual(NO_CROP);
  });

  test('what is nowhere else and looks the same is not asked how far it has come', () => {
    const [a, b] = [moving('a'), moving('a')];
    const asked: string[] = [];
    const seen = mixArrangements(
      [a, moving('b')],
      [b, moving('b', { cy: 1 }), moving('c')],
      byLayer,
      (layer, order) => {
        asked.push(`${layer.id} ${order}`);
        return 0.5;
      },
      WIDE,
    );
    expect(asked).toEqual(['b 0', 'c 1']);
    expect(seen[0]).toEqual(b);
  });

  test('a colour, a grade, a finish or a wipe alone is a difference', () => {
    const plain = moving('a');
    const count = (from: MovingLayer, to: MovingLayer) => {
      let asked = 0;
      mixArrangements([from], [to], byLayer, () => (asked++, 0.5), WIDE);
      return asked;
    };
    expect(count(plain, { ...plain, colour: '#ffffff' })).toBe(1);
    expect(count(plain, { ...plain, layer: { ...plain.layer, gradeId: 'g' } })).toBe(1);
    expect(count(plain, { ...plain, finish: { ...plain.finish, blend: 'add' } })).toBe(1);
    expect(count(plain, { ...plain, finish: { ...plain.finish } })).toBe(0);
    expect(count(plain, { ...plain, wipe: { ...NO_CROP, top: 0.1 } })).toBe(1);
    expect(count(plain, { ...plain, placement: { ...plain.placement } })).toBe(0);
  });

  test('colours of shapes mix within their ends; a layer that got one has it at once', () => {
    const coloured = (colour: string | null) => ({ ...moving('a'), colour });
    expect(mixed([coloured('#000000')], [coloured('#ffffff')], 0.25)[0].colour).toBe('#404040');
    expect(mixed([coloured('#000000')], [coloured('#ffffff')], 1.5)[0].colour).toBe('#ffffff');
    expect(mixed([coloured('#000000')], [coloured('#ffffff')], -0.5)[0].colour).toBe('#000000');
    expect(mixed([coloured(null)], [coloured('#ffffff')], 0.25)[0].colour).toBe('#ffffff');
    expect(mixed([coloured('#ffffff')], [coloured(null)], 0.25)[0].colour).toBeNull();
  });

  test('a grade gives way to the other by its share; one that was on its way counts by what was seen most', () => {
    const graded = (gradeId: string | null, gradeFrom: MovingLayer['gradeFrom'] = null): MovingLayer => ({
      ...moving('a', {}, { gradeId }),
      gradeFrom,
    });
    const grade = (from: MovingLayer, to: MovingLayer, share: number) =>
      mixed([from], [to], share)[0].gradeFrom;
    expect(grade(graded('warm'), graded('cold'), 0)).toEqual({ gradeId: 'warm', share: 0 });
    expect(grade(graded('warm'), graded('cold'), 0.3)).toEqual({ gradeId: 'warm', share: 0.3 });
    expect(grade(graded(null), graded('cold'), 0.3)).toEqual({ gradeId: null, share: 0.3 });
    expect(grade(graded('warm'), graded('cold'), 1)).toBeNull();
    expect(grade(graded('warm'), graded('cold'), 1.4)).toBeNull();
    expect(grade(graded('warm'), graded('cold'), -0.4)).toEqual({ gradeId: 'warm', share: 0 });
    const early = graded('warm', { gradeId: 'plain', share: 0.49 });
    const late = graded('warm', { gradeId: 'plain', share: 0.5 });
    expect(grade(early, graded('cold'), 0.2)).toEqual({ gradeId: 'plain', share: 0.2 });
    expect(grade(late, graded('cold'), 0.2)).toEqual({ gradeId: 'warm', share: 0.2 });
    expect(grade(early, graded('plain'), 0.2)).toBeNull();
  });

  test('words flow from one box into the other: both layouts, sizes that are one counted once', () => {
    const words = (width: number, height = 100) => moving('a', { width, height }, { content: text('Tide') });
    expect(mixed([words(200)], [words(300)], 0.25)[0].layouts).toEqual([
      { width: 200, height: 100, share: 0.75 },
      { width: 300, height: 100, share: 0.25 },
    ]);
    expect(mixed([words(200)], [words(200.4)], 0.25)[0].layouts).toEqual([
      { width: 200, height: 100, share: 1 },
    ]);
    expect(mixed([words(200)], [words(200.5)], 0.25)[0].layouts).toHaveLength(2);
    expect(mixed([words(200)], [words(200, 100.6)], 0.25)[0].layouts).toHaveLength(2);
    // What is hardly seen is left out, and beyond the ends nothing counts less than nothing.
    expect(mixed([words(200)], [words(300)], 0.997)[0].layouts).toEqual([
      { width: 300, height: 100, share: 0.997 },
    ]);
    expect(mixed([words(200)], [words(300)], 1.2)[0].layouts).toEqual([
      { width: 300, height: 100, share: 1 },
    ]);
    expect(mixed([words(200)], [words(300)], -0.2)[0].layouts).toEqual([
      { width: 200, height: 100, share: 1 },
    ]);
    // A picture has no words to lay out.
    const picture = (width: number) => moving('a', { width });
    expect(mixed([picture(200)], [picture(300)], 0.25)[0].layouts).toEqual([
      { width: 300, height: 100, share: 1 },
    ]);
  });

  test.each(['chatPanel', 'widget', 'alert'] as const)('a %s has words to lay out too', (type) => {
    const panel = (width: number) => {
      const plain = moving('a', { width });
      return { ...plain, layer: { ...plain.layer, content: { type } as LayerContent } };
    };
    expect(mixed([panel(200)], [panel(300)], 0.5)[0].layouts).toHaveLength(2);
  });

  test('what comes and goes takes its own way; a cut is there, or gone, with the first moment', () => {
    const by = (how: LayerMotion['enter']) => moving('a', {}, { motion: motion({ enter: how, leave: how }) });
    const enters = (how: LayerMotion['enter'], share: number) =>
      mixed([], [by(how)], share)[0].placement.opacity;
    const leaves = (how: LayerMotion['enter'], share: number) =>
      mixed([by(how)], [], share)[0].placement.opacity;
    expect([0, 0.25, 1].map((s) => enters('fade', s))).toEqual([0, 0.2, 0.8]);
    expect(leaves('fade', 0.25)).toBeCloseTo(0.6);
    expect([0, 0.01, 1].map((s) => enters('cut', s))).toEqual([0, 0.8, 0.8]);
    expect([0, 0.01, 1].map((s) => leaves('cut', s))).toEqual([0.8, 0, 0]);
  });

  test('enter and leave are told apart', () => {
    const layer = moving('a', {}, { motion: motion({ enter: 'cut', leave: 'slide', side: 'right' }) });
    expect(mixed([], [layer], 0.5)[0].placement).toEqual(layer.placement);
    expect(mixed([layer], [], 1)[0].placement.cx).toBe(2020);
    const other = moving('a', {}, { motion: motion({ enter: 'slide', leave: 'cut', side: 'left' }) });
    expect(mixed([], [other], 0)[0].placement.cx).toBe(-100);
    expect(mixed([other], [], 0.5)[0].placement.opacity).toBe(0);
  });

  test('what leaves stands below the next one that stays, or above all when there is none', () => {
    const ids = (from: string[], to: string[]) =>
      mixed(
        from.map((id) => moving(id)),
        to.map((id) => moving(id)),
        0.5,
      ).map(({ layer }) => layer.id);
    expect(ids(['x', 'a', 'y', 'z', 'b', 'w'], ['n', 'a', 'b', 'm'])).toEqual([
      'n',
      'x',
      'a',
      'y',
      'z',
      'b',
      'm',
      'w',
    ]);
    expect(ids(['a', 'b'], ['b', 'a'])).toEqual(['b', 'a']);
    expect(ids(['a'], [])).toEqual(['a']);
    expect(ids([], ['a'])).toEqual(['a']);
  });
});
