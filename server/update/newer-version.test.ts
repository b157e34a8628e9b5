import http from 'node:http';
import type { AddressInfo } from 'node:net';
import pino from 'pino';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { NewerVersions, type NewerHooks } from './newer-version';

const HOUR = 3_600_000;
const NOW = 1_800_000_000_000;
let server: http.Server;
let answer: (response: http.ServerResponse) => void;
let port = 0;
beforeAll(async () => {
  server = http.createServer((_, response) => answer(response));
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  port = (server.address() as AddressInfo).port;
});
afterAll(() => server.close());
const json = (value: unknown) => (response: http.ServerResponse) => void response.end(JSON.stringify(value));
beforeEach(() => {
  answer = json({ name: 'dolomite', version: '0.3.0', homepage: 'https://name.example/new' });
});

async function looking(more: Partial<NewerHooks> = {}): Promise<NewerVersions> {
  const newer = new NewerVersions({
    version: '0.2.9',
    address: `http://127.0.0.1:${port}/latest`,
    planned: () => [],
    onAir: () => false,
    now: () => NOW,
    log: pino({ level: 'silent' }),
    ...more,
  });
  await newer.look();
  newer.close();
  return newer;
}

describe('a newer version', () => {
  test('is told with where it says what is new', async () => {
    expect((await looking()).told).toEqual({ version: '0.3.0', about: 'https://name.example/new' });
  });

  test.each(['0.2.9', '0.2.8', '0.2.9-beta.1'])('%s is none', async (version) => {
    answer = json({ version });
    expect((await looking()).told).toBeNull();
  });

  test('is not told on air, nor shortly before a planned show or while it may run', async () => {
    expect((await looking({ onAir: () => true })).told).toBeNull();
    for (const [hours, told] of [
      [11, false],
      [-5, false],
      [13, true],
      [-7, true],
    ] as const)
      expect((await looking({ planned: () => [NOW + hours * HOUR] })).told !== null, `${hours} h`).toBe(told);
  });

  test.each([
    ['an error', (response: http.ServerResponse) => void response.writeHead(500).end()],
    ['no JSON', (response: http.ServerResponse) => void response.end('<html>')],
    ['no version', json({ homepage: 'https://name.example' })],
    ['a version that is none', json({ version: 'newest' })],
    ['a page that is not of the web', json({ version: '9.0.0', homepage: 'javascript:alert(1)' })],
    ['too much', (response: http.ServerResponse) => void response.end('x'.repeat(400_000))],
    ['nothing', (response: http.ServerResponse) => void response.destroy()],
  ])('whoever answers with %s tells of none', async (_, how) => {
    answer = how;
    expect((await looking()).told).toBeNull();
  });

  test('without an address nobody is asked', async () => {
    let asked = false;
    answer = (response) => {
      asked = true;
      response.end();
    };
    expect((await looking({ address: null })).told).toBeNull();
    expect(asked).toBe(false);
  });
});
