import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { afterEach, expect, test, vi } from 'vitest';
import { WebSocketServer } from 'ws';
import type { Incoming } from '../../core/audience/events';
import { Fault } from '../../core/fault';
import { cloudEventJson } from '../../protocol/cloud-events';
import { PlatformFeed } from './platform-feed';

const open: { close(): void }[] = [];
afterEach(() => {
  for (const one of open.splice(0)) one.close();
});

/** A platform that keeps what it was shown, and lets in whoever knows the word. */
async function platform(word: string | null) {
  const shown: (string | undefined)[] = [];
  const server = new WebSocketServer({
    ...{ host: '127.0.0.1', port: 0 },
    verifyClient: ({ req }: { req: { headers: { authorization?: string } } }) => {
      shown.push(req.headers.authorization);
      return word === null || req.headers.authorization === `Bearer ${word}`;
    },
  });
  server.on('connection', (socket) =>
    socket.send(cloudEventJson('//larch.example', 'e1', 'viewers', Date.now(), { count: 7 })),
  );
  open.push(server);
  await new Promise((done) => server.once('listening', done));
  return { shown, server, url: `ws://127.0.0.1:${(server.address() as AddressInfo).port}/feed` };
}

function feed(url: string, signedIn: boolean, token: () => Promise<string>) {
  const taken: Incoming[] = [];
  const reasons: string[] = [];
  const made = new PlatformFeed(
    { name: 'larch', title: 'Larch', feedUrl: url, signedIn },
    pino({ level: 'silent' }),
    (incoming) => taken.push(incoming),
    (_, reason) => reasons.push(reason),
    () => {},
    token,
  );
  open.push(made);
  return { made, taken, reasons };
}

test('a feed that wants a token gets that of the sign-in, and another one when that has changed', async () => {
  const { shown, server, url } = await platform(null);
  let word = 'first';
  const { made } = feed(url, true, () => Promise.resolve(word));
  await vi.waitFor(() => expect(made.status.connected).toBe(true), 5000);
  word = 'second';
  for (const socket of server.clients) socket.terminate();
  await vi.waitFor(() => expect(shown).toEqual(['Bearer first', 'Bearer second']), 5000);
});

test('one that wants none is shown none, whoever is signed in', async () => {
  const { shown, url } = await platform(null);
  const { made } = feed(url, false, () => Promise.resolve('secret'));
  await vi.waitFor(() => expect(made.status.connected).toBe(true), 5000);
  expect(shown).toEqual([undefined]);
});

test('before anybody has signed in nothing is opened, and it is said what to do; then it comes by itself', async () => {
  const { shown, url } = await platform('word');
  let signedIn = false;
  const { made } = feed(url, true, () =>
    signedIn ? Promise.resolve('word') : Promise.reject(new Fault('account.out', 'sign in to Larch first')),
  );
  await vi.waitFor(() => expect(made.status.message).toContain('sign in to Larch first'), 5000);
  expect(shown).toEqual([]);
  signedIn = true;
  await vi.waitFor(() => expect(made.status.connected).toBe(true), 10_000);
});

test('a token that no header can carry is said, and ends nothing', async () => {
  const { shown, url } = await platform(null);
  const { made } = feed(url, true, () => Promise.resolve('a\r\nx-other: b'));
  await vi.waitFor(() => expect(made.status.message).toMatch(/no chat of Larch: .*character/i), 5000);
  expect(shown).toEqual([]);
});
