import { describe, expect, test } from 'vitest';
import { GUEST_LAYOUTS, guestScene, newSeat } from '../core/guests/guest-scene';
import { documentOf } from '../core/show/document';
import { sampleShow } from '../core/show/sample-show';
import { fromGuestSchema, plainName } from './guest';
import { checkRecords } from './record-schemas';

describe('a guest’s name', () => {
  test.each([
    ['  Ada   Lovelace ', 'Ada Lovelace'],
    ['two\nlines\tand tabs', 'two lines and tabs'],
    ['\u202Eevil\u2066 \u200Bhidden\uFEFF', 'evil hidden'],
    ['<b>Ada</b>', '<b>Ada</b>'],
    ['Žofie 山田', 'Žofie 山田'],
    ['\u0007\u200B', ''],
  ])('%j stands as %j', (name, plain) => expect(plainName(name)).toBe(plain));

  test('of ten thousand letters is cut, and never in the middle of one', () => {
    expect(plainName('x'.repeat(10_000))).toHaveLength(40);
    expect([...plainName('😀'.repeat(100))]).toHaveLength(40);
  });
});

describe('what a guest’s page may say', () => {
  const good = (value: unknown) => fromGuestSchema.validate(value, { convert: false }).error === undefined;
  const offer = { type: 'offer', round: 1, sdp: 'v=0' };
  test.each([
    { type: 'ready', name: 'Ada' },
    { type: 'self', muted: true, cameraOff: false, hand: false, problem: null },
    { type: 'signal', signal: offer },
    { type: 'signal', signal: { type: 'candidate', round: 2, candidate: null } },
    {
      type: 'signal',
      signal: { type: 'candidate', round: 2, candidate: { candidate: '', sdpMid: '0', sdpMLineIndex: 0 } },
    },
  ])('%j', (value) => expect(good(value)).toBe(true));

  test.each([
    null,
    'ready',
    {},
    { type: 'seat', seatId: 'other' },
    { type: 'press', press: { command: 'stop', params: {} } },
    { type: 'ready', name: 7 },
    { type: 'ready', name: 'Ada', seatId: 'other' },
    { type: 'self', muted: 'yes', cameraOff: false, hand: false, problem: null },
    { type: 'signal', signal: { ...offer, sdp: 'x'.repeat(30_000) } },
    { type: 'signal', signal: { ...offer, round: 0 } },
    { type: 'signal', signal: { ...offer, round: 1.5 } },
    { type: 'signal', signal: { type: 'candidate', round: 1, candidate: { candidate: 'x' } } },
    { type: 'signal', signal: { ...offer, type: 'rollback' } },
  ])('not %j', (value) => expect(good(value)).toBe(false));
});

test('a seat, its channel and every scene for guests can be kept', () => {
  let ids = 0;
  const newId = () => `id-${++ids}`;
  const seat = newSeat(documentOf([sampleShow]), newId);
  const document = documentOf([sampleShow, ...seat]);
  for (const layout of GUEST_LAYOUTS)
    expect(() => checkRecords([...seat, ...guestScene(document, layout, [seat[0]], newId)])).not.toThrow();
});
