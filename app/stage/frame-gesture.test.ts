import { describe, expect, test } from 'vitest';
import { fullPlacement, type Placement } from '~/core/show/records';
import { dragged, dragName, type Drag, type DragKeys, type Grip } from './frame-gesture';

const frame = { width: 1920, height: 1080 };
const at = { x: 0, y: 0 };
const none: DragKeys = { shift: false, alt: false, crop: false };
const placed = (more: Partial<Placement> = {}): Placement => ({
  ...fullPlacement(frame),
  cx: 400,
  cy: 300,
  width: 320,
  height: 180,
  ...more,
});
const drag = (grip: Grip, more: Partial<Drag> = {}): Drag => ({
  grip,
  frame,
  others: [],
  layers: [
    {
      id: 'a',
      placement: placed(),
      keepsShape: true,
      picture: { size: { width: 16, height: 9 }, fit: 'fill' },
    },
  ],
  ...more,
});
const first = (d: Drag, dx: number, dy: number, keys = none, reach = 20) =>
  dragged(d, dx, dy, at, reach, keys).placements.get('a')!;

describe('a drag', () => {
  test('moves and snaps to the edge; with Alt it does not snap', () => {
    // The left edge stands at 240: 230 to the left is 10 away from the frame's edge.
    expect(first(drag({ type: 'move' }), -230, 0).cx).toBe(160);
    expect(first(drag({ type: 'move' }), -230, 0, { ...none, alt: true }).cx).toBe(170);
  });

  test('resizes in shape; with Shift freely; boxes the other way round', () => {
    const east: Grip = { type: 'handle', handle: 'e' };
    const shape = (p: Placement) => p.width / p.height;
    expect(shape(first(drag(east), 100, 0, none, 0))).toBeCloseTo(16 / 9);
    expect(first(drag(east), 100, 0, { ...none, shift: true }, 0).height).toBe(180);
    const box = drag(east, { layers: [{ id: 'a', placement: placed(), keepsShape: false, picture: null }] });
    expect(first(box, 100, 0, none, 0).height).toBe(180);
  });

  test('crops an edge with Ctrl; what cannot be cropped is resized', () => {
    const east: Grip = { type: 'handle', handle: 'e' };
    const keys = { ...none, crop: true };
    expect(first(drag(east), -80, 0, keys)).toMatchObject({ width: 240, crop: { right: 0.25 } });
    const box = drag(east, { layers: [{ id: 'a', placement: placed(), keepsShape: false, picture: null }] });
    expect(first(box, -80, 0, keys, 0)).toMatchObject({ width: 240, crop: { right: 0 } });
  });

  test('rounds and turns', () => {
    expect(first(drag({ type: 'corner' }), 30, 30).cornerPx).toBe(30);
    const turned = dragged(drag({ type: 'turn' }), 0, 0, { x: 900, y: 300 }, 9, none).placements.get('a')!;
    expect(turned.rotationDeg).toBe(90);
  });

  test('moves and scales several together', () => {
    const two = drag(
      { type: 'move' },
      {
        layers: [
          { id: 'a', placement: placed(), keepsShape: true, picture: null },
          { id: 'b', placement: placed({ cx: 900 }), keepsShape: true, picture: null },
        ],
      },
    );
    const moved = dragged(two, 100, 50, at, 0, none).placements;
    expect([moved.get('a')!.cx, moved.get('b')!.cx]).toEqual([500, 1000]);
    const scaled = dragged(
      { ...two, grip: { type: 'handle', handle: 'se' } },
      820,
      180,
      at,
      0,
      none,
    ).placements;
    expect(scaled.get('b')).toMatchObject({ width: 640, height: 360 });
  });

  test('shows how far it is from the nearest side', () => {
    const { distances } = dragged(drag({ type: 'move' }), 0, 0, at, 0, none);
    expect(distances.map((d) => [d.axis, Math.round(d.to - d.from)])).toEqual([
      ['x', 240],
      ['y', 210],
    ]);
  });

  test('has a name for the list of steps', () => {
    expect(dragName({ type: 'move' }, none)).toBe('Move');
    expect(dragName({ type: 'handle', handle: 'e' }, { ...none, crop: true })).toBe('Crop');
    expect(dragName({ type: 'turn' }, none)).toBe('Turn');
  });
});
