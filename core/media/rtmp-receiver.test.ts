import { describe, expect, test } from 'vitest';
import { chunkMessage, MESSAGE } from './rtmp-chunks';
import { chunkMedia, RtmpPublisher } from './rtmp-publisher';
import { RtmpReceiver, type ReceiverEvent } from './rtmp-receiver';

/** A publisher and a receiver that talk to each other in pieces of a size. */
function talk(pieceBytes: number, accepts = true) {
  const publisher = new RtmpPublisher(
    { host: '127.0.0.1:1935', app: 'feed', key: 'abc?device=phone', secure: false },
    Math.random,
  );
  const receiver = new RtmpReceiver(Math.random);
  const events: ReceiverEvent[] = [];
  const refused: string[] = [];
  const pieces = (bytes: Uint8Array) =>
    Array.from({ length: Math.ceil(bytes.length / pieceBytes) }, (_, i) =>
      bytes.slice(i * pieceBytes, (i + 1) * pieceBytes),
    );
  const toReceiver = (bytes: Uint8Array): void => {
    for (const piece of pieces(bytes)) {
      const { send, events: came } = receiver.receive(piece);
      toPublisher(send);
      for (const event of came) {
        events.push(event);
        if (event.type === 'publish')
          toPublisher(accepts ? receiver.accept() : receiver.refuse('not this one'));
      }
    }
  };
  const toPublisher = (bytes: Uint8Array): void => {
    for (const piece of pieces(bytes)) {
      const { send, events: came } = publisher.receive(piece);
      for (const event of came) if (event.type === 'refused') refused.push(event.description);
      toReceiver(send);
    }
  };
  toReceiver(publisher.start());
  return { publisher, receiver, events, refused, toReceiver };
}

describe('one who receives', () => {
  test.each([1, 7, 1000, 1_000_000])('takes a publisher in, in pieces of %i bytes', (size) => {
    const { publisher, receiver, events, toReceiver } = talk(size);
    expect(publisher.state).toBe('live');
    expect(receiver.state).toBe('publishing');
    expect(events).toEqual([{ type: 'publish', app: 'feed', key: 'abc' }]);
    const body = Uint8Array.from({ length: 10_000 }, (_, i) => i & 0xff);
    toReceiver(chunkMedia('video', 20_000_000, publisher.messageStreamId, body));
    toReceiver(chunkMedia('audio', 5, publisher.messageStreamId, Uint8Array.of(0xaf, 1, 2)));
    expect(events.slice(1)).toEqual([
      { type: 'tag', tag: { kind: 'video', timestampMs: 20_000_000, body } },
      { type: 'tag', tag: { kind: 'audio', timestampMs: 5, body: Uint8Array.of(0xaf, 1, 2) } },
    ]);
    toReceiver(publisher.stop());
    expect(events.at(-1)).toEqual({ type: 'ended' });
  });

  test('before publishing only short words are listened to, and not for ever; afterwards whole pictures', () => {
    const { receiver, publisher, events, toReceiver } = talk(1_000_000);
    const picture = new Uint8Array(2_000_000);
    toReceiver(chunkMedia('video', 0, publisher.messageStreamId, picture));
    expect(events.at(-1)).toMatchObject({ tag: { body: { length: 2_000_000 } } });
    expect(receiver.state).toBe('publishing');

    const silent = new RtmpReceiver(Math.random);
    const hello = new Uint8Array(1 + 2 * 1536);
    hello[0] = 3;
    silent.receive(hello);
    expect(() => silent.receive(chunkMedia('video', 0, 1, new Uint8Array(100_000)))).toThrow(
      /over the limit of 65536/,
    );
    const talker = new RtmpReceiver(Math.random);
    talker.receive(hello);
    const payload = new Uint8Array(20_000);
    const word = chunkMessage({ type: MESSAGE.audio, timestampMs: 0, messageStreamId: 1, payload }, 6, 128);
    expect(() => {
      for (let i = 0; i < 20; i++) talker.receive(word);
    }).toThrow(/never publishes/);
  });

  test('sends one away with words, and takes nothing from it', () => {
    const { publisher, receiver, refused, events, toReceiver } = talk(100, false);
    expect(refused).toEqual(['not this one']);
    expect(publisher.state).toBe('closed');
    expect(receiver.state).toBe('closed');
    toReceiver(chunkMedia('video', 0, 1, Uint8Array.of(0x17, 1)));
    expect(events).toHaveLength(1);
  });

  test('takes no pictures from one that was not let in', () => {
    const receiver = new RtmpReceiver(Math.random);
    const hello = new Uint8Array(1 + 2 * 1536);
    hello[0] = 3;
    receiver.receive(hello);
    const { events } = receiver.receive(chunkMedia('video', 0, 1, Uint8Array.of(0x17, 1, 0)));
    expect(events).toEqual([]);
  });

  test('answers with as much as the protocol asks, from the first piece on', () => {
    const receiver = new RtmpReceiver(Math.random);
    const hello = new Uint8Array(1 + 1536).fill(9);
    hello[0] = 3;
    const { send } = receiver.receive(hello);
    expect(send.length).toBe(1 + 2 * 1536);
    // S2 is C1 again.
    expect(send.slice(1 + 1536)).toEqual(hello.slice(1));
  });

  test.each([
    ['another version', Uint8Array.of(6, 0, 0)],
    ['HTTP', new TextEncoder().encode('GET / HTTP/1.1\r\n')],
  ])('refuses %s', (_, bytes) => {
    expect(() => new RtmpReceiver(Math.random).receive(bytes)).toThrow(
      expect.objectContaining({ code: 'rtmp.handshake' }),
    );
  });
});
