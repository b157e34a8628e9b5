import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { MediaPacket } from '../../core/media/interleaver';
import { RecordingTracks } from './recording-tracks';

const FRAME_US = 21_333;
const sound = (stampUs: number, soundTrack: number): MediaPacket => ({
  ...{ track: 'audio', keyframe: true, durationUs: FRAME_US, soundTrack },
  timestampUs: stampUs,
  payload: Uint8Array.of(stampUs % 251, soundTrack),
});
const placesOf = (packets: readonly MediaPacket[], track: number) =>
  packets.filter((p) => p.soundTrack === track).map((p) => p.timestampUs);

test('every packet is recorded once, in its place, however early or late its encoder was', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: -20, max: 200 }), fc.integer({ min: -20, max: 200 })), {
        minLength: 1,
        maxLength: 60,
      }),
      (delays) => {
        // When which packet comes, in frames; packets of one encoder come one after the other.
        const coming: { at: number; order: number; packet: MediaPacket | null; frame: number }[] = [];
        const since = [0, 0];
        delays.forEach((delay, frame) => {
          coming.push({ at: frame, order: 1, packet: null, frame });
          [2, 3].forEach((track, i) => {
            since[i] = Math.max(since[i], frame + delay[i]);
            coming.push({ at: since[i], order: 0, packet: sound(frame * FRAME_US, track), frame });
          });
        });
        coming.sort((a, b) => a.at - b.at || a.order - b.order || a.frame - b.frame);
        const tracks = new RecordingTracks();
        const out = coming.flatMap(({ packet, frame }) =>
          packet
            ? tracks.add(packet, 'desk')
            : tracks.place(frame * FRAME_US, frame * FRAME_US + 5_000_000, 'desk'),
        );
        const wanted = delays.map((_, frame) => frame * FRAME_US + 5_000_000);
        for (const track of [2, 3]) expect(placesOf(out, track)).toEqual(wanted);
        for (const { payload, timestampUs, soundTrack } of out)
          expect([...payload]).toEqual([(timestampUs - 5_000_000) % 251, soundTrack]);
      },
    ),
  );
});

test('what comes after the silence that stood in for it does not put a track backwards', () => {
  const tracks = new RecordingTracks();
  expect(tracks.place(0, 100, 'desk')).toEqual([]);
  expect(placesOf(tracks.fill(sound(0, 1), 200, [2, 3]), 2)).toEqual([200]);
  expect(tracks.add(sound(0, 2), 'desk')).toEqual([]);
  expect(tracks.place(FRAME_US, 300, 'desk')).toEqual([]);
  expect(placesOf(tracks.add(sound(FRAME_US, 2), 'desk'), 2)).toEqual([300]);
});

test('a desk that begins anew has the same stamps, but other moments', () => {
  const tracks = new RecordingTracks();
  tracks.add(sound(FRAME_US, 2), 'first');
  tracks.place(0, 100, 'first');
  expect(tracks.add(sound(0, 2), 'second')).toEqual([]);
  expect(placesOf(tracks.place(0, 900, 'second'), 2)).toEqual([900]);
  expect(tracks.place(FRAME_US, 921, 'second')).toEqual([]);
});

test('what waits for ever is forgotten', () => {
  const tracks = new RecordingTracks();
  for (let i = 0; i < 2000; i++) tracks.add(sound(i * FRAME_US, 2), 'desk');
  expect(tracks.place(0, 0, 'desk')).toEqual([]);
  expect(tracks.place(1999 * FRAME_US, 5, 'desk')).toHaveLength(1);
});
