import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Rect } from '../geometry/rect';
import { FADE, SIDES, TRANSITIONS, type Transition } from '../show/motion-records';
import { pictureChange } from './picture-change';

const SIZE = { width: 640, height: 360 };
const change = (part: Partial<Transition>, share: number) => pictureChange({ ...FADE, ...part }, share, SIZE);

/** How much of a point of the frame shows the picture that comes, 0…1; null where a veil of its own hides it. */
function comes(part: Partial<Transition>, share: number, x: number, y: number): number {
  const { incoming } = change(part, share);
  if (!incoming) return 0;
  const within = (r: { x: number; y: number; width: number; height: number }) =>
    x >= r.x && x < r.x + r.width && y >= r.y && y < r.y + r.height;
  return within(incoming.rect) && (!incoming.clip || within(incoming.clip)) ? incoming.opacity : 0;
}

const closeTo = (value: number) => expect.closeTo(value) as number;
/** Without negative zeros. */
const plain = ({ x, y, width, height }: Rect) => ({ x: x + 0, y: y + 0, width, height });

describe('whole pictures', () => {
  test.each(TRANSITIONS)('%s shows only the one at the start and only the other at the end', (type) => {
    expect(change({ type }, 0)).toEqual({ outgoing: null, incoming: null, veil: null });
    expect(change({ type }, 1)).toEqual({
      outgoing: null,
      incoming: { rect: { x: 0, y: 0, ...SIZE }, opacity: 1, clip: null },
      veil: null,
    });
  });

  test('what has come does not go again, at any point of the picture, from any side', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('fade', 'wipe', 'slide', 'zoom', 'dip'),
        fc.constantFrom(...SIDES),
        fc.nat(639),
        fc.nat(359),
        fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })),
        (type, side, x, y, [a, b]) => {
          const [early, late] = [Math.min(a, b), Math.max(a, b)];
          expect(comes({ type, side }, late, x, y)).toBeGreaterThanOrEqual(
            comes({ type, side }, early, x, y) - 1e-9,
          );
        },
      ),
    );
  });

  test('a wipe uncovers from its side; a slide pushes the other out; a dip is all colour in the middle', () => {
    expect(change({ type: 'wipe', side: 'right' }, 0.25).incoming!.clip).toEqual({
      x: 480,
      y: 0,
      width: 160,
      height: 360,
    });
    const slide = change({ type: 'slide', side: 'top' }, 0.5);
    expect(slide.incoming!.rect.y).toBe(-180);
    expect(slide.outgoing!.y).toBe(180);
    expect(change({ type: 'dip', colour: '#ff00ff' }, 0.5).veil).toEqual({ colour: '#ff00ff', opacity: 1 });
    expect(change({ type: 'dip' }, 0.25).incoming).toBeNull();
  });

  test.each([
    ['left', { x: 0, y: 0, width: 160, height: 360 }],
    ['right', { x: 480, y: 0, width: 160, height: 360 }],
    ['top', { x: 0, y: 0, width: 640, height: 90 }],
    ['bottom', { x: 0, y: 270, width: 640, height: 90 }],
  ] as const)('a quarter of a wipe from %s', (side, clip) => {
    expect(change({ type: 'wipe', side }, 0.25)).toEqual({
      outgoing: null,
      incoming: { rect: { x: 0, y: 0, ...SIZE }, opacity: 1, clip },
      veil: null,
    });
  });

  test.each([
    ['left', [160, 0], [-480, 0]],
    ['right', [-160, 0], [480, 0]],
    ['top', [0, 90], [0, -270]],
    ['bottom', [0, -90], [0, 270]],
  ] as const)('a quarter of a slide from %s', (side, [ox, oy], [ix, iy]) => {
    const { outgoing, incoming, veil } = change({ type: 'slide', side }, 0.25);
    const at = (x: number, y: number) => ({ x: x + 0, y: y + 0, ...SIZE });
    expect(plain(outgoing!)).toEqual(at(ox, oy));
    expect(plain(incoming!.rect)).toEqual(at(ix, iy));
    expect(incoming).toMatchObject({ opacity: 1, clip: null });
    expect(veil).toBeNull();
  });

  test('a zoom grows out of the middle while it becomes seen; fades and what carries do so in place', () => {
    expect(change({ type: 'zoom' }, 0.5)).toEqual({
      outgoing: null,
      incoming: {
        rect: { x: closeTo(48), y: closeTo(27), width: closeTo(544), height: closeTo(306) },
        opacity: 0.5,
        clip: null,
      },
      veil: null,
    });
    for (const type of ['cut', 'carry', 'fade'] as const)
      expect(change({ type }, 0.25)).toEqual({
        outgoing: null,
        incoming: { rect: { x: 0, y: 0, ...SIZE }, opacity: 0.25, clip: null },
        veil: null,
      });
  });

  test('a dip is covered as much before its middle as after it', () => {
    const at = (share: number) => change({ type: 'dip', colour: '#102030' }, share);
    expect(at(0.25)).toEqual({ outgoing: null, incoming: null, veil: { colour: '#102030', opacity: 0.5 } });
    expect(at(0.75).veil).toEqual({ colour: '#102030', opacity: 0.5 });
    expect(at(0.5).incoming).toEqual({ rect: { x: 0, y: 0, ...SIZE }, opacity: 1, clip: null });
  });

  test('under a stinger the scene changes at its moment, not before; without a clip it is a fade', () => {
    const stinger = {
      assetId: 'a',
      name: 'Points',
      seconds: 1.2,
      coverSeconds: 0.6,
      sounds: false,
      gainDb: 0,
    };
    const at = (share: number) => change({ type: 'stinger', seconds: 1.2, stinger }, share).incoming;
    expect([at(0.3), at(0.49)]).toEqual([null, null]);
    expect(at(0.5)).toMatchObject({ opacity: 1, clip: null });
    expect(change({ type: 'stinger' }, 0.5).incoming!.opacity).toBe(0.5);
  });
});
