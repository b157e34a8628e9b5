import fc from 'fast-check';
import { expect, test } from 'vitest';
import { ALL_ROOM, decideRoom, roomWords, type RecordingRoom } from './recording-room';

const RATE = 1e6;
const after = (...minutes: number[]) =>
  minutes.reduce((room, m) => decideRoom(m * 60 * RATE, RATE, room), ALL_ROOM);

test('less is recorded in order as the disk fills up, and more again with a margin', () => {
  const given = (room: RecordingRoom) => [room.tracks, room.clean];
  expect(given(after(40))).toEqual([true, true]);
  expect(given(after(40, 2.9))).toEqual([false, true]);
  expect(given(after(40, 2.9, 1.4))).toEqual([false, false]);
  // A little more room brings nothing back; twice as much does, the picture first.
  expect(given(after(1.4, 2.5))).toEqual([false, false]);
  expect(given(after(1.4, 3.1))).toEqual([false, true]);
  expect(given(after(1.4, 6.1))).toEqual([true, true]);
});

test('one that stopped begins again only where there is room for a minute', () => {
  expect(after(0.5).resume).toBe(false);
  expect(after(2).resume).toBe(true);
  // Nothing is known of the rate: a disk that has just been made free is enough, a full one is not.
  expect(decideRoom(40e6, 0, ALL_ROOM)).toMatchObject({ resume: false, tracks: true });
  expect(decideRoom(60e6, 0, ALL_ROOM).resume).toBe(true);
  expect(decideRoom(null, RATE, ALL_ROOM)).toEqual(ALL_ROOM);
});

test('it is said from half an hour on, with what is no longer recorded', () => {
  expect(roomWords(after(31))).toBe('');
  expect(roomWords(after(12))).toBe(
    'The disk is nearly full: recordings continue for 12 minutes. Free up space in Vault.',
  );
  expect(roomWords(after(1.2))).toContain(
    'for 1 minute. No longer recorded: the tracks beside the programme and the clean picture.',
  );
  expect(roomWords(after(0.4))).toContain('less than a minute');
});

test('whatever the disk does, the tracks go first and come back last', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(400), { maxLength: 60 }), (seconds) => {
      let room = ALL_ROOM;
      for (const s of seconds) {
        room = decideRoom(s * RATE, RATE, room);
        if (room.tracks) expect(room.clean).toBe(true);
      }
    }),
  );
});
