import { mkdtempSync, rmSync } from 'node:fs';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { Webhook } from 'standardwebhooks';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import type { RequestRecord } from '../../core/show/rundown-records';
import { openDatabase } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { SettingRepository } from '../db/setting-repository';
import { Outward } from './outward';

interface Heard {
  method?: string;
  url?: string;
  headers: http.IncomingHttpHeaders;
  body: string;
}

let folder: string;
let outward: Outward;
let server: http.Server;
let port: number;
let nowMs: number;
let answer: (response: http.ServerResponse) => void;
let heard: Heard[];
let names: Record<string, string[]>;

beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-outward-'));
  const database = openDatabase(path.join(folder, 'dolomite.sqlite'), path.resolve('db/migrations'));
  nowMs = Date.now();
  [heard, names] = [[], {}];
  answer = (response) => response.writeHead(204).end();
  server = http.createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      const { method, url, headers } = request;
      heard.push({ method, url, headers, body: Buffer.concat(chunks).toString() });
      answer(response);
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  port = (server.address() as AddressInfo).port;
  outward = new Outward({
    settings: new SettingRepository(database),
    secrets: new SecretRepository(database, path.join(folder, 'secrets.key')),
    ownPorts: () => [4321],
    now: () => nowMs,
    lookup: (name) =>
      name in names ? Promise.resolve(names[name]) : Promise.reject(new Error('no such name')),
  });
});
afterEach(async () => {
  await new Promise((resolve) => server.close(resolve));
  rmSync(folder, { recursive: true, force: true });
});

const request = (more: Partial<RequestRecord> = {}): RequestRecord => ({
  ...{ kind: 'request', id: 'r', showId: 'show', name: 'Red light', position: 0 },
  ...{ method: 'POST', url: `http://127.0.0.1:${port}/on?by={{show}}`, body: '{"colour":"{{colour}}"}' },
  signed: false,
  ...more,
});
const FIELDS = { show: 'night box', colour: 'red' };
const allowed = () => outward.allow(`127.0.0.1:${port}`, true);

describe('a request', () => {
  test('goes out with the fields in it, signed when that is wanted', async () => {
    await allowed();
    expect(await outward.send(request(), FIELDS)).toBeNull();
    expect(heard[0]).toMatchObject({ method: 'POST', url: '/on?by=night%20box', body: '{"colour":"red"}' });
    expect(heard[0].headers['content-type']).toBe('application/json');
    expect(heard[0].headers['webhook-signature']).toBeUndefined();
    const signed = request({ signed: true });
    expect(await outward.send(signed, FIELDS)).toContain('has no secret');
    const secret = outward.newSecret('r');
    expect(await outward.send(signed, FIELDS)).toBeNull();
    const headers = heard[1].headers as Record<string, string>;
    // Their own reader of signatures.
    expect(new Webhook(secret).verify(heard[1].body, headers)).toEqual({ colour: 'red' });
  });

  test.each([
    ['refuses', 500, 'answered 500'],
    ['points elsewhere', 302, 'wants it somewhere else'],
  ])('one that %s is told in words, and a pointer is not followed', async (_, status, words) => {
    await allowed();
    answer = (response) => response.writeHead(status, { location: 'http://127.0.0.1:4321/' }).end();
    expect(await outward.send(request(), FIELDS)).toContain(words);
    expect(heard).toHaveLength(1);
  });

  test('to where nobody listens, to a name nobody knows, to no address: each is told', async () => {
    await outward.allow('127.0.0.1:9', true);
    expect(await outward.send(request({ url: 'http://127.0.0.1:9/' }), {})).toContain('did not arrive');
    await expect(outward.allow('nowhere.example', false)).rejects.toThrow('nobody knows where');
    expect(await outward.send(request({ url: 'ftp://a/' }), {})).toContain('begins with http');
    expect(heard).toEqual([]);
  });

  test('an endless answer is not waited for, and a flood is held back', async () => {
    await allowed();
    answer = (response) => {
      response.writeHead(200);
      const more = setInterval(() => response.write(Buffer.alloc(65_536)), 1);
      response.on('close', () => clearInterval(more));
    };
    expect(await outward.send(request(), FIELDS)).toBeNull();
    answer = (response) => response.writeHead(204).end();
    const all = [];
    for (let i = 0; i < 20; i++) all.push(await outward.send(request(), FIELDS));
    expect(all.filter((problem) => problem === null)).toHaveLength(9);
    expect(all.at(-1)).toContain('more than 10 requests a second');
    nowMs += 1000;
    expect(await outward.send(request(), FIELDS)).toBeNull();
  });
});

describe('where requests may go', () => {
  test('nowhere, until a host is allowed; and nowhere again when it is removed', async () => {
    expect(await outward.send(request(), FIELDS)).toContain(`allow 127.0.0.1:${port}`);
    await allowed();
    expect(await outward.send(request(), FIELDS)).toBeNull();
    outward.forget(`127.0.0.1:${port}`);
    expect(await outward.send(request(), FIELDS)).toContain('was not sent');
    expect(heard).toHaveLength(1);
  });

  test.each(['127.0.0.1', '10.0.0.7', '192.168.1.20', '169.254.169.254', '[::1]', 'printer.example'])(
    '%s is inside the house: it takes a word of its own',
    async (host) => {
      names['printer.example'] = ['192.168.7.7'];
      await expect(outward.allow(`${host}:80`, false)).rejects.toThrow('inside this house');
      expect(await outward.allow(`${host}:80`, true)).toEqual([{ host: `${host}:80`, inside: true }]);
    },
  );

  test('a name that was outside and points inside later is refused', async () => {
    names['turns.example'] = ['93.184.215.14'];
    await outward.allow(`turns.example:${port}`, true);
    expect(outward.allowed()).toEqual([{ host: `turns.example:${port}`, inside: false }]);
    names['turns.example'] = ['127.0.0.1'];
    const to = request({ url: `http://turns.example:${port}/` });
    expect(await outward.send(to, {})).toContain('inside this house by now');
    // One address inside among several is enough.
    names['turns.example'] = ['93.184.215.14', '10.1.1.1'];
    expect(await outward.send(to, {})).toContain('inside this house by now');
    expect(heard).toEqual([]);
  });

  test('never to the studio itself, whatever was allowed', async () => {
    await expect(outward.allow('127.0.0.1:4321', true)).rejects.toThrow('the studio itself');
    names['mine.example'] = ['93.184.215.14'];
    await outward.allow('mine.example:4321', true);
    names['mine.example'] = ['127.0.0.1'];
    expect(await outward.send(request({ url: 'http://mine.example:4321/' }), {})).toContain('studio itself');
  });

  test('fields cannot lead it to another host', async () => {
    await allowed();
    const to = request({ url: `http://127.0.0.1:${port}{{rest}}` });
    expect(await outward.send(to, { rest: '@evil.example/' })).not.toBeNull();
    expect(heard.every(({ headers }) => headers.host === `127.0.0.1:${port}`)).toBe(true);
  });
});
