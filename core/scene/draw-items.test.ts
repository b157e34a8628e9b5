/** What each item of a draw list says, and what it stands in the way of. */
import { describe, expect, test } from 'vitest';
import { PLAIN_FINISH } from '../show/finish-records';
import { kindOf } from '../show/input-kinds';
import { FADE } from '../show/motion-records';
import { DEFAULT_TEXT_STYLE, type InputSource, type LayerContent, type LayerRecord } from '../show/records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene } from '../show/sample-show';
import { boundsOf, buildDrawList, buildMovingList, insetSize, isFromViewers } from './draw-list';
import type { DrawItem } from './draw-list';
import type { OnAir } from '../motion/programme';

const OUT = { width: 640, height: 360 };
const scene = sampleScene('a', { background: '#112233' });
const text = (words: string): LayerContent => ({ type: 'text', text: words, style: DEFAULT_TEXT_STYLE });
const shape = (colour: string, of: 'rectangle' | 'ellipse' = 'rectangle'): LayerContent => ({
  ...{ type: 'shape', shape: of, colour },
});
const input = (inputId = 'cam', fit: 'fill' | 'fit' = 'fill'): LayerContent => ({
  type: 'input',
  inputId,
  fit,
});
const widget = (of: string): LayerContent => ({ type: 'widget', widget: { of } }) as unknown as LayerContent;
const onlyType = (type: string): LayerContent => ({ type }) as unknown as LayerContent;
const build = (layers: LayerRecord[], options: Parameters<typeof buildDrawList>[4] = {}) =>
  buildDrawList(
    sampleDocument(scene, sampleInput('cam'), sampleInput('keyed', { key: {} as never }), ...layers),
    'a',
    'wide',
    OUT,
    options,
  );
const one = (more: Parameters<typeof sampleLayer>[3]): DrawItem =>
  build([sampleLayer('l', 'a', 0, more)]).items[0];
/** Whether a whole layer above leaves the one below it out. */
const hides = (content: LayerContent, more: Parameters<typeof sampleLayer>[3] = {}): boolean => {
  const below = sampleLayer('below', 'a', 0, { content: text('Tide') });
  const { items } = build([below, sampleLayer('above', 'a', 1, { content, ...more })]);
  return !items.some(({ layerId }) => layerId === 'below');
};

describe('pictures without a transparent point', () => {
  const opaque = (source: unknown) => kindOf(source as InputSource).opaque(source as InputSource);
  test.each(['camera', 'screen', 'clips', 'feed', 'seat', 'simulated'])('a %s is one', (type) => {
    expect(opaque({ type })).toBe(true);
  });
  test.each(['picture', 'slides', 'lottie', 'page'])('a %s may have some', (type) => {
    expect(opaque({ type })).toBe(false);
  });
  test('a background is one when it is plain and its colour has no transparency', () => {
    const plain = (colour: string, look = 'plain') => opaque({ type: 'background', look, colour });
    expect(plain('#0a1B2c')).toBe(true);
    expect(plain('#0a1b2c80')).toBe(false);
    expect(plain('x#0a1b2c')).toBe(false);
    expect(plain('#0a1b2z')).toBe(false);
    expect(plain('#0a1b2c', 'texture')).toBe(false);
  });
});

describe('what lies below', () => {
  test('is left out under what fills its box, and only then', () => {
    expect(hides(input())).toBe(true);
    expect(hides(input('cam', 'fit'))).toBe(false);
    expect(hides(input('keyed'))).toBe(false);
    expect(hides(input('gone'))).toBe(false);
    expect(hides(shape('#26324f'))).toBe(true);
    expect(hides(shape('#26324F'))).toBe(true);
    expect(hides(shape('#26324f80'))).toBe(false);
    expect(hides(shape('x#26324f'))).toBe(false);
    expect(hides(shape('#26324f', 'ellipse'))).toBe(false);
    expect(hides(text('Ebb'))).toBe(false);
  });

  test('turned by a half it still hides, mixed or masked it does not', () => {
    expect(hides(input(), { wide: { rotationDeg: 180 } })).toBe(true);
    expect(hides(input(), { wide: { rotationDeg: 90 } })).toBe(false);
    const finish = (part: object) => ({ finish: { ...PLAIN_FINISH, ...part } });
    expect(hides(input(), finish({ blend: 'screen' }))).toBe(false);
    expect(
      hides(input(), finish({ mask: { assetId: 'a', name: '', by: 'brightness', inverted: false } })),
    ).toBe(false);
    expect(hides(input(), finish({ innerGlow: { colour: '#ffffff', sizePx: 4, strength: 1 } }))).toBe(true);
  });

  test('one of several that covers it is enough; what two cover together is not', () => {
    const half = (id: string, cx: number, position: number) =>
      sampleLayer(id, 'a', position, { content: input(), wide: { cx, width: 960 } });
    const small = (cx: number) =>
      sampleLayer('s', 'a', 0, { content: input(), wide: { cx, width: 100, height: 100 } });
    const ids = (cx: number) =>
      build([small(cx), half('left', 480, 1), half('right', 1440, 2)]).items.map((i) => i.layerId);
    expect(ids(300)).toEqual(['left', 'right']);
    expect(ids(1600)).toEqual(['left', 'right']);
    expect(ids(960)).toEqual(['s', 'left', 'right']);
  });
});

describe('what is drawn', () => {
  test('a shape in its colour; words with their fields; nothing for a group or empty words', () => {
    expect(one({ content: shape('#102030') }).content).toEqual(shape('#102030'));
    expect(one({ content: text('with {{host}}') }).content).toMatchObject({
      type: 'text',
      text: 'with lampwright',
    });
    expect(build([sampleLayer('l', 'a', 0, { content: text('  \n ') })]).items).toEqual([]);
    expect(one({ content: text(' Tide ') }).content).toMatchObject({ text: ' Tide ' });
    expect(build([sampleLayer('g', 'a', 0, { content: { type: 'group' } })]).items).toEqual([]);
    expect(one({ content: input(), gradeId: 'warm' }).content).toEqual({
      ...input(),
      gradeId: 'warm',
      gradeFrom: null,
    });
    expect(one({ content: onlyType('chatPanel') }).content).toEqual(onlyType('chatPanel'));
  });

  test('fields that events keep up stand beside the show’s own, which count first', () => {
    const of = (live: Record<string, string>) =>
      build([sampleLayer('l', 'a', 0, { content: text('{{host}} and {{last}}') })], { live }).items[0]
        .content;
    expect(of({ last: 'mossbell', host: 'nobody' })).toMatchObject({ text: 'lampwright and mossbell' });
  });

  test('a frame of another shape: corners and edges by the smaller scale, corners never over half the box', () => {
    const at = (cornerPx: number, output = { width: 640, height: 540 }) =>
      buildDrawList(
        sampleDocument(
          scene,
          sampleLayer('l', 'a', 0, { wide: { width: 300, height: 120, cornerPx, borderPx: 6 } }),
        ),
        'a',
        'wide',
        output,
      ).items[0];
    expect(at(30)).toMatchObject({ scale: 1 / 3, cornerPx: 10, borderPx: 2 });
    expect(at(900).cornerPx).toBe(30);
    expect(at(900, { width: 1920, height: 540 })).toMatchObject({ scale: 0.5, cornerPx: 30 });
    expect(at(900, { width: 192, height: 1080 }).cornerPx).toBe(15);
  });

  test('a line list without the scene, or without a show, is empty', () => {
    const layers = [sampleLayer('l', 'a', 0)];
    expect(build(layers).items).toHaveLength(1);
    const gone = buildDrawList(sampleDocument(...layers), 'a', 'wide', OUT);
    expect([gone.items, gone.background]).toEqual([[], '#000000']);
    const noShow = new Map([scene, ...layers].map((r) => [r.id, r])) as unknown as Parameters<
      typeof buildDrawList
    >[0];
    expect(buildDrawList(noShow, 'a', 'wide', OUT).items).toEqual([]);
  });

  test('inside another scene only what is seen in that frame', () => {
    const layers = [
      sampleLayer('seen', 'a', 0, { wide: { width: 50 } }),
      sampleLayer('hidden', 'a', 1, { wide: { width: 50 }, visible: false }),
      sampleLayer('clear', 'a', 2, { wide: { width: 50, opacity: 0 } }),
    ];
    expect(build(layers, { inside: true }).items.map((i) => i.layerId)).toEqual(['seen']);
    const inTall = buildDrawList(sampleDocument(scene, ...layers), 'a', 'tall', OUT, { inside: true });
    expect(inTall.items).toEqual([]);
  });
});

describe('without what viewers cause', () => {
  test('alerts, chat and what is read out are theirs; other widgets are the host’s', () => {
    expect(['alert', 'chatPanel'].map((type) => isFromViewers(onlyType(type)))).toEqual([true, true]);
    expect(isFromViewers(widget('readOut'))).toBe(true);
    expect(isFromViewers(widget('clock'))).toBe(false);
    expect([text('x'), shape('#000000'), input()].map(isFromViewers)).toEqual([false, false, false]);
  });

  test('a clean picture leaves out those and nothing else', () => {
    const layers = [
      sampleLayer('alert', 'a', 0, { content: onlyType('alert') }),
      sampleLayer('words', 'a', 1, { content: text('Tide') }),
    ];
    const ids = (clean?: boolean) => {
      const list = build(layers, clean === undefined ? {} : { clean });
      return [list.clean, ...list.items.map((i) => i.layerId)];
    };
    expect(ids()).toEqual([false, 'alert', 'words']);
    expect(ids(true)).toEqual([true, 'words']);
  });
});

describe('while it moves', () => {
  const other = sampleScene('b', { background: '#ffffff' });
  const wide = (width: number, height = 90) => ({ width, height, cornerPx: 11, opacity: 0.6 });
  const layer = (of: string, width: number, content: LayerContent = text('Tide'), height = 90) =>
    sampleLayer(`l-${of}`, of, 0, { content, wide: wide(width, height) });
  const carry: OnAir = {
    ...{ sceneId: 'b', poseId: null },
    from: {
      before: { sceneId: 'a', poseId: null, from: null },
      startedAt: 10,
      transition: { ...FADE, type: 'carry', seconds: 2, easing: 'linear' },
    },
  };
  const at = (now: number, from = layer('a', 300), to = layer('b', 600)) =>
    buildMovingList(sampleDocument(scene, other, from, to), carry, 'wide', OUT, now);

  test('the background goes over from the one to the other', () => {
    expect(at(10).background).toBe('#112233');
    expect(at(11).background).toBe('#889199');
    expect(at(12).background).toBe('#ffffff');
    const still: OnAir = { sceneId: 'b', poseId: null, from: null };
    expect(buildMovingList(sampleDocument(scene, other), still, 'wide', OUT, 5).background).toBe('#ffffff');
    expect(buildMovingList(sampleDocument(scene), still, 'wide', OUT, 5).background).toBe('#000000');
  });

  test('words are there in both layouts, each in its own size, neither dimmer than half of both', () => {
    const { items } = at(10.5);
    expect(items.map((i) => i.layout)).toEqual([
      { width: 200, height: 30 },
      { width: 100, height: 30 },
    ]);
    expect(items.map((i) => i.opacity)).toEqual([expect.closeTo(0.3), expect.closeTo(0.6)]);
    expect(items.every((i) => i.moving)).toBe(true);
    // Corners in whole pixels while it moves, exact when it stands.
    expect(items.map((i) => i.cornerPx)).toEqual([4, 4]);
    expect(one({ wide: wide(300) }).cornerPx).toBeCloseTo(11 / 3);
    expect(one({ wide: wide(300) }).moving).toBe(false);
  });

  test('a box that changes its height alone is another layout too', () => {
    const { items } = at(10.5, layer('a', 300), layer('b', 300, text('Tide'), 180));
    expect(items.map((i) => i.layout)).toEqual([
      { width: 100, height: 60 },
      { width: 100, height: 30 },
    ]);
    expect(at(10.5, layer('a', 300), layer('b', 300)).items.map((i) => i.layout)).toEqual([null]);
  });

  test('what moves hides nothing', () => {
    const full = sampleLayer('full', 'b', 1, { content: input() });
    const list = buildMovingList(
      sampleDocument(scene, other, sampleInput('cam'), layer('a', 300), layer('b', 600), full),
      ...([carry, 'wide', OUT, 12] as const),
    );
    expect(list.items.map((i) => i.layerId)).toContain('l-b');
  });

  test('a wipe is told from every side, and none when there is none', () => {
    for (const side of ['left', 'right', 'top', 'bottom'] as const) {
      const wiped = sampleLayer('w', 'b', 0, {
        ...{ content: text('Ebb'), wide: wide(300) },
        motion: { enter: 'wipe', leave: 'cut', side, timing: null },
      });
      const { items } = buildMovingList(sampleDocument(scene, other, wiped), carry, 'wide', OUT, 11);
      const opposite = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' }[side];
      const none = { left: 0, right: 0, top: 0, bottom: 0 };
      expect(items[0].wipe).toEqual({ ...none, [opposite]: 0.5 });
    }
    expect(one({ content: text('Ebb') }).wipe).toBeNull();
  });
});

describe('what an item may touch', () => {
  const item = (part: Partial<DrawItem>): DrawItem => ({
    ...one({ wide: { cx: 300, cy: 300, width: 120, height: 60 } }),
    ...{ rect: { x: 80, y: 90, width: 40, height: 20 }, ...part },
  });
  test('its box, turned, with its border and what reaches beyond', () => {
    const plain = item({});
    expect(boundsOf(plain)).toBe(plain.rect);
    expect(boundsOf(item({ borderPx: 3 }))).toEqual({ x: 77, y: 87, width: 46, height: 26 });
    expect(boundsOf(item({ reachPx: 5 }))).toEqual({ x: 75, y: 85, width: 50, height: 30 });
    expect(boundsOf(item({ borderPx: 3, reachPx: 5 }))).toEqual({ x: 72, y: 82, width: 56, height: 36 });
    const turned = boundsOf(item({ rotationDeg: 90, borderPx: 1 }));
    expect(turned.x).toBeCloseTo(89);
    expect(turned.y).toBeCloseTo(79);
    expect(turned.width).toBeCloseTo(22);
    expect(turned.height).toBeCloseTo(42);
  });

  test('a scene in a box is drawn as large as the box needs, in eighths while it moves', () => {
    const frame = { width: 1920, height: 1080 };
    const box = (width: number, height: number, moving = false) =>
      insetSize(item({ rect: { x: 0, y: 0, width, height }, moving }), frame);
    expect(box(480, 270)).toEqual({ width: 480, height: 270 });
    expect(box(480, 540)).toEqual({ width: 960, height: 540 });
    expect(box(960, 100)).toEqual({ width: 960, height: 540 });
    expect(box(4000, 300)).toEqual(frame);
    expect(box(500, 270, true)).toEqual({ width: 720, height: 405 });
    expect(box(1900, 270, true)).toEqual(frame);
    expect(box(0.1, 0.1)).toEqual({ width: 2, height: 2 });
  });
});
