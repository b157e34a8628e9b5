import net from 'node:net';
import { fileTypeFromBuffer } from 'file-type';
import { afterEach, describe, expect, test } from 'vitest';
import { EVENT_TYPES } from '../../core/audience/events';
import { cloudEventJson, parseCloudEvent } from '../../protocol/cloud-events';
import { seededRandom } from '../inputs/random';
import { emotesIn, makeChat, makeEvent, scriptedEvening, storm } from './chatters';
import { EMOTE_NAMES, emotePng } from './emotes';
import { LineShaper } from './line-shaper';

describe('the scripted evening', () => {
  const take = (seed: number, count: number) => {
    const lines = scriptedEvening(seed);
    return Array.from({ length: count }, () => lines.next().value!);
  };
  test('is the same for the same seed and another for another', () => {
    expect(take(9, 40)).toEqual(take(9, 40));
    expect(take(9, 40)).not.toEqual(take(23, 40));
  });
  test('says everything once before it says anything again, and something happens now and then', () => {
    const evening = take(9, 160);
    const said = evening.filter((l) => l.what === 'chat').map((l) => l.data.text);
    expect(new Set(said.slice(0, 12)).size).toBe(12);
    expect(evening.filter((l) => l.what !== 'chat').length).toBeGreaterThan(8);
    for (const line of evening) expect(line.wait).toBeGreaterThan(1);
  });
});

describe('what the platforms send', () => {
  test('everything a stand-in can make is understood by the studio', () => {
    const random = seededRandom(11);
    for (let i = 0; i < 400; i++)
      for (const { what, data } of [
        ...EVENT_TYPES.map((type) => makeEvent(type, random)),
        makeChat('a', ':bell: hi :nobody:'),
      ]) {
        const kind = what === 'chat' ? 'chat.message' : what;
        if (kind === 'other') continue;
        const event = parseCloudEvent('larch', cloudEventJson('//larch', 'x', kind, 5000, data), 9000);
        expect(event?.type).toBe(what);
      }
  });
  test('a storm is the same for the same seed, and as much chat as it is told', () => {
    const take = (seed: number, share: number) => [...storm(seed, 500, share)];
    expect(take(3, 0.6)).toEqual(take(3, 0.6));
    expect(take(3, 0).every((h) => h.what !== 'chat')).toBe(true);
    expect(take(3, 1).every((h) => h.what === 'chat')).toBe(true);
  });
  test('emotes are pictures, one of them moving; places in a text are right', async () => {
    for (const name of EMOTE_NAMES) {
      const kind = await fileTypeFromBuffer(emotePng(name)!);
      expect(kind?.mime).toBe(name === 'lantern' ? 'image/apng' : 'image/png');
    }
    expect(emotePng('constructor')).toBeNull();
    expect(emotesIn('é :bell: and :nobody: :snow:')).toEqual([
      { from: 2, to: 8, id: 'bell' },
      { from: 22, to: 28, id: 'snow' },
    ]);
  });
});

describe('line shaper', () => {
  const closing: (() => void)[] = [];
  afterEach(() => closing.splice(0).forEach((close) => close()));

  async function setUp() {
    let received = 0;
    const target = net.createServer((socket) =>
      socket.on('data', (data) => (received += data.length)).on('error', () => undefined),
    );
    const port = await new Promise<number>((resolve) =>
      target.listen(0, '127.0.0.1', () => resolve((target.address() as net.AddressInfo).port)),
    );
    const shaper = new LineShaper(port);
    const front = await shaper.listen(0, '127.0.0.1');
    const client = net.connect(front, '127.0.0.1');
    client.on('error', () => undefined);
    await new Promise((resolve) => client.once('connect', resolve));
    closing.push(
      () => client.destroy(),
      () => shaper.close(),
      () => target.close(),
    );
    return { shaper, client, received: () => received };
  }
  const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

  test('lets everything through, or nothing while it stalls', async () => {
    const { shaper, client, received } = await setUp();
    client.write(Buffer.alloc(10_000));
    await wait(100);
    expect(received()).toBe(10_000);
    shaper.setMood('stall');
    for (let i = 0; i < 20; i++) client.write(Buffer.alloc(100_000));
    await wait(200);
    const stalled = received();
    await wait(200);
    expect(received()).toBe(stalled);
    shaper.setMood('normal');
    await wait(400);
    expect(received()).toBe(2_010_000);
  });

  test('drops the connection once and takes the next', async () => {
    const { shaper, client } = await setUp();
    const gone = new Promise((resolve) => client.once('close', resolve));
    shaper.setMood('drop');
    await gone;
    expect(shaper.mood).toBe('normal');
  });
});
