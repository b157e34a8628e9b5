import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { MediaPacket } from '../../core/media/interleaver';
import { OPUS_SILENCE, OPUS_SILENCE_US } from '../../core/media/opus';
import { RecordingTracks } from './recording-tracks';

const FRAME_US = 21_333;
const sound = (stampUs: number, soundTrack: number): MediaPacket => ({
  ...{ track: 'audio', keyframe: true, durationUs: FRAME_US, soundTrack },
  timestampUs: stampUs,
  payload: Uint8Array.of(stampUs % 251, soundTrack),
});
const AAC_TRACKS = [2, 3].map((track) => ({ track, codec: 'mp4a.40.2' }));
const placesOf = (packets: readonly MediaPacket[], track: number) =>
  packets.filter((p) => p.soundTrack === track).map((p) => p.timestampUs);

test('every packet is recorded once, in its place, however early or late its encoder was', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: -20, max: 200 }), fc.integer({ min: -20, max: 200 })), {
        minLength: 2,
        maxLength: 60,
      }),
      fc.integer({ min: 0, max: OPUS_SILENCE_US - 1 }),
      (delays, shiftUs) => {
        // One track with packets as long as the programme's, one with shorter ones that begin elsewhere.
        const stamps = (frame: number) => [frame * FRAME_US, frame * OPUS_SILENCE_US + shiftUs];
        // When which packet comes, in frames; packets of one encoder come one after the other.
        const coming: { at: number; order: number; packet: MediaPacket | null; frame: number }[] = [];
        const since = [0, 0];
        delays.forEach((delay, frame) => {
          coming.push({ at: frame, order: 1, packet: null, frame });
          [2, 3].forEach((track, i) => {
            since[i] = Math.max(since[i], frame + delay[i]);
            coming.push({ at: since[i], order: 0, packet: sound(stamps(frame)[i], track), frame });
          });
        });
        coming.sort((a, b) => a.at - b.at || a.order - b.order || a.frame - b.frame);
        const tracks = new RecordingTracks();
        const out = coming.flatMap(({ packet, frame }) =>
          packet
            ? tracks.add(packet, 'desk')
            : tracks.place(frame * FRAME_US, frame * FRAME_US + 5_000_000, 'desk'),
        );
        // What lies after the programme's last packet waits for its next one.
        const end = (delays.length - 1) * FRAME_US;
        for (const i of [0, 1])
          expect(placesOf(out, i + 2)).toEqual(
            delays
              .map((_, frame) => stamps(frame)[i])
              .filter((at) => at <= end)
              .map((at) => at + 5_000_000),
          );
        for (const { payload, timestampUs, soundTrack } of out)
          expect([...payload]).toEqual([(timestampUs - 5_000_000) % 251, soundTrack]);
      },
    ),
  );
});

test('under the cover Opus tracks are silent without a gap, and go on where the desk is back', () => {
  const tracks = new RecordingTracks();
  const opus = [{ track: 2, codec: 'opus' }];
  const out: MediaPacket[] = [];
  for (let i = 0; i < 10; i++) {
    out.push(...tracks.add({ ...sound(i * OPUS_SILENCE_US, 2), durationUs: OPUS_SILENCE_US }, 'desk'));
    out.push(...tracks.place(i * FRAME_US, i * FRAME_US, 'desk'));
  }
  for (let i = 0; i < 100; i++) out.push(...tracks.fill(sound(0, 1), 400_000 + i * FRAME_US, opus));
  for (let i = 0; i < 10; i++) {
    const stamp = 5_000_000 + i * OPUS_SILENCE_US;
    out.push(...tracks.add({ ...sound(stamp, 2), durationUs: OPUS_SILENCE_US }, 'desk'));
    out.push(...tracks.place(5_000_000 + i * FRAME_US, 2_600_000 + i * FRAME_US, 'desk'));
  }
  const places = placesOf(out, 2);
  const steps = places.slice(1).map((at, i) => at - places[i]);
  expect(out.filter(({ payload }) => payload === OPUS_SILENCE).length).toBeGreaterThan(100);
  expect(Math.min(...steps)).toBeGreaterThanOrEqual(OPUS_SILENCE_US - 2000);
  // Where the desk went, where the cover began and where it came back lies less than a frame of each.
  expect(steps.filter((step) => step > OPUS_SILENCE_US + 1)).toHaveLength(2);
  expect(Math.max(...steps)).toBeLessThan(250_000);
});

test('what comes after the silence that stood in for it does not put a track backwards', () => {
  const tracks = new RecordingTracks();
  expect(tracks.place(0, 100, 'desk')).toEqual([]);
  expect(placesOf(tracks.fill(sound(0, 1), 200, AAC_TRACKS), 2)).toEqual([200]);
  expect(tracks.add(sound(0, 2), 'desk')).toEqual([]);
  expect(tracks.place(FRAME_US, 200 + FRAME_US, 'desk')).toEqual([]);
  expect(placesOf(tracks.add(sound(FRAME_US, 2), 'desk'), 2)).toEqual([200 + FRAME_US]);
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
