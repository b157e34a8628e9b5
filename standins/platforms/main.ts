/** The stand-in platforms' process: ingest, account and watch pages, event feeds. */
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import http, { type IncomingMessage, type ServerResponse } from 'node:http';
import { createRequire } from 'node:module';
import net from 'node:net';
import path from 'node:path';
import { WebSocketServer } from 'ws';
import { isFromOwnPage } from '../../core/access/own-origin';
import { startIngest } from './ingest';
import { emotePng } from './emotes';
import { ChatRoom } from './irc-room';
import { CLEAR_LINE, LineBudget, LineShaper, MOODS, SCRIPTED_EVENING, type Mood } from './line-shaper';
import { connectorOf } from './connector';
import { accountPage, authorizePage, devicePage, linePage, watchPage } from './pages';
import { Platform, PLATFORMS } from './platform';

const folder = path.join(process.env.DOLOMITE_DATA ?? 'data', 'standins');
const factsFile = process.env.DOLOMITE_STANDINS ?? path.join(folder, 'platforms.json');
const MAX_FORM_BYTES = 4096;
const MAX_ANNOUNCED = 500;
const MAX_THUMBNAIL_BYTES = 8 * 1024 * 1024;
/** What the made-up line carries upwards until it is told otherwise: a good home fibre. */
const HOME_KBPS = 24_000;
/** The far server of each platform, ms each way. */
const FAR_MS = 45;

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = net.createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as net.AddressInfo;
      server.close(() => resolve(port));
    });
  });
}

async function main(): Promise<void> {
  mkdirSync(folder, { recursive: true });
  const keysFile = path.join(folder, 'keys.json');
  const keys = existsSync(keysFile)
    ? (JSON.parse(readFileSync(keysFile, 'utf8')) as Record<string, string>)
    : {};
  const newKey = (name: string) => {
    keys[name] = `${name}_${randomBytes(12).toString('hex')}`;
    writeFileSync(keysFile, JSON.stringify(keys), { mode: 0o600 });
    return keys[name];
  };
  const platforms = new Map<string, Platform>();
  const chatPorts = new Map<string, number>();
  const rtmpPort = await freePort();
  const flvPort = await freePort();
  const ingest = await startIngest({
    rtmpPort,
    httpPort: flvPort,
    folder,
    allowed: (streamPath) => {
      const [, app, key] = streamPath.split('/');
      const platform = platforms.get(app);
      if (platform === undefined || platform.shaper.mood === 'refuse') return false;
      // A rehearsal: taken, and shown to nobody.
      return platform.key === key || key.startsWith('rehearsal_');
    },
  });
  // One house, one line, whatever goes out.
  const line = new LineBudget(() => performance.now(), Math.random);
  line.line = { ...CLEAR_LINE, kbps: HOME_KBPS };
  for (const facts of PLATFORMS) {
    const shaper = new LineShaper(rtmpPort, line);
    const farShaper = new LineShaper(rtmpPort, line, FAR_MS);
    const url = (port: number) => `rtmp://127.0.0.1:${port}/${facts.name}`;
    const servers = [
      { name: 'Valley', url: url(await shaper.listen(0, '127.0.0.1')) },
      { name: 'Far ridge', url: url(await farShaper.listen(0, '127.0.0.1')) },
    ];
    const room = facts.irc ? new ChatRoom(facts.name, Date.now) : null;
    if (room) chatPorts.set(facts.name, await room.listen());
    platforms.set(
      facts.name,
      new Platform(facts, keys[facts.name] ?? newKey(facts.name), shaper, servers, farShaper, room, Date.now),
    );
  }

  const mpegts = readFileSync(createRequire(import.meta.url).resolve('mpegts.js/dist/mpegts.js'));
  const server = http.createServer((request, response) => {
    handle(request, response).catch((error: unknown) => {
      response.statusCode = error instanceof TooMuch ? 413 : error instanceof SyntaxError ? 400 : 500;
      response.end(error instanceof Error ? error.message : String(error));
    });
  });

  /** Other pages have no business here: neither under another name of this computer, nor by a form of theirs. */
  function isWelcome(request: IncomingMessage, changes: boolean): boolean {
    const hosts = ['localhost', '127.0.0.1'].map((name) => `${name}:${ownPort()}`);
    if (!hosts.includes((request.headers.host ?? '').toLowerCase())) return false;
    return !changes || isFromOwnPage(request.headers, new Set(hosts.map((host) => `http://${host}`)));
  }
  const ownPort = () => (server.address() as net.AddressInfo).port;

  async function handle(request: IncomingMessage, response: ServerResponse): Promise<void> {
    if (!isWelcome(request, request.method !== 'GET')) {
      response.statusCode = 403;
      return void response.end('Another page may not do this here.');
    }
    const url = new URL(request.url ?? '/', 'http://standin');
    if (url.pathname === '/vendor/mpegts.js') {
      response.setHeader('content-type', 'text/javascript');
      return void response.end(mpegts);
    }
    const [, name, what, which] = url.pathname.split('/');
    if (name === 'line') return lineRequest(request, response);
    const platform = platforms.get(name);
    if (!platform) {
      response.statusCode = 404;
      return void response.end('There is no such platform here.');
    }
    if (request.method === 'GET') {
      if (what === 'live.flv') return pipeLive(platform, response);
      if (what === 'thumbnail') {
        response.writeHead(platform.thumbnail ? 200 : 404, {
          'content-type': platform.thumbnail?.mime ?? 'text/plain',
        });
        return void response.end(platform.thumbnail?.bytes);
      }
      if (what === 'emotes') {
        const png = emotePng(which ?? '');
        response.writeHead(png ? 200 : 404, { 'content-type': 'image/png' });
        return void response.end(png);
      }
      if (what === 'sent') return void response.end(JSON.stringify(platform.sent));
      if (what === 'api') return api(platform, request, response, which);
      if (what === 'announced') return void response.end(JSON.stringify(platform.announced));
      if (what === 'servers') return void response.end(JSON.stringify({ servers: listed(platform) }));
      response.setHeader('content-type', 'text/html; charset=utf-8');
      if (what === 'device') return void response.end(devicePage(platform, ''));
      if (what === 'authorize') {
        const problem = platform.oauth.problemOf(url.searchParams);
        return void response.end(authorizePage(platform, url.searchParams.toString(), problem));
      }
      return void response.end(what === 'account' ? accountPage(platform) : watchPage(platform));
    }
    if (what === 'api') return api(platform, request, response, which);
    const form = new URLSearchParams(await readForm(request));
    if (what === 'oauth') {
      const { status, body } =
        which === 'device'
          ? { status: 200, body: platform.oauth.device(`http://localhost:${ownPort()}/${name}/device`) }
          : platform.oauth.token(form);
      response.writeHead(status, { 'content-type': 'application/json' });
      return void response.end(JSON.stringify(body));
    }
    if (what === 'device') {
      const known = platform.oauth.answer(form.get('code') ?? '', form.get('allow') === 'yes');
      response.setHeader('content-type', 'text/html; charset=utf-8');
      return void response.end(
        devicePage(platform, known ? 'Done: go back to the program.' : 'This code is not known here.'),
      );
    }
    if (what === 'authorize') {
      const problem = platform.oauth.problemOf(url.searchParams);
      if (problem) {
        response.writeHead(400);
        return void response.end(problem);
      }
      response.writeHead(303, {
        location: platform.oauth.authorize(url.searchParams, form.get('allow') === 'yes'),
      });
      return void response.end();
    }
    const viewer = (form.get('viewer') ?? 'guest').slice(0, 40) || 'guest';
    if (what === 'event') {
      const { kind, viewer: who, ...more } = Object.fromEntries(form);
      const numbers = Object.fromEntries(
        Object.entries(more).map(([key, value]) => [
          key,
          /^\d{1,9}$/.test(value) && key !== 'amount' ? Number(value) : value,
        ]),
      );
      if (!platform.press(kind ?? '', who || viewer, numbers)) response.statusCode = 400;
    } else if (what === 'raw') platform.sendRaw(form.get('text') ?? '');
    else if (what === 'quiet') for (const one of platforms.values()) one.setQuiet(form.get('on') === 'yes');
    else if (what === 'storm') {
      const sent = await platform.storm(
        Number(form.get('count') ?? 100) || 100,
        Math.min(3600, Number(form.get('seconds') ?? 10) || 0),
        Number(form.get('seed') ?? 1) || 1,
        Math.max(0, Math.min(1, Number(form.get('chat') ?? 0.6))),
      );
      return void response.end(JSON.stringify(sent));
    } else if (what === 'drop') platform.room?.drop();
    else if (what === 'babble') platform.room?.babble();
    else if (what === 'chat') platform.chat(viewer, form.get('text') ?? '');
    else if (what === 'mood' && MOODS.includes(form.get('mood') as Mood))
      platform.shaper.setMood(form.get('mood') as Mood);
    else if (what === 'key') {
      const old = `/${name}/${platform.key}`;
      platform.key = newKey(name);
      ingest.closePublisher(old);
    } else {
      response.statusCode = 404;
      return void response.end();
    }
    if (what === 'key' || what === 'mood') {
      response.writeHead(303, { location: `/${name}/account` });
      return void response.end();
    }
    response.end('ok');
  }

  /** As a platform lists its servers; one of them is for somebody else. */
  const listed = ({ servers, facts }: Platform) => [
    { title: servers[0].name, ingest: servers[0].url, region: 'valley' },
    { title: servers[1].name, ingest: servers[1].url, region: 'ridge' },
    { title: 'Other side', ingest: `rtmp://127.0.0.1:1/${facts.name}`, region: 'abroad' },
  ];

  /** What a signed-in program may do: read or renew the key, set what viewers read. */
  async function api(
    platform: Platform,
    request: IncomingMessage,
    response: ServerResponse,
    which: string,
  ): Promise<void> {
    const reply = (status: number, body: object) => {
      response.writeHead(status, { 'content-type': 'application/json' });
      response.end(JSON.stringify(body));
    };
    if (!platform.oauth.allows(request.headers.authorization)) return reply(401, { error: 'invalid_token' });
    if (which === 'thumbnail') {
      const bytes = await readBytes(request, MAX_THUMBNAIL_BYTES);
      platform.thumbnail = { bytes, mime: request.headers['content-type'] ?? 'image/png' };
      return reply(200, { bytes: bytes.length });
    }
    const body = await readForm(request);
    if (which === 'announcement' && request.method === 'POST') {
      platform.announced.push(String((JSON.parse(body) as { text?: unknown }).text).slice(0, MAX_ANNOUNCED));
      return reply(200, {});
    }
    if (which === 'key') {
      if (request.method === 'POST') platform.key = newKey(platform.facts.name);
      return reply(200, { key: platform.key });
    }
    if (which !== 'broadcast' || request.method !== 'PUT') return reply(404, { error: 'not_found' });
    platform.details = JSON.parse(body) as Record<string, unknown>;
    reply(200, platform.details);
  }

  async function lineRequest(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const [first] = platforms.values();
    if (request.method === 'POST') {
      const form = new URLSearchParams(await readForm(request));
      const number = (name: string, most: number) =>
        Math.max(0, Math.min(most, Number(form.get(name) ?? 0) || 0));
      if (form.get('script') === 'evening') first.shaper.runScript(SCRIPTED_EVENING);
      else
        first.shaper.setLine({
          ...CLEAR_LINE,
          kbps: form.get('kbps') ? Math.max(1, number('kbps', 1e6)) : null,
          delayMs: number('delayMs', 5000),
          loss: number('loss', 1),
          jitterMs: number('jitterMs', 5000),
        });
      response.writeHead(303, { location: '/line' });
      return void response.end();
    }
    response.setHeader('content-type', 'text/html; charset=utf-8');
    response.end(linePage(line.line));
  }

  /** The broadcast as HTTP-FLV, without the key in the address. */
  function pipeLive(platform: Platform, response: ServerResponse): void {
    const upstream = http.get(
      { host: '127.0.0.1', port: flvPort, path: `/${platform.facts.name}/${platform.key}.flv` },
      (flv) => {
        response.writeHead(flv.statusCode ?? 502, {
          'content-type': 'video/x-flv',
          'access-control-allow-origin': '*',
          'cross-origin-resource-policy': 'cross-origin',
          'cache-control': 'no-store',
        });
        flv.pipe(response);
      },
    );
    upstream.on('error', () => response.destroy());
    response.on('close', () => upstream.destroy());
  }

  const sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_FORM_BYTES });
  server.on('upgrade', (request, socket, head) => {
    const [, name, what] = (request.url ?? '').split('/');
    const platform = platforms.get(name);
    if (!platform || what !== 'feed' || !isWelcome(request, true)) return void socket.destroy();
    sockets.handleUpgrade(request, socket, head, (ws) => platform.addFeed(ws));
  });
  await new Promise<void>((resolve) =>
    server.listen(Number(process.env.DOLOMITE_STANDIN_PORT ?? 0), '127.0.0.1', resolve),
  );
  const { port } = server.address() as net.AddressInfo;
  const facts = [...platforms.values()].map((platform) => ({
    connector: connectorOf(
      platform.facts,
      platform.servers,
      port,
      chatPorts.get(platform.facts.name) ?? null,
    ),
    servers: platform.servers,
    key: platform.key,
    // What tests and rehearsals watch and order.
    name: platform.facts.name,
    title: platform.facts.title,
    frame: platform.facts.frame,
    // On another host name than the studio: cookies do not tell ports apart.
    watchUrl: `http://localhost:${port}/${platform.facts.name}/watch`,
    accountUrl: `http://localhost:${port}/${platform.facts.name}/account`,
    lineUrl: `http://127.0.0.1:${port}/line`,
    playUrl: `http://127.0.0.1:${port}/${platform.facts.name}/live.flv`,
    chatPort: chatPorts.get(platform.facts.name) ?? null,
  }));
  writeFileSync(factsFile, JSON.stringify({ platforms: facts }), { mode: 0o600 });
  process.send?.({ ready: true, port });

  const stop = () => {
    for (const platform of platforms.values()) platform.close();
    server.close();
    server.closeAllConnections();
    void ingest.stop().finally(() => process.exit(0));
    setTimeout(() => process.exit(0), 500).unref();
  };
  process.on('SIGTERM', stop);
  // Whoever started this process is gone: nobody would start it again, and a second studio must not find it here.
  process.on('disconnect', stop);
  process.on('SIGINT', stop);
}

/** A body that is larger than anything asked for here. */
class TooMuch extends Error {}

async function readBytes(request: IncomingMessage, most: number): Promise<Buffer> {
  const parts: Buffer[] = [];
  let length = 0;
  for await (const part of request as AsyncIterable<Buffer>) {
    length += part.length;
    if (length > most) throw new TooMuch('too much at once');
    parts.push(part);
  }
  return Buffer.concat(parts);
}

async function readForm(request: IncomingMessage): Promise<string> {
  let body = '';
  for await (const part of request as AsyncIterable<Buffer>) {
    body += part.toString('utf8');
    if (body.length > MAX_FORM_BYTES) throw new TooMuch('too much at once');
  }
  return body;
}

main().catch((error: unknown) => {
  process.send?.({ failed: error instanceof Error ? error.message : String(error) });
  process.exit(1);
});
