import { describe, expect, test } from 'vitest';
import { intersects } from '../geometry/rect';
import { documentOf, recordsOf } from '../show/document';
import { sampleInput, sampleScene, sampleShow, TALL, WIDE } from '../show/sample-show';
import { fieldOfSeat, GUEST_LAYOUTS, guestPlaces, guestScene, newSeat } from './guest-scene';
import { seatsOf } from './seats';

let ids = 0;
const newId = () => `id-${++ids}`;

describe.each(GUEST_LAYOUTS)('layout %s', (layout) => {
  test.each([1, 2, 3, 4, 5, 6, 7, 8, 9])('%d people stand inside both frames', (count) => {
    for (const frame of [WIDE, TALL]) {
      const places = guestPlaces(layout, count, frame);
      expect(places).toHaveLength(count);
      for (const { x, y, width, height } of places) {
        expect(Math.min(x, y)).toBeGreaterThanOrEqual(0);
        expect(x + width).toBeLessThanOrEqual(frame.width + 1);
        expect(y + height).toBeLessThanOrEqual(frame.height + 1);
        expect(Math.min(width, height)).toBeGreaterThan(50);
      }
      // Over the first one's ground the others stand side by side; elsewhere nobody covers anybody.
      const apart = layout === 'strip' ? places.slice(1) : places;
      apart.forEach((one, i) =>
        apart.slice(i + 1).forEach((other) => expect(intersects(one, other)).toBe(false)),
      );
    }
  });
});

test('a seat comes with a voice’s channel, numbered; names of seats become fields', () => {
  let document = documentOf([sampleShow]);
  const first = newSeat(document, newId);
  document = documentOf([sampleShow, ...first]);
  const second = newSeat(document, newId);
  expect([first[0].name, second[0].name]).toEqual(['Guest 1', 'Guest 2']);
  expect(first[1]).toMatchObject({
    kind: 'channel',
    name: 'Guest 1',
    role: 'voice',
    source: { type: 'input', inputId: first[0].id },
    heard: 'always',
  });
  expect(fieldOfSeat('Guest 1')).toBe('Guest-1');
  expect(fieldOfSeat('  Köchin & Koch!  ')).toMatch(/^[\w-]{1,40}$/);
  expect(fieldOfSeat('…')).toBe('Guest');
});

test('a scene for them has the host, each seat and each name, in both frames', () => {
  const camera = sampleInput('camera', {
    source: { type: 'simulated', picture: 'desk-camera' },
  });
  const base = documentOf([
    sampleShow,
    camera,
    sampleScene('s'),
    ...newSeat(documentOf([sampleShow]), newId),
  ]);
  const document = documentOf([...base.values(), ...newSeat(base, newId)]);
  const records = guestScene(document, 'firstLarge', seatsOf(document), newId);
  const made = documentOf(records);
  const layers = recordsOf(made, 'layer');
  expect(layers.map(({ name }) => name)).toEqual([
    camera.name,
    'Guest 1',
    'Guest 2',
    'Name of Guest 1',
    'Name of Guest 2',
  ]);
  expect(new Set(layers.map(({ sceneId }) => sceneId))).toEqual(new Set([records[0].id]));
  for (const { placements } of layers) expect(Object.keys(placements).sort()).toEqual(['tall', 'wide']);
  expect(layers[3].content).toMatchObject({ type: 'text', text: '{{Guest-1}}' });
  // Until somebody comes the field holds the seat's name; what stands there already stays.
  expect(recordsOf(made, 'show')[0].fields).toMatchObject({ 'Guest-1': 'Guest 1', 'Guest-2': 'Guest 2' });
  const named = documentOf([
    ...document.values(),
    { ...sampleShow, fields: { 'Guest-1': 'Ada', 'Guest-2': 'Ben' } },
  ]);
  expect(recordsOf(documentOf(guestScene(named, 'grid', seatsOf(named), newId)), 'show')).toEqual([]);
});
