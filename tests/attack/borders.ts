/** Everything that comes from outside, by border: valid, nearly valid and hostile. */
import { randomUUID } from 'node:crypto';
import { Webhook } from 'standardwebhooks';
import { ACCESS_TABLE } from '../../core/access/access-table';
import { encodeAmf0 } from '../../core/media/amf0';
import { chunkMessage, MESSAGE } from '../../core/media/rtmp-chunks';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { SHOW } from '../lib/studio-fixture';
import type { Dice } from './dice';
import { feeds, pages } from './far-ends';
import { knock, talk } from './knock';
import { door } from './strangers';
import { tryIt, type Border, type Target } from './target';

const EVENT = {
  specversion: '1.0',
  id: '1',
  source: '//somewhere',
  type: 'live.donation',
  time: '2026-11-28T21:15:00Z',
  data: { viewer: 'flo', amount: '5.00', currency: 'EUR', message: 'for the roof' },
};
const TYPES = [
  'live.follow',
  'live.chat.message',
  'live.donation',
  'live.poll',
  'live.chat.removed',
  'live.viewers',
  'org.else',
];
const event = (dice: Dice) =>
  dice.spoiled({
    ...EVENT,
    id: randomUUID(),
    type: dice.pick(TYPES),
    data: { ...EVENT.data, text: dice.text() },
  });

const signed = (target: Target, body: string, id: string = randomUUID()) => {
  const now = new Date();
  return {
    'webhook-id': id,
    'webhook-timestamp': String(Math.floor(now.getTime() / 1000)),
    'webhook-signature': new Webhook(target.hook.secret).sign(id, now, body),
  };
};

const events: Border = {
  name: 'platform events',
  async burst(target, dice) {
    const feed = new StudioClient(target.studio.platforms()[0].watchUrl.replace(/\/watch$/, ''));
    for (let i = 0; i < 40; i++) {
      const text = dice.chance(0.2) ? dice.text() : JSON.stringify(event(dice));
      await tryIt(target, () => feed.form('/raw', { text }));
    }
  },
};

const hooks: Border = {
  name: 'webhooks',
  async burst(target, dice) {
    const web = new StudioClient(`http://127.0.0.1:${target.studio.doorPort}`);
    for (let i = 0; i < 30; i++) {
      const batch = dice.chance(0.3);
      const body = dice.chance(0.1)
        ? dice.bytes(dice.int(2000)).toString('latin1')
        : JSON.stringify(batch ? [event(dice), event(dice)] : event(dice));
      const headers = {
        'content-type': batch ? 'application/cloudevents-batch+json' : 'application/cloudevents+json',
        ...(dice.chance(0.8) ? signed(target, body) : { 'webhook-id': 'x', 'webhook-signature': 'v1,AAAA' }),
      };
      await tryIt(target, () => web.ask(`/hooks/${target.hook.id}`, { method: 'POST', headers, body }));
    }
    const url = `ws://127.0.0.1:${target.studio.doorPort}/hooks/${target.hook.id}`;
    const messages = Array.from({ length: 60 }, () =>
      dice.chance(0.2) ? dice.bytes(dice.int(3000)) : JSON.stringify(event(dice)),
    );
    target.answers.push(...(await talk(url, signed(target, ''), messages, ['cloudevents.json'])));
  },
};

const chat: Border = {
  name: 'IRC',
  async burst(target) {
    for (const { watchUrl, chatPort } of target.studio.platforms() as {
      watchUrl: string;
      chatPort: number | null;
    }[]) {
      if (chatPort === null) continue;
      const room = new StudioClient(watchUrl.replace(/\/watch$/, ''));
      await tryIt(target, () => room.form('/babble', {}));
      await tryIt(target, () => room.form('/drop', {}));
    }
  },
};

const intake: Border = {
  name: 'RTMP intake',
  async burst(target, dice) {
    const hello = Buffer.concat([Buffer.from([3]), Buffer.alloc(2 * 1536)]);
    const command = (...values: Parameters<typeof encodeAmf0>[0]) =>
      Buffer.from(
        chunkMessage(
          { type: MESSAGE.command, timestampMs: 0, messageStreamId: 0, payload: encodeAmf0(values) },
          3,
          128,
        ),
      );
    const whole = [
      hello,
      command('connect', 1, { app: 'feed' }),
      command('createStream', 2, null),
      command('publish', 3, null, dice.text().slice(0, 200), 'live'),
    ];
    const tries = Array.from({ length: 10 }, () => {
      const parts = whole
        .slice(0, 1 + dice.int(whole.length))
        .map((part) => (dice.chance(0.5) ? dice.damaged(part) : part));
      if (dice.chance(0.4)) parts.push(dice.bytes(20_000));
      return knock(target.feedPort, parts, dice.int(100));
    });
    await Promise.all(tries);
  },
};

const uploads: Border = {
  name: 'uploads',
  async burst(target, dice) {
    const heads = [
      Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex'),
      Buffer.from('ffd8ffe000104a46494600', 'hex'),
      Buffer.from('1a45dfa3', 'hex'),
      Buffer.from('LUT_3D_SIZE 256\n'),
      Buffer.from('{"v":"5.7","layers":[],"w":1e9,"h":-1}'),
      Buffer.from('<?xml version="1.0"?><svg onload="x()"/>'),
      Buffer.from('PK\u0003\u0004'),
      Buffer.from('OggS'),
    ];
    for (let i = 0; i < 12; i++) {
      const body = dice.damaged(Buffer.concat([dice.pick(heads), dice.bytes(dice.int(4000))]));
      const name = encodeURIComponent(dice.text().toWellFormed()).slice(0, 2000) || 'x';
      await tryIt(target, () =>
        target.owner.ask('/assets', {
          ...{ method: 'POST', body: new Uint8Array(body) },
          headers: { 'x-file-name': name, 'content-type': 'application/octet-stream' },
        }),
      );
    }
    // One that says more than it brings.
    const { cookie } = target.owner.headers;
    await knock(
      target.studio.webPort,
      [
        Buffer.from(
          `POST /show/${SHOW}/assets HTTP/1.1\r\nhost: 127.0.0.1:${target.studio.webPort}\r\ncookie: ${cookie}\r\ncontent-length: 999999\r\n\r\n`,
        ),
        dice.bytes(3000),
      ],
      50,
    );
  },
};

/** What each route is asked in earnest; then it is spoiled. What ends the broadcast is left out: it is to go on. */
const ORDERS: Readonly<Record<string, readonly object[]>> = {
  edits: [
    {
      id: 'e',
      name: 'x',
      put: [{ kind: 'scene', id: 'sc-x', showId: SHOW, name: 'X', position: 1 }],
      removed: ['sc-none'],
      seen: [],
    },
  ],
  keys: [
    { destinationId: 'dest-none', key: 'abc' },
    { destinationId: 'broadcast', key: 'abc' },
  ],
  broadcast: [
    { intent: 'mark', words: 'x' },
    { intent: 'keep', seconds: 5 },
    { intent: 'cut', destinationId: 'x', seconds: 2 },
    { intent: 'retry', destinationId: 'x' },
  ],
  'recording-folder': [{ folder: '/proc' }, { folder: 'relative' }],
  'line-test': [{ url: 'rtmp://127.0.0.1:1/x', seconds: 1 }],
  accounts: [{ intent: 'state', destinationId: 'dest-larch' }],
  announce: [{ intent: 'set', url: 'http://127.0.0.1:1/x' }, { intent: 'remove' }],
  'lighter-copy': [{ assetId: 'x' }],
  'input-address': [
    { intent: 'set', inputId: 'in-x', address: 'http://127.0.0.1:1/' },
    { intent: 'copy', inputId: 'in-x' },
  ],
  'test-event': [{ ruleId: 'rule-follow' }, { type: 'donation', viewer: 'x' }],
  entries: [
    { intent: 'mark', seq: 1, mark: 'done' },
    { intent: 'note', platform: 'larch', viewer: 'x', note: 'y' },
  ],
  'event-sources': [
    {
      what: 'putChat',
      id: null,
      name: 'x',
      host: 'localhost',
      port: 1,
      tls: false,
      nick: 'a',
      channels: ['#a'],
      password: null,
    },
  ],
  vault: [
    { intent: 'delete', id: 'none' },
    { intent: 'rename', id: 'none', title: 'x' },
    { intent: 'rewrap', recordingId: 'none', to: 'mp4' },
  ],
};

const routes: Border = {
  name: 'routes',
  async burst(target, dice) {
    const stranger = new StudioClient(target.owner.origin);
    for (let i = 0; i < 60; i++) {
      const name = dice.pick(Object.keys(ORDERS));
      const order = dice.spoiled(dice.pick(ORDERS[name])) as Record<string, unknown>;
      // Nobody is signed out, and nothing is switched off, by chance.
      if (
        ['start', 'stop', 'finish', 'record', 'rehearse', 'lookBack', 'cover', 'pause', 'plan'].includes(
          String(order?.intent),
        )
      )
        continue;
      const who = dice.chance(0.85) ? target.owner : stranger;
      const json = dice.chance(0.5);
      const body = json
        ? JSON.stringify(order)
        : new URLSearchParams(
            Object.entries(order ?? {}).map(([key, value]) => [
              key,
              typeof value === 'string' ? value.toWellFormed() : (JSON.stringify(value) ?? ''),
            ]),
          ).toString();
      const type = json ? 'application/json' : 'application/x-www-form-urlencoded';
      await tryIt(target, () =>
        who.ask(`/${name}`, { method: 'POST', body, headers: { 'content-type': type }, redirect: 'manual' }),
      );
    }
    for (const { how, path } of ACCESS_TABLE) {
      if (how !== 'read' || dice.chance(0.5)) continue;
      const at = path
        .replace(/:showId/, dice.chance(0.8) ? SHOW : 'x')
        .replace(/:\w+|\*/g, () => encodeURIComponent(dice.text().toWellFormed()).slice(0, 300));
      const web = new StudioClient(target.studio.url, dice.chance(0.8) ? target.owner.headers : {});
      await tryIt(target, () =>
        web.ask(`${at}${dice.chance(0.3) ? `?${encodeURIComponent(dice.text().toWellFormed())}` : ''}`, {
          redirect: 'manual',
          signal: AbortSignal.timeout(3000),
        }),
      );
    }
  },
};

const signIn: Border = {
  name: 'sign-in',
  async burst(target, dice) {
    const web = new StudioClient(target.studio.url);
    for (let i = 0; i < 15; i++)
      await tryIt(target, () =>
        web.send('/sign-in', JSON.stringify(dice.spoiled({ token: dice.text() })) ?? ''),
      );
    for (let i = 0; i < 15; i++) {
      const cookie = `dolomite-${target.studio.webPort}=${encodeURIComponent(dice.text().toWellFormed())}`;
      await tryIt(target, () =>
        new StudioClient(target.studio.url, { cookie: cookie.slice(0, 3000) }).ask('/', {
          redirect: 'manual',
        }),
      );
    }
  },
};

const bus: Border = {
  name: 'bus',
  async burst(target, dice) {
    const url = `ws://127.0.0.1:${target.studio.webPort}/bus/${SHOW}`;
    const { cookie } = target.owner.headers;
    const orders = [
      { type: 'claim', deskId: 'desk-of-nobody', takeOver: false },
      { type: 'onAir', sceneId: 'sc-game', poseId: null },
      { type: 'readOut', order: 'show', seq: 1 },
      { type: 'health', health: { fps: 30 } },
      { type: 'read', seq: 3 },
    ];
    for (let i = 0; i < 8; i++) {
      const messages = Array.from({ length: 6 }, () =>
        dice.chance(0.2)
          ? dice.bytes(dice.int(500))
          : (JSON.stringify(dice.chance(0.5) ? dice.pick(orders) : dice.spoiled(dice.pick(orders))) ?? ''),
      );
      await talk(url, dice.chance(0.8) ? { cookie } : {}, messages);
    }
    // Larger than a message may be.
    await talk(url, { cookie }, ['x'.repeat(200_000)]);
  },
};

const uplink: Border = {
  name: 'uplink',
  async burst(target, dice) {
    const url = `ws://127.0.0.1:${target.studio.relayPort}/uplink`;
    for (let i = 0; i < 8; i++)
      await talk(
        url,
        {},
        Array.from({ length: 4 }, () => (dice.chance(0.3) ? dice.text() : dice.bytes(dice.int(4000)))),
      );
    await talk(url, { origin: 'http://evil.example' }, [dice.bytes(1_000_000)]);
  },
};

const orders: Border = {
  name: 'relay orders',
  async burst(target, dice) {
    const at = `http://127.0.0.1:${target.studio.relayPort}`;
    const paths = [
      '/status',
      '/begin',
      '/end',
      '/finish',
      '/destination',
      '/keep',
      '/cover',
      '/cut',
      '/line-test',
      '/x',
    ];
    for (let i = 0; i < 25; i++) {
      const relay = new StudioClient(
        at,
        dice.chance(0.5)
          ? {}
          : { authorization: `Bearer ${encodeURIComponent(dice.text().toWellFormed()).slice(0, 500)}` },
      );
      await tryIt(target, () => relay.send(dice.pick(paths), JSON.stringify(dice.value()) ?? ''));
    }
    await knock(
      target.studio.relayPort,
      [Buffer.from('POST /begin HTTP/1.1\r\nhost: x\r\ncontent-length: 5000\r\n\r\n'), dice.bytes(100)],
      20,
    );
  },
};

const standIns: Border = {
  name: 'stand-ins',
  async burst(target, dice) {
    const { origin } = new URL(target.studio.platforms()[0].watchUrl);
    for (let i = 0; i < 25; i++) {
      const headers = dice.pick([
        {},
        { origin: 'http://evil.example' },
        { origin: 'null' },
        { 'sec-fetch-site': 'cross-site' },
      ]) as Record<string, string>;
      const page = new StudioClient(origin, headers);
      const what = dice.pick(['event', 'chat', 'mood', 'oauth/token', 'device', 'api/key', 'x']);
      await tryIt(target, () =>
        page.form(`/larch/${what}`, {
          kind: dice.text().toWellFormed(),
          viewer: dice.text().toWellFormed(),
          text: dice.text().toWellFormed(),
        }),
      );
    }
  },
};

export const BORDERS: readonly Border[] = [
  ...[
    events,
    hooks,
    door,
    chat,
    intake,
    feeds,
    pages,
    uploads,
    routes,
    signIn,
    bus,
    uplink,
    orders,
    standIns,
  ],
];
