import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decodeAmf0, EcmaArray, encodeAmf0 } from './amf0';
import { nalTypes, parseAvcConfig } from './avc';
import { concatBytes } from './bytes';
import { aacFrame, avcFrame, onMetaData } from './flv-payload';
import { Interleaver, type MediaPacket } from './interleaver';
import { chunkMessage, ChunkReader, MESSAGE } from './rtmp-chunks';
import { chunkMedia, RtmpPublisher, type PublisherEvent } from './rtmp-publisher';

describe('AMF0', () => {
  test('keeps every value it can write', () => {
    const values = [
      'connect',
      1,
      { app: 'live', deep: { on: true, none: null } },
      null,
      [1, 'a'],
      'x'.repeat(70_000),
    ];
    expect(decodeAmf0(encodeAmf0(values))).toEqual(values);
    expect(decodeAmf0(encodeAmf0([new EcmaArray({ width: 640 })]))).toEqual([{ width: 640 }]);
  });
  test('names what is wrong with cut or strange bytes', () => {
    const whole = encodeAmf0(['publish', 5, { a: 1 }]);
    // Cut between two values the rest is still AMF0; elsewhere it must say so.
    for (let n = 1; n < whole.length; n++) {
      if (n === 10 || n === 19) continue;
      expect(() => decodeAmf0(whole.slice(0, n)), `cut at ${n}`).toThrow(/AMF0/);
    }
    expect(() => decodeAmf0(new Uint8Array([0x77]))).toThrow(/type 119/);
    expect(() => decodeAmf0(new Uint8Array(200).fill(0x0a))).toThrow(/AMF0/);
  });
  test('does not let a peer reach the prototype', () => {
    const out = decodeAmf0(
      encodeAmf0([JSON.parse('{"__proto__":{"evil":1}}') as { [key: string]: string }]),
    )[0];
    expect(({} as Record<string, unknown>).evil).toBeUndefined();
    expect(out).toBeTypeOf('object');
  });
});

describe('chunks', () => {
  const arbitrary = fc.record({
    type: fc.constantFrom(MESSAGE.audio, MESSAGE.video, MESSAGE.command),
    timestampMs: fc.oneof(fc.nat(0xfffffe), fc.integer({ min: 0xffffff, max: 0xffffffff })),
    messageStreamId: fc.nat(5),
    payload: fc.uint8Array({ maxLength: 900 }),
  });
  test('messages survive chunking, in pieces of any size', () => {
    fc.assert(
      fc.property(
        fc.array(arbitrary, { maxLength: 8 }),
        fc.integer({ min: 1, max: 300 }),
        (messages, piece) => {
          const bytes = concatBytes(messages.map((m, i) => chunkMessage(m, 3 + (i % 4), 128)));
          const reader = new ChunkReader(10_000);
          const got = [];
          for (let at = 0; at < bytes.length; at += piece)
            got.push(...reader.push(bytes.slice(at, at + piece)));
          expect(got).toEqual(messages.map((m) => ({ ...m })));
        },
      ),
      { seed: 11, numRuns: 150 },
    );
  });
  test('follows a new chunk size and refuses what is too long', () => {
    const reader = new ChunkReader(1000);
    const size = chunkMessage(
      {
        type: MESSAGE.setChunkSize,
        timestampMs: 0,
        messageStreamId: 0,
        payload: new Uint8Array([0, 0, 2, 0]),
      },
      2,
      128,
    );
    const message = {
      type: MESSAGE.video,
      timestampMs: 7,
      messageStreamId: 1,
      payload: new Uint8Array(500).fill(9),
    };
    expect(reader.push(concatBytes([size, chunkMessage(message, 6, 512)]))[1]).toEqual(message);
    const long = chunkMessage({ ...message, payload: new Uint8Array(1001) }, 6, 512);
    expect(() => reader.push(long)).toThrow(/limit of 1000/);
  });
  test('holds no more of begun messages than two whole ones, on no more chunk streams than an encoder uses', () => {
    /** The first chunk of a message of a thousand bytes. */
    const begun = (id: number) => {
      const payload = new Uint8Array(1000);
      return chunkMessage(
        { type: MESSAGE.video, timestampMs: 0, messageStreamId: 1, payload },
        id,
        128,
      ).slice(0, 140);
    };
    const reader = new ChunkReader(1000);
    for (let id = 4; id < 4 + 15; id++) expect(reader.push(begun(id))).toEqual([]);
    expect(() => reader.push(begun(30))).toThrow(/begun and not ended/);
    const many = new ChunkReader(1e6);
    for (let id = 4; id < 4 + 32; id++) many.push(begun(id));
    expect(() => many.push(begun(40))).toThrow(/more than 32 chunk streams/);
    // What is whole is forgotten: a long evening is no limit.
    const calm = new ChunkReader(1000);
    const whole = chunkMessage(
      { type: MESSAGE.video, timestampMs: 0, messageStreamId: 1, payload: new Uint8Array(900) },
      6,
      128,
    );
    for (let i = 0; i < 100; i++) expect(calm.push(whole)).toHaveLength(1);
  });
  test('says at once that something else is not RTMP', () => {
    expect(() => new ChunkReader(1000).push(new TextEncoder().encode('HTTP/1.1 400 Bad Request'))).toThrow(
      /not RTMP/,
    );
  });
});

/** A server as small as can be, for the publisher's side of the talk. */
function server(options: { refuse?: boolean } = {}) {
  let shaken = false;
  const reader = new ChunkReader(1e6);
  const commands: unknown[][] = [];
  const media: number[] = [];
  const say = (values: Parameters<typeof encodeAmf0>[0]) =>
    chunkMessage(
      { type: MESSAGE.command, timestampMs: 0, messageStreamId: 0, payload: encodeAmf0(values) },
      3,
      128,
    );
  return {
    commands,
    media,
    take(bytes: Uint8Array): Uint8Array {
      if (!shaken) {
        if (bytes.length < 1537) throw new Error('C0 and C1 come together');
        shaken = true;
        return concatBytes([new Uint8Array([3]), new Uint8Array(1536).fill(7), bytes.slice(1, 1537)]);
      }
      let rest = bytes;
      if (commands.length === 0 && bytes.length >= 1536) rest = bytes.slice(1536);
      const out: Uint8Array[] = [];
      for (const message of reader.push(rest)) {
        if (message.type === MESSAGE.video || message.type === MESSAGE.audio)
          media.push(message.payload.length);
        if (message.type !== MESSAGE.command) continue;
        const values = decodeAmf0(message.payload);
        commands.push(values);
        if (values[0] === 'connect')
          out.push(say(['_result', 1, {}, { code: 'NetConnection.Connect.Success' }]));
        if (values[0] === 'releaseStream')
          out.push(say(['_error', values[1] as number, null, { level: 'error', code: 'whatever' }]));
        if (values[0] === 'createStream') out.push(say(['_result', values[1] as number, null, 5]));
        if (values[0] === 'publish')
          out.push(
            options.refuse
              ? say([
                  'onStatus',
                  0,
                  null,
                  { level: 'error', code: 'NetStream.Publish.BadName', description: 'no such key' },
                ])
              : say(['onStatus', 0, null, { level: 'status', code: 'NetStream.Publish.Start' }]),
          );
      }
      return concatBytes(out);
    },
  };
}

function talk(peer: ReturnType<typeof server>, piece = Infinity) {
  const publisher = new RtmpPublisher({ host: 'h:1935', app: 'live', key: 'k', secure: false }, () => 0.5);
  const events: PublisherEvent[] = [];
  let toServer: Uint8Array = publisher.start();
  for (let turn = 0; turn < 8 && toServer.length > 0; turn++) {
    const answer = peer.take(toServer);
    const sent: Uint8Array[] = [];
    for (let at = 0; at < answer.length; at += piece) {
      const result = publisher.receive(answer.slice(at, Math.min(answer.length, at + piece)));
      sent.push(result.send);
      events.push(...result.events);
    }
    toServer = concatBytes(sent);
  }
  return { publisher, events };
}

describe('publisher', () => {
  test.each([Infinity, 100, 1])('comes live over pieces of %d bytes', (piece) => {
    const peer = server();
    const { publisher, events } = talk(peer, piece);
    expect(publisher.state).toBe('live');
    expect(publisher.messageStreamId).toBe(5);
    expect(peer.commands.map((c) => c[0])).toEqual([
      'connect',
      'releaseStream',
      'FCPublish',
      'createStream',
      'publish',
    ]);
    expect(peer.commands[0][2]).toMatchObject({ app: 'live', tcUrl: 'rtmp://h:1935/live' });
    expect(events.filter((e) => e.type === 'refused')).toEqual([]);
    peer.take(chunkMedia('video', 40, 5, avcFrame(new Uint8Array(9000), true)));
    peer.take(chunkMedia('audio', 41, 5, aacFrame(new Uint8Array(300))));
    expect(peer.media).toEqual([9005, 302]);
    peer.take(publisher.stop());
    expect(peer.commands.at(-1)![0]).toBe('deleteStream');
    expect(publisher.stop()).toHaveLength(0);
  });
  test('hands on why a server refused', () => {
    const { publisher, events } = talk(server({ refuse: true }));
    expect(publisher.state).toBe('closed');
    expect(events).toContainEqual({
      type: 'refused',
      code: 'NetStream.Publish.BadName',
      description: 'no such key',
    });
  });
  test('a web server is not taken for an ingest', () => {
    const publisher = new RtmpPublisher({ host: 'h', app: 'live', key: 'k', secure: false }, () => 0);
    publisher.start();
    expect(() => publisher.receive(new TextEncoder().encode('HTTP/1.1 400 Bad Request\r\n\r\n'))).toThrow(
      /not an RTMP server/,
    );
  });
  test('answers pings', () => {
    const { publisher } = talk(server());
    const ping = chunkMessage(
      {
        type: MESSAGE.userControl,
        timestampMs: 0,
        messageStreamId: 0,
        payload: new Uint8Array([0, 6, 0, 0, 1, 2]),
      },
      2,
      128,
    );
    const answer = new ChunkReader(100).push(publisher.receive(ping).send)[0];
    expect([...answer.payload]).toEqual([0, 7, 0, 0, 1, 2]);
  });
});

test('metadata is an array with the facts', () => {
  const [set, name, facts] = decodeAmf0(
    onMetaData({
      width: 640,
      height: 360,
      fps: 30,
      videoKbps: 1500,
      audioKbps: 128,
      sampleRate: 48000,
      channels: 2,
    }),
  );
  expect([set, name]).toEqual(['@setDataFrame', 'onMetaData']);
  expect(facts).toMatchObject({ width: 640, framerate: 30, audiosamplerate: 48000, stereo: true });
});

describe('H.264', () => {
  const config = new Uint8Array([1, 100, 0, 31, 0xff, 0xe1, 0, 3, 0x67, 1, 2, 1, 0, 2, 0x68, 9]);
  test('reads a configuration record and refuses damaged ones', () => {
    expect(parseAvcConfig(config)).toMatchObject({ profile: 100, level: 31, lengthBytes: 4 });
    for (let n = 0; n < config.length; n++) expect(() => parseAvcConfig(config.slice(0, n))).toThrow(/H.264/);
  });
  test('walks NAL units and refuses lengths that do not add up', () => {
    expect(nalTypes(new Uint8Array([0, 0, 0, 2, 0x65, 1, 0, 0, 0, 1, 0x06]))).toEqual([5, 6]);
    expect(() => nalTypes(new Uint8Array([0, 0, 0, 9, 0x65]))).toThrow(/does not fit/);
    expect(() => nalTypes(new Uint8Array([0, 0]))).toThrow(/ends inside/);
  });
});

test('interleaving: stamps never fall and nothing is lost', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.boolean(), fc.nat(30_000)), { maxLength: 80 }), (steps) => {
      const interleaver = new Interleaver();
      const next = { video: 0, audio: 0 };
      const out: MediaPacket[] = [];
      for (const [isVideo, delta] of steps) {
        const track = isVideo ? 'video' : 'audio';
        next[track] += delta;
        out.push(
          ...interleaver.add({
            track,
            timestampUs: next[track],
            durationUs: 1,
            keyframe: false,
            payload: new Uint8Array(0),
          }),
        );
      }
      out.push(...interleaver.flush());
      expect(out).toHaveLength(steps.length);
      for (const track of ['video', 'audio'] as const) {
        const stamps = out.filter((p) => p.track === track).map((p) => p.timestampUs);
        expect(stamps).toEqual([...stamps].sort((a, b) => a - b));
      }
    }),
    { seed: 5, numRuns: 200 },
  );
  const held = new Interleaver();
  const packet = (timestampUs: number): MediaPacket => ({
    track: 'video',
    timestampUs,
    durationUs: 1,
    keyframe: false,
    payload: new Uint8Array(0),
  });
  expect(held.add(packet(0))).toHaveLength(0);
  expect(held.add(packet(1_500_000))).toHaveLength(1); // no sound came: do not wait for ever
});
