import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Fault } from '../core/fault';
import {
  type ConfigMessage,
  decodeDeskMessage,
  decodeRelayMessage,
  encodeDeskMessage,
  encodeRelayMessage,
  type DeskMessage,
  type RelayMessage,
} from './uplink';

const messages: DeskMessage[] = [
  { type: 'hello', version: 2, sessionId: 's', ticket: 't', source: 'x' },
  { type: 'bye' },
  { type: 'coverEnd', encode: 'tall' },
  {
    type: 'config',
    cover: false,
    track: 'video',
    encode: 'tall',
    facts: { codec: 'avc1.64001f', width: 640, height: 360, fps: 30, kbps: 1500 },
    codecConfig: new Uint8Array([1, 2, 3]),
  },
  {
    type: 'config',
    cover: true,
    track: 'audio',
    facts: {
      codec: 'mp4a.40.2',
      sampleRate: 48000,
      channels: 2,
      kbps: 128,
      soundTrack: 1,
      name: 'Programme',
      tracksBeside: 0,
    },
    codecConfig: new Uint8Array([17, 144]),
  },
  {
    type: 'packet',
    sequence: 7,
    cover: true,
    encode: 'wide',
    packet: {
      track: 'audio',
      timestampUs: 2 ** 40,
      durationUs: 21_333,
      keyframe: true,
      payload: new Uint8Array([9, 8]),
    },
  },
  {
    type: 'packet',
    sequence: 8,
    cover: false,
    encode: 'wide',
    packet: {
      track: 'audio',
      soundTrack: 6,
      timestampUs: 5,
      durationUs: 21_333,
      keyframe: true,
      payload: new Uint8Array([1]),
    },
  },
];

describe('desk messages', () => {
  test.each(messages.map((m) => [m.type, m] as const))('%s comes back as it was', (_type, message) => {
    expect(decodeDeskMessage(encodeDeskMessage(message))).toEqual(message);
  });
  test('cut messages are refused with a reason, never half read', () => {
    for (const message of messages) {
      const bytes = encodeDeskMessage(message);
      // Contents may be shorter; everything before them may not.
      const shortest =
        message.type === 'packet'
          ? 22
          : message.type === 'config'
            ? bytes.length - message.codecConfig.length + 2
            : bytes.length;
      for (let n = 0; n < shortest; n++)
        expect(() => decodeDeskMessage(bytes.slice(0, n)), `${message.type} cut at ${n}`).toThrow(Fault);
    }
  });
  test.each([1, 7, 255])('recording track %d does not exist', (track) => {
    const bytes = encodeDeskMessage(messages.at(-1)!);
    bytes[19] = track;
    expect(() => decodeDeskMessage(bytes)).toThrow(Fault);
  });
  test.each([
    ['opus', 2, true],
    ['mp4a.40.2', 2, true],
    ['opus', 1, false],
    ['flac', 2, false],
  ])('sound in %s on track %d: %s', (codec, soundTrack, taken) => {
    const sound = messages.find((m) => m.type === 'config' && m.track === 'audio') as ConfigMessage;
    const bytes = encodeDeskMessage({
      ...sound,
      facts: { ...sound.facts, codec, soundTrack },
    } as ConfigMessage);
    if (taken) expect(decodeDeskMessage(bytes)).toMatchObject({ facts: { codec, soundTrack } });
    else expect(() => decodeDeskMessage(bytes)).toThrow('sound of track');
  });
  test('garbage is refused as garbage', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), (bytes) => {
        try {
          decodeDeskMessage(bytes);
        } catch (error) {
          expect(error).toBeInstanceOf(Fault);
          expect((error as Fault).code).toBe('uplink.garbage');
        }
      }),
      { seed: 3, numRuns: 2000 },
    );
  });
});

test('relay messages come back as they were', () => {
  const all: RelayMessage[] = [
    { type: 'welcome', lastSequence: 12, fresh: true },
    { type: 'ack', sequence: 4_000_000_000 },
    { type: 'refuse', code: 'uplink.ticket', message: 'no' },
  ];
  for (const message of all) expect(decodeRelayMessage(encodeRelayMessage(message))).toEqual(message);
  expect(() => decodeRelayMessage(new Uint8Array([17, 0]))).toThrow(Fault);
});
