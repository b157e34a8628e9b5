/** What both ends of an RTMP connection say, word by word, as *RTMP* 1.0 §5.2, §5.4 and §7 have it. */
import { describe, expect, test } from 'vitest';
import { faultWords as fault } from '../fault-words';
import { decodeAmf0, encodeAmf0, type AmfValue } from './amf0';
import { concatBytes } from './bytes';
import { chunkMessage, ChunkReader, MESSAGE } from './rtmp-chunks';
import { chunkMedia, RtmpPublisher, type PublisherEvent } from './rtmp-publisher';
import { RtmpReceiver } from './rtmp-receiver';

const SHAKE = 1536;
const be32 = (value: number) => Uint8Array.of(value >>> 24, value >>> 16, value >>> 8, value);
const message = (type: number, payload: Uint8Array, chunkStream = 2) =>
  chunkMessage({ type, timestampMs: 0, messageStreamId: 0, payload }, chunkStream, 128);
const command = (...values: AmfValue[]) => message(MESSAGE.command, encodeAmf0(values), 3);
/** Everything in what was sent: commands in words, the rest as type and bytes. */
function told(bytes: Uint8Array, reader = new ChunkReader(1e6)): unknown[] {
  return reader
    .push(bytes)
    .map(({ type, payload, messageStreamId }) =>
      type === MESSAGE.command
        ? [messageStreamId, ...decodeAmf0(payload)]
        : `${type}: ${[...payload].join(' ')}`,
    );
}
const hello = (fill: number) => Uint8Array.of(3, ...new Uint8Array(SHAKE).fill(fill));

describe('one who publishes', () => {
  const TARGET = { host: 'larch.test', app: 'live', key: 'abc', secure: false };
  /** Shaken hands; what it sends from then on is read by `read`. */
  function shaken(target: Partial<typeof TARGET> | { key: null } = {}) {
    const publisher = new RtmpPublisher({ ...TARGET, ...target }, () => 0.5);
    publisher.start();
    const { send, events } = publisher.receive(concatBytes([hello(7), new Uint8Array(SHAKE)]));
    const reader = new ChunkReader(1e6);
    return {
      ...{ publisher, send, events, first: told(send.subarray(SHAKE), reader) },
      take: (...bytes: Uint8Array[]) => {
        const answer = publisher.receive(concatBytes(bytes));
        return { told: told(answer.send, reader), events: answer.events };
      },
      read: (bytes: Uint8Array) => told(bytes, reader),
    };
  }
  /** Publishing on stream 5. */
  function publishing() {
    const one = shaken();
    one.take(command('_result', 1, {}, {}));
    one.take(command('_result', 4, null, 5));
    return one;
  }

  test('begins with version, time, zeros and chance, once', () => {
    const publisher = new RtmpPublisher(TARGET, () => 0.5);
    expect(publisher.state).toBe('idle');
    const sent = publisher.start();
    expect(sent).toHaveLength(1 + SHAKE);
    expect([...sent.subarray(0, 10)]).toEqual([3, 0, 0, 0, 0, 0, 0, 0, 0, 128]);
    expect([...new Set(sent.subarray(9))]).toEqual([128]);
    expect(publisher.state).toBe('handshake');
    expect(() => publisher.start()).toThrow('start() is called once');
  });

  test('waits for the whole answer, and names one that is none', () => {
    const publisher = new RtmpPublisher(TARGET, () => 0);
    publisher.start();
    expect(publisher.receive(new Uint8Array(0))).toEqual({ send: new Uint8Array(0), events: [] });
    expect(publisher.receive(hello(1)).send).toHaveLength(0);
    expect(publisher.receive(new Uint8Array(SHAKE - 1)).send).toHaveLength(0);
    expect(publisher.receive(new Uint8Array(1)).send.length).toBeGreaterThan(SHAKE);
    const other = new RtmpPublisher(TARGET, () => 0);
    other.start();
    expect(fault(() => other.receive(Uint8Array.of(6)))).toBe(
      'rtmp.handshake: the server answered with 6 instead of RTMP version 3: not an RTMP server',
    );
  });

  test('echoes the server, tells its sizes, and connects', () => {
    const { send, events, first } = shaken();
    expect([...new Set(send.subarray(0, SHAKE))]).toEqual([7]);
    expect(events).toEqual([{ type: 'state', state: 'connecting' }]);
    expect(first).toEqual([
      expect.stringMatching(/^1: /),
      expect.stringMatching(/^5: /),
      [
        ...[0, 'connect', 1],
        {
          ...{ app: 'live', type: 'nonprivate', flashVer: 'FMLE/3.0 (compatible; Dolomite)' },
          tcUrl: 'rtmp://larch.test/live',
        },
      ],
    ]);
    expect(shaken({ secure: true }).first[2]).toMatchObject([
      0,
      'connect',
      1,
      { tcUrl: 'rtmps://larch.test/live' },
    ]);
  });

  test('asks for a stream, and publishes on the one it gets', () => {
    const one = shaken();
    expect(one.take(command('_result', 1, {}, {}))).toEqual({
      events: [{ type: 'state', state: 'creating' }],
      told: [
        [0, 'releaseStream', 2, null, 'abc'],
        [0, 'FCPublish', 3, null, 'abc'],
        [0, 'createStream', 4, null],
      ],
    });
    // Answers to what nobody waits for mean nothing.
    expect(one.take(command('_error', 2, null, { code: 'x' }), command('_result', 9, null, 8))).toEqual({
      events: [],
      told: [],
    });
    expect(one.take(command('_result', 4, null, 5))).toEqual({
      events: [{ type: 'state', state: 'publishing' }],
      told: [[5, 'publish', 5, null, 'abc', 'live']],
    });
    expect(one.publisher.messageStreamId).toBe(5);
    expect(one.take(command('onStatus', 0, null, { code: 'NetStream.Publish.Start' })).events).toEqual([
      { type: 'state', state: 'live' },
    ]);
    expect(one.read(one.publisher.stop())).toEqual([
      [0, 'FCUnpublish', 6, null, 'abc'],
      [0, 'deleteStream', 7, null, 5],
    ]);
    expect(one.publisher.state).toBe('closed');
    expect(one.publisher.stop()).toHaveLength(0);
    // Afterwards it hears nothing.
    expect(one.take(command('onStatus', 0, null, { code: 'NetStream.Publish.Start' })).events).toEqual([]);
  });

  test('that has not come so far says no goodbye; one that is about to publish does', () => {
    expect(shaken().publisher.stop()).toHaveLength(0);
    expect(publishing().publisher.stop().length).toBeGreaterThan(0);
  });

  test('without a key is content with the connection', () => {
    const { take } = shaken({ key: null });
    expect(take(command('_result', 1, {}, {}))).toEqual({
      events: [{ type: 'state', state: 'connected' }],
      told: [],
    });
  });

  test('a stream without a number is a fault', () => {
    const { take } = shaken();
    take(command('_result', 1, {}, {}));
    expect(fault(() => take(command('_result', 4, null, 'five')))).toBe(
      'rtmp.reply: the server created a stream without giving its number',
    );
  });

  test.each<[string, Uint8Array, Partial<PublisherEvent>]>([
    [
      'an error to what was asked',
      command('_error', 1, null, { code: 'a', description: 'b' }),
      { code: 'a', description: 'b' },
    ],
    [
      'a status of an error',
      command('onStatus', 0, null, { level: 'error', code: 'c' }),
      { code: 'c', description: '' },
    ],
    [
      'a name that is taken',
      command('onStatus', 0, null, { code: 'NetStream.Publish.BadName' }),
      { code: 'NetStream.Publish.BadName' },
    ],
    ['an error without words', command('_error', 1, null, null), { code: 'unknown', description: '' }],
    ['an error in a list', command('_error', 1, null, ['a']), { code: 'unknown', description: '' }],
    ['a goodbye', command('close', 0), { code: 'close', description: 'the server closed the connection' }],
  ])('%s is a refusal', (_, bytes, what) => {
    const { take, publisher } = shaken();
    expect(take(bytes).events).toEqual([
      expect.objectContaining({ type: 'refused', ...what }),
      { type: 'state', state: 'closed' },
    ]);
    expect(publisher.state).toBe('closed');
  });

  test('what is none is passed over', () => {
    const { take, publisher } = shaken();
    const harmless = [
      command('onStatus', 0, null, { level: 'status', code: 'NetStream.Play.Reset' }),
      command('_error', 'one', null, null),
      command('onBWDone', 0),
      command('_result', 'one', null, null),
    ];
    expect(take(...harmless)).toEqual({ events: [], told: [] });
    expect(publisher.state).toBe('connecting');
  });

  test('tells how much arrived when it has to, and hears how much did', () => {
    const { take } = shaken();
    const window = message(MESSAGE.windowAckSize, be32(4000));
    const all = 1 + 2 * SHAKE + window.length;
    expect(take(window).told).toEqual([]);
    // Up to the window, and then once.
    const filler = message(MESSAGE.audio, new Uint8Array(100), 6);
    const before = take(...Array.from({ length: 7 }, () => filler)).told;
    expect(before).toEqual([]);
    const sent = all + 7 * filler.length;
    expect(sent).toBeLessThan(4000);
    const rest = Array.from({ length: Math.ceil((4000 - sent) / filler.length) }, () => filler);
    const total = sent + rest.length * filler.length;
    expect(take(...rest).told).toEqual([`3: ${[...be32(total)].join(' ')}`]);
    expect(take(filler).told).toEqual([]);
    expect(take(message(MESSAGE.acknowledgement, be32(77))).events).toEqual([
      { type: 'acknowledged', bytes: 77 },
    ]);
    expect(
      take(
        message(MESSAGE.acknowledgement, be32(77).subarray(0, 3)),
        message(MESSAGE.windowAckSize, be32(1).subarray(0, 3)),
      ).events,
    ).toEqual([]);
  });

  test('answers a ping, asks with one, and hears the answer', () => {
    const { take, publisher, read } = shaken();
    const control = (kind: number, stamp: number, length = 6) =>
      message(MESSAGE.userControl, concatBytes([Uint8Array.of(0, kind), be32(stamp)]).subarray(0, length));
    expect(take(control(6, 258)).told).toEqual(['4: 0 7 0 0 1 2']);
    expect(take(control(7, 9)).events).toEqual([{ type: 'pong', stamp: 9 }]);
    expect(take(control(0, 1), control(6, 1, 5))).toEqual({ told: [], events: [] });
    expect(read(publisher.ping(258))).toEqual(['4: 0 6 0 0 1 2']);
  });

  test('fills the way with what means nothing', () => {
    const { publisher, read } = shaken();
    const filled = (bytes: number) => {
      const [[, name, , , dots]] = read(publisher.filler(bytes)) as [[number, string, number, null, string]];
      return [name, dots.length, new Set(dots).size];
    };
    expect(filled(300)).toEqual(['lineTest', 300, 1]);
    expect(filled(0)).toEqual(['lineTest', 1, 1]);
    expect(filled(100_000)).toEqual(['lineTest', 65_000, 1]);
  });
});

describe('one who receives', () => {
  function shaken() {
    const receiver = new RtmpReceiver(() => 0.5);
    receiver.receive(concatBytes([hello(9), new Uint8Array(SHAKE)]));
    const reader = new ChunkReader(1e6);
    return {
      receiver,
      read: (bytes: Uint8Array) => told(bytes, reader),
      take: (...bytes: Uint8Array[]) => {
        const answer = receiver.receive(concatBytes(bytes));
        return { told: told(answer.send, reader), events: answer.events };
      },
    };
  }

  test('greets as soon as it is greeted, and waits for the rest', () => {
    const receiver = new RtmpReceiver(() => 0.5);
    expect(receiver.receive(new Uint8Array(0)).send).toHaveLength(0);
    expect(receiver.receive(hello(9).subarray(0, SHAKE)).send).toHaveLength(0);
    const { send } = receiver.receive(Uint8Array.of(9));
    expect([...send.subarray(0, 10)]).toEqual([3, 0, 0, 0, 0, 0, 0, 0, 0, 128]);
    expect([...new Set(send.subarray(9, 1 + SHAKE))]).toEqual([128]);
    expect([...new Set(send.subarray(1 + SHAKE))]).toEqual([9]);
    expect(receiver.receive(new Uint8Array(SHAKE - 1)).send).toHaveLength(0);
    expect(receiver.state).toBe('handshake');
    receiver.receive(new Uint8Array(1));
    expect(receiver.state).toBe('connecting');
    expect(fault(() => new RtmpReceiver(() => 0).receive(Uint8Array.of(6)))).toBe(
      'rtmp.handshake: what came is not RTMP version 3',
    );
  });

  test('lets one in, word by word', () => {
    const { take, receiver, read } = shaken();
    expect(take(command('connect', 1, { app: '//feed/' })).told).toEqual([
      expect.stringMatching(/^1: /),
      '5: 0 38 37 160',
      '6: 0 38 37 160 2',
      [
        ...[0, '_result', 1, { fmsVer: 'FMS/3,0,1,123', capabilities: 31 }],
        {
          ...{ level: 'status', code: 'NetConnection.Connect.Success', description: 'connected' },
          objectEncoding: 0,
        },
      ],
    ]);
    expect(receiver.state).toBe('connected');
    expect(
      take(
        command('releaseStream', 2, null, 'k'),
        command('FCPublish', 3, null, 'k'),
        command('createStream', 4, null),
      ).told,
    ).toEqual([
      [0, '_result', 2, null, null],
      [0, '_result', 3, null, null],
      [0, '_result', 4, null, 1],
    ]);
    expect(receiver.accept()).toHaveLength(0);
    expect(take(command('publish', 5, null, 'k?a=b', 'live')).events).toEqual([
      { type: 'publish', app: 'feed', key: 'k' },
    ]);
    expect(receiver.state).toBe('asked');
    expect(take(command('publish', 6, null, 'other', 'live')).events).toEqual([]);
    expect(read(receiver.accept())).toEqual([
      '4: 0 0 0 0 0 1',
      [
        1,
        'onStatus',
        0,
        null,
        { level: 'status', code: 'NetStream.Publish.Start', description: 'publishing' },
      ],
    ]);
    expect(
      take(chunkMedia('audio', 3, 1, Uint8Array.of(0xaf, 1)), chunkMedia('video', 4, 1, new Uint8Array(0)))
        .events,
    ).toEqual([{ type: 'tag', tag: { kind: 'audio', timestampMs: 3, body: Uint8Array.of(0xaf, 1) } }]);
    for (const goodbye of ['FCUnpublish', 'deleteStream', 'closeStream']) {
      const other = shaken();
      other.take(command('connect', 1, { app: 'a' }), command('publish', 2, null, 'k'));
      other.receiver.accept();
      expect(other.take(command(goodbye, 7, null, 1)).events).toEqual([{ type: 'ended' }]);
      expect(other.take(command(goodbye, 8, null, 1)).events).toEqual([]);
      expect(other.receiver.state).toBe('connected');
    }
  });

  test('plays nothing, and says so; sends away with words', () => {
    const { take, receiver, read } = shaken();
    expect(take(command('play', 2, null, 'k')).told).toEqual([
      [
        1,
        'onStatus',
        0,
        null,
        { level: 'error', code: 'NetStream.Play.Failed', description: 'nothing is played from here' },
      ],
    ]);
    expect(read(receiver.refuse('wrong key'))).toEqual([
      [
        1,
        'onStatus',
        0,
        null,
        { level: 'error', code: 'NetStream.Publish.BadName', description: 'wrong key' },
      ],
    ]);
    expect(receiver.state).toBe('closed');
    expect(receiver.refuse('again')).toHaveLength(0);
    expect(take(command('connect', 1, { app: 'a' }))).toEqual({ told: [], events: [] });
  });

  test('takes names of any kind for what they are', () => {
    const publish = (asked: AmfValue, key: AmfValue) => {
      const { take } = shaken();
      return take(command('connect', 1, asked), command('publish', 2, null, key)).events;
    };
    expect(publish({ app: 'a/b' }, 'k')).toEqual([{ type: 'publish', app: 'a/b', key: 'k' }]);
    expect(publish({ app: 7 }, 8)).toEqual([{ type: 'publish', app: '', key: '' }]);
    expect(publish({}, 'k')).toEqual([{ type: 'publish', app: '', key: 'k' }]);
    expect(publish(null, 'k')).toEqual([{ type: 'publish', app: '', key: 'k' }]);
    expect(publish('feed', 'k')).toEqual([{ type: 'publish', app: '', key: 'k' }]);
    expect(shaken().take(command('createStream', 'four', null)).told).toEqual([[0, '_result', 0, null, 1]]);
  });

  test('tells how much arrived when it was asked to', () => {
    const { take } = shaken();
    const window = message(MESSAGE.windowAckSize, be32(4000));
    take(window, message(MESSAGE.windowAckSize, be32(1).subarray(0, 3)));
    const short = message(MESSAGE.windowAckSize, be32(1).subarray(0, 3)).length;
    const filler = message(MESSAGE.audio, new Uint8Array(100), 6);
    const sent = 1 + 2 * SHAKE + window.length + short;
    const count = Math.ceil((4000 - sent) / filler.length);
    expect(take(...Array.from({ length: count - 1 }, () => filler)).told).toEqual([]);
    expect(take(filler).told).toEqual([`3: ${[...be32(sent + count * filler.length)].join(' ')}`]);
    expect(take(filler).told).toEqual([]);
  });
});
