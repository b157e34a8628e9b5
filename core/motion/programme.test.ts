import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { FADE, PLAIN_MOTION, type LayerMotion, type Transition } from '../show/motion-records';
import { documentOf } from '../show/document';
import { posed } from '../show/poses';
import type { AnyRecord, LayerRecord, Placement, PoseRecord } from '../show/records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene, sampleShow, WIDE } from '../show/sample-show';
import { mixColour, mixPlacement } from './mix';
import { isSeen } from './moving';
import {
  arrangement,
  drawnTo,
  glideSeconds,
  glideTo,
  layersAt,
  passageSeconds,
  passageShare,
  settled,
  stingersOf,
  takeScene,
  transitionFor,
  type OnAir,
} from './programme';

const pose = (id: string, layers: LayerRecord[], more: Partial<PoseRecord> = {}): PoseRecord => ({
  kind: 'pose',
  id,
  showId: 'show',
  name: id,
  position: Number(id.slice(1)),
  sceneId: 'a',
  key: '',
  glide: null,
  layers: Object.fromEntries(
    layers.map(({ id: layer, visible, placements, content }) => [
      layer,
      { visible, placements, colour: content.type === 'shape' ? content.colour : null },
    ]),
  ),
  standing: {},
  ...more,
});
const layer = (id: string, position: number, wide: Partial<Placement>, more: Partial<LayerRecord> = {}) =>
  sampleLayer(id, 'a', position, { wide, ...more });
const scene = sampleScene('a', { glide: { seconds: 0.5, easing: 'ease-in-out', staggerSeconds: 0 } });
const small = { cx: 200, cy: 150, width: 300, height: 200, opacity: 0.5, cornerPx: 20, rotationDeg: 0 };
const big = { cx: 960, cy: 540, width: 1400, height: 900, opacity: 1, cornerPx: 0, rotationDeg: 30 };
const base = layer('one', 0, small);
const records: AnyRecord[] = [
  scene,
  base,
  pose('p1', [base]),
  pose('p2', [layer('one', 0, big)]),
  pose('p3', [layer('one', 0, { ...small, cx: 1700, rotationDeg: -170 })]),
];
const show = sampleDocument(...records);
const at = (onAir: OnAir, now: number, document = show) =>
  layersAt(document, onAir, 'wide', now)[0].placement;
const on = (poseId: string): OnAir => ({ sceneId: 'a', poseId, from: null });
const placementOf = (poseId: string) => arrangement(show, { sceneId: 'a', poseId }, 'wide')[0].placement;

describe('a glide', () => {
  test('begins and ends with the poses exactly, and lies between them meanwhile', () => {
    const glide = glideTo(on('p1'), 'p2', 10, show);
    expect(at(glide, 10)).toEqual(placementOf('p1'));
    expect(at(glide, 10.5)).toEqual(placementOf('p2'));
    expect(at(glide, 99)).toEqual(placementOf('p2'));
    const middle = at(glide, 10.25);
    expect(middle.cx).toBeCloseTo((200 + 960) / 2);
    expect(middle.opacity).toBeCloseTo(0.75);
    expect(middle.rotationDeg).toBeCloseTo(15);
  });

  test('any moment can be computed again', () => {
    const glide = glideTo(glideTo(on('p1'), 'p2', 10, show), 'p3', 10.2, show);
    expect(at(glide, 10.31)).toEqual(at(glide, 10.31));
    expect(at(structuredClone(glide), 10.31)).toEqual(at(glide, 10.31));
  });

  test('interrupted anywhere, any number of times, it neither jumps nor goes faster than its movements together', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.constantFrom('p1', 'p2', 'p3'), fc.double({ min: 0.001, max: 0.6, noNaN: true })),
          {
            minLength: 1,
            maxLength: 6,
          },
        ),
        (steps) => {
          let onAir = on('p1');
          let now = 0;
          const taken: number[] = [];
          for (const [to, wait] of steps) {
            const before = onAir;
            onAir = glideTo(onAir, to, now, show);
            // The very moment of the press: the same place.
            expect(Math.abs(at(onAir, now).cx - at(before, now).cx)).toBeLessThan(1e-6);
            expect(Math.abs(at(onAir, now).width - at(before, now).width)).toBeLessThan(1e-6);
            taken.push(now);
            const dt = 1 / 120;
            // The steepest part of ease-in-out is below 1.8; the furthest way is 1500 px.
            const fastest = (taken.length * 1.8 * 1500) / 0.5;
            for (let t = now; t < now + wait; t += dt)
              expect(Math.abs(at(onAir, t + dt).cx - at(onAir, t).cx)).toBeLessThan(fastest * dt + 1e-6);
            now += wait;
          }
          onAir = settled(onAir, now + 5, show);
          expect(onAir.from).toBeNull();
          expect(at(onAir, now + 5)).toEqual(placementOf(onAir.poseId!));
        },
      ),
      { numRuns: 200 },
    );
  });

  test('its speed goes on through an interruption', () => {
    const first = glideTo(on('p1'), 'p2', 0, show);
    const both = glideTo(first, 'p3', 0.25, show);
    const speed = (of: OnAir, t: number) => (at(of, t + 1e-4).cx - at(of, t).cx) / 1e-4;
    expect(speed(both, 0.2501)).toBeCloseTo(speed(first, 0.2501), -2);
    expect(Math.abs(speed(both, 0.2501))).toBeGreaterThan(500);
  });

  test('scene, pose and layer say how long and how; stagger begins one after the other', () => {
    const slow = { ...PLAIN_MOTION, timing: { seconds: 2, easing: 'linear' } };
    const two = [layer('one', 0, small), layer('two', 1, small, { motion: slow }), layer('three', 2, small)];
    const moved = two.map((l) => ({ ...l, placements: { wide: { ...l.placements.wide!, cx: 1200 } } }));
    const staggered = sampleDocument(
      sampleScene('a', { glide: { seconds: 0.5, easing: 'linear', staggerSeconds: 0.1 } }),
      ...two,
      pose('p1', two),
      pose('p2', moved, { glide: { seconds: 1, easing: 'linear' } }),
    );
    const glide = glideTo(on('p1'), 'p2', 0, staggered);
    const xs = (t: number) => layersAt(staggered, glide, 'wide', t).map((l) => Math.round(l.placement.cx));
    expect(xs(0.5)).toEqual([700, 400, 500]);
    expect(passageSeconds(glide, staggered)).toBeCloseTo(2.2);
    expect(settled(glide, 2.19, staggered).from).not.toBeNull();
    expect(settled(glide, 2.21, staggered).from).toBeNull();
  });

  test.each<[LayerMotion['enter'], LayerMotion['side'], (p: Placement) => boolean]>([
    ['fade', 'left', (p) => p.cx === 960 && p.opacity === 0],
    ['zoom', 'left', (p) => p.width === 360 && p.opacity === 0],
    ['slide', 'left', (p) => p.cx === -300 && p.opacity === 1],
    ['slide', 'right', (p) => p.cx === 2220 && p.opacity === 1],
    ['slide', 'top', (p) => p.cy === -200 && p.opacity === 1],
    ['slide', 'bottom', (p) => p.cy === 1280 && p.opacity === 1],
  ])('a layer that enters by %s from %s begins unseen and arrives where it stands', (enter, side, away) => {
    const shown = layer(
      'one',
      0,
      { width: 600, height: 400 },
      { motion: { ...PLAIN_MOTION, enter, leave: enter, side } },
    );
    const hidden = { ...shown, visible: false };
    const document = sampleDocument(scene, shown, pose('p1', [hidden]), pose('p2', [shown]));
    const into = glideTo(on('p1'), 'p2', 0, document);
    expect(away(at(into, 0, document))).toBe(true);
    expect(at(into, 0.5, document)).toEqual(shown.placements.wide);
    const out = glideTo(on('p2'), 'p1', 0, document);
    expect(at(out, 0, document)).toEqual(shown.placements.wide);
    expect(away(at(out, 0.5, document))).toBe(true);
    expect(layersAt(document, settled(out, 1, document), 'wide', 1)).toEqual([]);
  });

  test('a wipe uncovers in place; what is called back while it leaves comes from where it is', () => {
    const shown = layer(
      'one',
      0,
      {},
      { motion: { ...PLAIN_MOTION, enter: 'wipe', leave: 'slide', side: 'left' } },
    );
    const document = sampleDocument(
      scene,
      shown,
      pose('p1', [{ ...shown, visible: false }]),
      pose('p2', [shown]),
    );
    const into = glideTo(on('p1'), 'p2', 0, document);
    const [state] = layersAt(document, into, 'wide', 0.25);
    expect(state.wipe.right).toBeCloseTo(0.5);
    expect(state.placement).toEqual(shown.placements.wide);
    expect(isSeen(layersAt(document, into, 'wide', 0)[0])).toBe(false);
    const out = glideTo(on('p2'), 'p1', 0, document);
    const back = glideTo(out, 'p2', 0.3, document);
    expect(at(back, 0.3, document).cx).toBeCloseTo(at(out, 0.3, document).cx);
    expect(at(back, 0.8, document)).toEqual(shown.placements.wide);
  });

  test('words flow from one box into the other without a jump', () => {
    const words = layer(
      'one',
      0,
      { width: 400, height: 100 },
      {
        content: { type: 'text', text: 'Hut Nine', style: {} as never },
      },
    );
    const wide = { ...words, placements: { wide: { ...words.placements.wide!, width: 900 } } };
    const document = sampleDocument(scene, words, pose('p1', [words]), pose('p2', [wide]));
    const glide = glideTo(on('p1'), 'p2', 0, document);
    const layouts = (t: number) => layersAt(document, glide, 'wide', t)[0].layouts;
    expect(layouts(0)).toEqual([{ width: 400, height: 100, share: 1 }]);
    expect(layouts(0.25).map((l) => [l.width, Math.round(l.share * 100)])).toEqual([
      [400, 50],
      [900, 50],
    ]);
    expect(layouts(0.5)).toEqual([{ width: 900, height: 100, share: 1 }]);
  });
});

describe('between scenes', () => {
  const carry: Transition = { ...FADE, type: 'carry', easing: 'linear', seconds: 1 };
  const input = (id: string, sceneId: string, position: number, inputId: string, wide: Partial<Placement>) =>
    sampleLayer(id, sceneId, position, { wide, content: { type: 'input', inputId, fit: 'fill' } });
  const document = sampleDocument(
    scene,
    sampleScene('b', { transitionAfter: { a: carry } }),
    sampleScene('c', { transition: null }),
    sampleInput('cam'),
    sampleInput('game'),
    input('a-game', 'a', 0, 'game', {}),
    input('a-cam', 'a', 1, 'cam', { cx: 300 }),
    input('b-cam', 'b', 0, 'cam', { cx: 900 }),
    sampleLayer('b-title', 'b', 1, {}),
    sampleLayer('badge', null, 0, { wide: { cx: 1800 } }),
  );

  test('carry moves what both show, in the order of the scene coming on; the rest leaves and enters', () => {
    const onAir = takeScene(
      { sceneId: 'a', poseId: null, from: null },
      { sceneId: 'b', poseId: null },
      carry,
      5,
      document,
    );
    const middle = layersAt(document, onAir, 'wide', 5.5);
    expect(middle.map((l) => [l.layer.id, l.placement.cx, l.placement.opacity])).toEqual([
      ['a-game', 960, 0.5],
      ['b-cam', 600, 1],
      ['b-title', 960, 0.5],
      ['badge', 1800, 1],
    ]);
    const settledLayers = layersAt(document, settled(onAir, 7, document), 'wide', 7);
    expect(settledLayers).toEqual(arrangement(document, { sceneId: 'b', poseId: null }, 'wide'));
    expect(
      layersAt(document, onAir, 'wide', 5)
        .filter(isSeen)
        .map((l) => l.layer.id),
    ).toEqual(['a-game', 'b-cam', 'badge']);
  });

  test('a carry that is interrupted by another goes on from where it is', () => {
    const first = takeScene(
      { sceneId: 'a', poseId: null, from: null },
      { sceneId: 'b', poseId: null },
      carry,
      0,
      document,
    );
    const back = takeScene(first, { sceneId: 'a', poseId: null }, carry, 0.4, document);
    const cam = (of: OnAir, t: number) =>
      layersAt(document, of, 'wide', t).find(
        (l) => l.layer.content.type === 'input' && l.layer.content.inputId === 'cam',
      )!;
    expect(cam(back, 0.4).placement.cx).toBeCloseTo(cam(first, 0.4).placement.cx);
    expect(cam(back, 1.4).placement.cx).toBeCloseTo(300);
  });

  test('the pair has its way, then the scene, then the show', () => {
    expect(transitionFor(document, 'a', 'b')).toBe(carry);
    expect(transitionFor(document, 'c', 'b').type).toBe('cut');
    expect(transitionFor(document, 'a', 'c')).toEqual(FADE);
    expect(transitionFor(document, null, 'c')).toEqual(FADE);
  });

  test('a fade runs from 0 to 1, over one that is still going on; a cut is there at once', () => {
    const first = takeScene(null, { sceneId: 'a', poseId: null }, FADE, 10, document);
    expect(passageShare(first, 10)).toBe(1);
    const second = takeScene(first, { sceneId: 'b', poseId: null }, FADE, 20, document);
    expect(passageShare(second, 20)).toBe(0);
    expect(passageShare(second, 20.25)).toBeCloseTo(0.5);
    expect(passageShare(second, 20.5)).toBe(1);
    const third = takeScene(second, { sceneId: 'c', poseId: null }, FADE, 20.2, document);
    expect(third.from!.before.from!.before.sceneId).toBe('a');
    expect(
      takeScene(third, { sceneId: 'a', poseId: null }, { ...FADE, type: 'cut' }, 21, document).from,
    ).toBeNull();
    expect(
      takeScene(second, { sceneId: 'c', poseId: null }, FADE, 22, document).from!.before.from,
    ).toBeNull();
  });

  test('no more movements at once than anybody can follow', () => {
    let onAir = on('p1');
    for (let i = 0; i < 40; i++) onAir = glideTo(onAir, i % 2 ? 'p1' : 'p2', i * 0.01, show);
    let depth = 0;
    for (let o: OnAir | undefined = onAir; o; o = o.from?.before) depth += 1;
    expect(depth).toBeLessThanOrEqual(10);
  });
});

describe('mixing', () => {
  test('colours mix as CSS mixes them', () => {
    expect(mixColour('#000000', '#ffffff', 0.5)).toBe('#808080');
    expect(mixColour('#ff0000', '#0000ff00', 0.5)).toBe('#ff000080');
    expect(mixColour('#ff0000', '#00ff00', 0)).toBe('#ff0000');
  });

  test('turning goes the shorter way', () => {
    const turn = (from: number, to: number) =>
      mixPlacement(
        { ...placementOf('p1'), rotationDeg: from },
        { ...placementOf('p1'), rotationDeg: to },
        0.5,
      ).rotationDeg;
    expect(turn(170, -170)).toBeCloseTo(180);
    expect(turn(-350, 20)).toBeCloseTo(-345);
    expect(turn(10, 50)).toBeCloseTo(30);
  });

  test('nothing leaves its range, however far a spring goes', () => {
    fc.assert(
      fc.property(fc.double({ min: -1, max: 2, noNaN: true }), (share) => {
        const p = mixPlacement(
          { ...placementOf('p1'), crop: { left: 0.9, top: 0, right: 0, bottom: 0 } },
          { ...placementOf('p2'), width: 1 },
          share,
        );
        expect(p.width).toBeGreaterThanOrEqual(1);
        expect(p.opacity).toBeGreaterThanOrEqual(0);
        expect(p.opacity).toBeLessThanOrEqual(1);
        expect(p.cornerPx).toBeGreaterThanOrEqual(0);
        expect(p.crop.left).toBeLessThanOrEqual(0.99);
      }),
    );
  });
});

test('a scene without poses is as its layers are', () => {
  expect(posed(document0, 'a', null)).toBe(document0);
  expect(arrangement(document0, { sceneId: 'a', poseId: 'gone' }, 'wide')[0].placement).toEqual(
    base.placements.wide,
  );
  expect(WIDE.width).toBe(1920);
});
const document0 = sampleDocument(scene, base);

test('every stinger of the show is known by its file: the show’s own, the scenes’, and those of pairs', () => {
  const by = (assetId: string): Transition => ({
    ...FADE,
    type: 'stinger',
    stinger: { assetId, name: assetId, seconds: 1, coverSeconds: 0.5, sounds: false, gainDb: 0 },
  });
  const show = { ...sampleShow, transition: by('of-the-show') };
  const scenes = [
    sampleScene('a', { transition: by('of-a'), transitionAfter: { b: by('of-the-pair'), c: FADE } }),
    // What is chosen but not used, and a stinger without a file, are none.
    sampleScene('b', { transition: { ...by('unused'), type: 'fade' } }),
    sampleScene('c', { transition: { ...by('gone'), stinger: null } }),
  ];
  const stingers = stingersOf(documentOf([show, ...scenes]));
  expect([...stingers.keys()].sort()).toEqual(['of-a', 'of-the-pair', 'of-the-show']);
  expect(stingers.get('of-a')).toEqual(by('of-a').stinger);
  expect(stingersOf(documentOf([])).size).toBe(0);
});

test('a glide takes its pose’s time, or its scene’s, or that of a scene that is gone', () => {
  const glide = (seconds: number) => ({ seconds, easing: 'linear', staggerSeconds: 0 });
  const records = [
    sampleScene('a', { glide: glide(1.5) }),
    pose('p1', [], { glide: { ...glide(0.2) } }),
    pose('p2', []),
  ];
  const document = documentOf([sampleShow, ...records]);
  expect(glideSeconds({ sceneId: 'a', poseId: 'p1' }, document)).toBe(0.2);
  expect(glideSeconds({ sceneId: 'a', poseId: 'p2' }, document)).toBe(1.5);
  expect(glideSeconds({ sceneId: 'gone', poseId: null }, document)).toBe(0.5);
});

test('from grade to grade both are seen, the new one more and more; turned back, from what was seen most of', () => {
  const graded = (id: string, gradeId: string | null) =>
    pose(id, [base], {
      layers: { one: { visible: true, placements: base.placements, colour: null, gradeId } },
    });
  const camera = { ...base, content: { type: 'input' as const, inputId: 'cam', fit: 'fill' as const } };
  const document = sampleDocument(
    scene,
    camera,
    graded('p1', null),
    graded('p2', 'night'),
    graded('p3', 'day'),
  );
  const gradeAt = (onAir: OnAir, now: number) => {
    const { layer: seen, gradeFrom } = layersAt(document, onAir, 'wide', now)[0];
    return [seen.gradeId, gradeFrom?.gradeId, gradeFrom?.share];
  };
  const glide = glideTo(on('p1'), 'p2', 0, document);
  expect(gradeAt(on('p1'), 0)).toEqual([null, undefined, undefined]);
  expect(gradeAt(glide, 0)).toEqual(['night', null, 0]);
  expect(gradeAt(glide, 0.25)).toEqual(['night', null, expect.closeTo(0.5)]);
  expect(gradeAt(glide, 0.5)).toEqual(['night', undefined, undefined]);
  expect(gradeAt(glideTo(glide, 'p3', 0.1, document), 0.1).slice(0, 2)).toEqual(['day', null]);
  expect(gradeAt(glideTo(glide, 'p3', 0.4, document), 0.4).slice(0, 2)).toEqual(['day', 'night']);
});

describe('drawn by hand', () => {
  const document = sampleDocument(sampleScene('a'), sampleScene('b', { position: 1 }));
  const a: OnAir = { sceneId: 'a', poseId: null, from: null };
  const b = { sceneId: 'b', poseId: null };
  const to = (current: OnAir | null, share: number, transition: Transition = FADE) =>
    drawnTo(current, b, transition, share, 10, document);
  test('it is where the hand is, however long that takes, and back where it was at nothing', () => {
    const half = to(a, 0.5)!;
    expect(passageShare(half, 1e6)).toBe(0.5);
    expect(settled(half, 1e6, document)).toEqual(half);
    const further = to(half, 0.8)!;
    expect(passageShare(further, 0)).toBe(0.8);
    expect(further.from!.before).toEqual(a);
    expect(to(further, 0)).toEqual(a);
    expect(to(further, 1)).toEqual({ ...b, from: null });
  });
  test('cuts and stingers are drawn as a fade; to what is on already there is nothing to draw', () => {
    const cut: Transition = { ...FADE, type: 'cut', seconds: 0 };
    expect(to(a, 0.3, cut)!.from!.transition!.type).toBe('fade');
    const onB: OnAir = { ...b, from: null };
    expect(to(onB, 0.4)).toEqual(onB);
    expect(to(null, 0.4)).toEqual({ ...b, from: null });
  });
});
