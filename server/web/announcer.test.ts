import { mkdtempSync, rmSync } from 'node:fs';
import http from 'node:http';
import os from 'node:os';
import path from 'node:path';
import { Webhook } from 'standardwebhooks';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { openDatabase, type Database } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { EveningRepository } from '../vault/evening-repository';
import { LineTestRepository } from '../vault/line-test-repository';
import { Announcer, announcementText } from './announcer';

let folder: string;
let database: Database;
let announcer: Announcer;
let answer = 200;
const got: { headers: http.IncomingHttpHeaders; body: string }[] = [];
const server = http.createServer((request, response) => {
  let body = '';
  request.on('data', (part: Buffer) => (body += part.toString()));
  request.on('end', () => {
    got.push({ headers: request.headers, body });
    response.writeHead(answer, answer === 302 ? { location: 'http://127.0.0.1:1/' } : {});
    response.end();
  });
});

beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-announce-'));
  database = openDatabase(
    path.join(folder, 'dolomite.sqlite'),
    path.resolve(import.meta.dirname, '../../db/migrations'),
  );
  announcer = new Announcer(new SecretRepository(database, path.join(folder, 'secrets.key')), Date.now);
  got.length = 0;
  answer = 200;
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
});
afterEach(async () => {
  await new Promise((resolve) => server.close(resolve));
  database.close();
  rmSync(folder, { recursive: true, force: true });
});

const url = () => `http://127.0.0.1:${(server.address() as { port: number }).port}/hook/token`;
const news = { show: 'Night Signal Box', title: 'A roof', destinations: ['Larch'], text: 'on' };

test('is signed so that the specification’s own library takes it; the address stays hidden but for its host', async () => {
  const secret = announcer.set('show', url());
  await announcer.announce('show', news);
  expect(new Webhook(secret).verify(got[0].body, got[0].headers as Record<string, string>)).toMatchObject({
    type: 'broadcast.started',
    data: news,
  });
  expect(announcer.target('show')).toBe(new URL(url()).host);
  announcer.remove('show');
  expect(announcer.target('show')).toBeNull();
  await expect(announcer.announce('show', news)).rejects.toThrow(/no address/);
});

test('a wrong address, a refusal, a redirect and silence are said in words', async () => {
  expect(() => announcer.set('show', 'example.net')).toThrow(/must be whole/);
  expect(() => announcer.set('show', 'ftp://example.net/')).toThrow(/https/);
  announcer.set('show', url());
  answer = 500;
  await expect(announcer.announce('show', news)).rejects.toThrow(/answered with 500/);
  answer = 302;
  await expect(announcer.announce('show', news)).rejects.toThrow(/did not answer/);
  announcer.set('show', 'http://127.0.0.1:1/');
  await expect(announcer.announce('show', news)).rejects.toThrow(/did not answer/);
});

test('words are filled in', () =>
  expect(
    announcementText('{show}: {title} on {destinations} {show}', {
      ...news,
      destinations: ['Larch', 'Cairn'],
    }),
  ).toBe('Night Signal Box: A roof on Larch, Cairn Night Signal Box'));

test('an evening is kept in order, with who was reached; line tests keep their newest', () => {
  const evenings = new EveningRepository(database);
  evenings.begin({ id: 'e', showId: 's', startedMs: 1000, title: 'T' });
  evenings.begin({ id: 'e', showId: 's', startedMs: 1000, title: 'again' });
  evenings.add('e', 2000, { kind: 'destination', name: 'Larch', state: 'live', message: '' });
  evenings.add('e', 2500, { kind: 'destination', name: 'Cairn', state: 'refused', message: 'no' });
  evenings.end('e', 3000);
  expect(evenings.list('s')).toMatchObject([{ id: 'e', title: 'T', endedMs: 3000 }]);
  expect(evenings.moments('e').map((m) => m.moment.kind)).toEqual([
    'begin',
    'destination',
    'destination',
    'end',
  ]);
  expect([evenings.reached('e', 'Larch'), evenings.reached('e', 'Cairn')]).toEqual([true, false]);
  evenings.remove('e');
  expect(evenings.moments('e')).toEqual([]);
  const tests = new LineTestRepository(database);
  for (let n = 0; n < 60; n++)
    tests.add('s', {
      id: `t${n}`,
      destinationId: 'd',
      server: 'Valley',
      atMs: n,
      kbps: n,
      sustainedKbps: n,
      steadiness: 1,
      verdict: 'steady',
      rates: [n],
      idleRoundTripMs: 1,
      loadedRoundTripMs: null,
    });
  expect(tests.list('s')).toHaveLength(50);
  expect(tests.list('s')[0]).toMatchObject({ id: 't59', sustainedKbps: 59 });
});
