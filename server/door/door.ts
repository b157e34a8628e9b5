import { STATUS_CODES, type IncomingMessage, type ServerResponse } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import { bodyProblem, ruleFor } from '../../core/access/access-table';
import { DOOR_TABLE, isSigned } from '../../core/access/door-table';
import { DOOR, MESSAGE_BYTES } from '../../core/access/limits';
import { isFromOwnPage } from '../../core/access/own-origin';
import { COME_AGAIN, isPassed, type FromDoor, type Passed, type ToDoor } from '../../protocol/door';
import type { DoorPage } from './pages';
import { Rates } from './rates';

/** How long the studio may take for an answer. */
const ANSWER_MS = 15_000;
/** A socket that does not answer is gone after two of these. */
const PING_MS = 15_000;

const GONE = 'The studio is not connected to its door at the moment. Try again in a while.';

/** Where somebody came in: what their browser calls this place. */
export interface Entrance {
  secure: boolean;
  port: number;
}

interface Asked {
  response: ServerResponse;
  timer: NodeJS.Timeout;
}

interface Guest {
  socket: WebSocket;
  alive: boolean;
  second: number;
  said: number;
}

/**
 * What strangers reach: its own pages, and a narrow passage to the studio for what its table names. It holds no secret of
 * the studio and decides nobody's rights: limits are kept here, rights there.
 */
export class Door {
  #lastId = 0;
  /** Bytes of bodies that are on their way in. */
  #reading = 0;
  readonly #asked = new Map<number, Asked>();
  /** Openings that wait for the studio's word. */
  readonly #opening = new Map<
    number,
    { accept: (protocol: string | null) => void; refuse: (status: number) => void }
  >();
  readonly #guests = new Map<number, Guest>();
  readonly #rates: Rates;
  readonly #sockets = new WebSocketServer({ noServer: true, maxPayload: MESSAGE_BYTES.visitor });
  readonly #timer: NodeJS.Timeout;

  constructor(
    readonly parts: {
      say: (message: FromDoor) => boolean;
      page: (path: string) => DoorPage | null;
      now: () => number;
    },
  ) {
    this.#rates = new Rates(DOOR.burst, DOOR.perSecond, parts.now);
    this.#timer = setInterval(() => this.#ping(), PING_MS);
  }

  request(request: IncomingMessage, response: ServerResponse, entrance: Entrance): void {
    const path = (request.url ?? '/').replace(/\?.*$/s, '');
    const how = request.method === 'GET' || request.method === 'HEAD' ? 'read' : 'write';
    for (const [name, value] of Object.entries(headersOf(request, entrance))) response.setHeader(name, value);
    const rule = how === 'read' || request.method === 'POST' ? ruleFor(how, path, DOOR_TABLE) : null;
    const refuse = (status: number, message: string) =>
      this.#answer(response, status, { code: `door.${status}`, message });
    if (!rule) return refuse(404, 'There is nothing here under this address.');
    if (!this.#rates.take(request.socket.remoteAddress))
      return refuse(429, 'Too many requests from your address: wait a few seconds.');
    const page = how === 'read' ? this.parts.page(path) : null;
    if (page) {
      response.setHeader('content-type', page.type);
      response.setHeader('cache-control', 'no-cache');
      response.end(request.method === 'HEAD' ? undefined : page.body);
      return;
    }
    if (how === 'write' && !isSigned(rule) && !cameFromHere(request, entrance))
      return refuse(403, 'Another page tried to do this. Nothing was done.');
    const length =
      request.headers['transfer-encoding'] === undefined
        ? Number(request.headers['content-length'] ?? 0)
        : null;
    // Without a length it is counted while it comes.
    if (bodyProblem(rule, length) === 'large') {
      this.parts.say({ type: 'tooLarge', path });
      response.setHeader('connection', 'close');
      return refuse(413, 'This is more than is taken at once: send less.');
    }
    if (this.#asked.size >= DOOR.asked) return refuse(503, 'The door is busy: try again in a few seconds.');
    this.#read(request, rule.maxBytes ?? 0, (body) => {
      if (typeof body === 'string') {
        response.setHeader('connection', 'close');
        if (body === 'busy') return refuse(503, 'The door is busy: try again in a few seconds.');
        this.parts.say({ type: 'tooLarge', path });
        return refuse(413, 'This is more than is taken at once: send less.');
      }
      this.#ask(how, path, request, response, entrance, body.text);
    });
  }

  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer, entrance: Entrance): void {
    const path = request.url ?? '/';
    const rule = ruleFor('socket', path, DOOR_TABLE);
    const refuse = (status: number) =>
      socket.end(`HTTP/1.1 ${status} ${STATUS_CODES[status] ?? 'Refused'}\r\nConnection: close\r\n\r\n`);
    if (!rule) return void refuse(404);
    if (!this.#rates.take(request.socket.remoteAddress)) return void refuse(429);
    if (!isSigned(rule) && !cameFromHere(request, entrance)) return void refuse(403);
    if (this.#guests.size + this.#opening.size >= DOOR.sockets) return void refuse(503);
    const id = (this.#lastId += 1);
    const done = () => {
      clearTimeout(timer);
      this.#opening.delete(id);
      socket.off('close', left);
    };
    const left = () => {
      done();
      this.parts.say({ type: 'left', id });
    };
    const timer = setTimeout(() => {
      left();
      refuse(504);
    }, ANSWER_MS);
    socket.on('close', left);
    socket.on('error', () => socket.destroy());
    this.#opening.set(id, {
      accept: (protocol) => {
        done();
        this.#welcome(id, protocol, request, socket, head);
      },
      refuse: (status) => {
        done();
        refuse(status);
      },
    });
    if (!this.parts.say({ type: 'open', id, ...passedOf(path, request, entrance) })) {
      done();
      refuse(503);
    }
  }

  /** What the studio says. */
  hear(message: Exclude<ToDoor, { type: 'listen' }>): void {
    switch (message.type) {
      case 'answer': {
        const asked = this.#asked.get(message.id);
        if (!asked) return;
        this.#forget(message.id, asked);
        if (message.cookie !== null) asked.response.setHeader('set-cookie', message.cookie);
        this.#answer(asked.response, message.status, message.body);
        return;
      }
      case 'opened':
        // Who left while the studio thought about it was told as left.
        return this.#opening.get(message.id)?.accept(message.protocol);
      case 'refused':
        return this.#opening.get(message.id)?.refuse(message.status);
      case 'say': {
        const guest = this.#guests.get(message.id);
        if (guest?.socket.readyState !== 1) return;
        if (guest.socket.bufferedAmount > DOOR.waitingBytes) guest.socket.terminate();
        else guest.socket.send(message.text);
        return;
      }
      case 'shut':
        // 1013: try again later; 1008: not so (RFC 6455 registry).
        this.#guests.get(message.id)?.socket.close(message.why === COME_AGAIN ? 1013 : 1008, message.why);
    }
  }

  /** The studio does not answer any more: nobody is left waiting, and who is connected learns it at once. */
  lost(): void {
    for (const [id, asked] of this.#asked) {
      this.#forget(id, asked);
      this.#answer(asked.response, 503, { code: 'door.503', message: GONE });
    }
    for (const { refuse } of [...this.#opening.values()]) refuse(503);
    // 1013: try again later (RFC 6455 registry).
    for (const { socket } of this.#guests.values()) socket.close(1013, 'the studio is gone');
    this.#guests.clear();
  }

  close(): void {
    clearInterval(this.#timer);
    this.lost();
    this.#sockets.close();
  }

  #ask(
    how: 'read' | 'write',
    path: string,
    request: IncomingMessage,
    response: ServerResponse,
    entrance: Entrance,
    body: string,
  ): void {
    const id = (this.#lastId += 1);
    const asked: Asked = {
      response,
      timer: setTimeout(() => {
        this.#forget(id, asked);
        this.#answer(response, 504, {
          code: 'door.504',
          message: 'The studio took too long to answer. Try again.',
        });
      }, ANSWER_MS),
    };
    this.#asked.set(id, asked);
    response.on('close', () => this.#forget(id, asked));
    if (this.parts.say({ type: 'ask', id, how, ...passedOf(path, request, entrance), body })) return;
    this.#forget(id, asked);
    this.#answer(response, 503, { code: 'door.503', message: GONE });
  }

  #welcome(
    id: number,
    protocol: string | null,
    request: IncomingMessage,
    socket: Duplex,
    head: Buffer,
  ): void {
    this.#sockets.options.handleProtocols = () => protocol ?? false;
    this.#sockets.handleUpgrade(request, socket, head, (ws) => {
      const guest: Guest = { socket: ws, alive: true, second: 0, said: 0 };
      this.#guests.set(id, guest);
      ws.on('pong', () => (guest.alive = true));
      ws.on('error', () => ws.terminate());
      ws.on('close', () => {
        this.#guests.delete(id);
        this.parts.say({ type: 'left', id });
      });
      ws.on('message', (data: Buffer) => {
        const second = Math.floor(this.parts.now() / 1000);
        guest.said = guest.second === second ? guest.said + 1 : 1;
        guest.second = second;
        if (guest.said > DOOR.saidPerSecond) ws.close(1008, 'too many messages: wait a second');
        // One that was told to go may still have messages on the way.
        else if (ws.readyState === ws.OPEN) this.parts.say({ type: 'said', id, text: data.toString('utf8') });
      });
    });
  }

  /**
   * Reads a body to its end.
   * @param done with the text; `large` when there was more than may be, `busy` when too much is being read from all
   */
  #read(
    request: IncomingMessage,
    maxBytes: number,
    done: (body: { text: string } | 'large' | 'busy') => void,
  ): void {
    const chunks: Buffer[] = [];
    let bytes = 0;
    let over = false;
    const finish = (body: { text: string } | 'large' | 'busy') => {
      if (over) return;
      over = true;
      this.#reading -= bytes;
      done(body);
    };
    request.on('data', (chunk: Buffer) => {
      // What still comes after it was refused is let go by.
      if (over) return;
      bytes += chunk.length;
      this.#reading += chunk.length;
      if (bytes > maxBytes) finish('large');
      else if (this.#reading > DOOR.readingBytes) finish('busy');
      else chunks.push(chunk);
    });
    request.on('end', () => finish({ text: Buffer.concat(chunks).toString('utf8') }));
    request.on('error', () => request.destroy());
    // Who goes in the middle is answered nothing.
    request.on('close', () => {
      if (over) return;
      over = true;
      this.#reading -= bytes;
    });
  }

  #answer(response: ServerResponse, status: number, body: string | object): void {
    if (response.headersSent || response.destroyed) return;
    response.writeHead(status, { 'content-type': 'application/json', 'cache-control': 'no-store' });
    response.end(typeof body === 'string' ? body : JSON.stringify(body));
  }

  #forget(id: number, { timer }: Asked): void {
    clearTimeout(timer);
    this.#asked.delete(id);
  }

  #ping(): void {
    for (const guest of this.#guests.values()) {
      if (!guest.alive) {
        guest.socket.terminate();
        continue;
      }
      guest.alive = false;
      guest.socket.ping();
    }
  }
}

/** Whether what would change something comes from a page of this very door, or from a program. */
function cameFromHere(request: IncomingMessage, { secure }: Entrance): boolean {
  const origin = `${secure ? 'https' : 'http'}://${(request.headers.host ?? '').toLowerCase()}`;
  return isFromOwnPage(request.headers, new Set([origin]));
}

function passedOf(path: string, { headers }: IncomingMessage, { secure, port }: Entrance): Passed {
  const passed: Record<string, string> = {};
  for (const [name, value] of Object.entries(headers))
    if (value !== undefined && isPassed(name)) passed[name] = Array.isArray(value) ? value[0] : value;
  return { path, headers: passed, port, secure };
}

function headersOf({ headers }: IncomingMessage, { secure }: Entrance): Record<string, string> {
  // A host that could hold a sign of the policy's own is not repeated in it.
  const host = /^[\w.:[\]-]{1,255}$/.test(headers.host ?? '') ? headers.host : '';
  return {
    'X-Content-Type-Options': 'nosniff',
    'Referrer-Policy': 'no-referrer',
    'X-Frame-Options': 'DENY',
    'Content-Security-Policy': [
      "default-src 'self'",
      // Pictures on a pad's tiles come over its socket.
      "img-src 'self' data:",
      "style-src 'self' 'unsafe-inline'",
      `connect-src 'self' ${host && `${secure ? 'wss' : 'ws'}://${host}`}`,
      "frame-ancestors 'none'",
      "base-uri 'none'",
      "object-src 'none'",
      "form-action 'self'",
    ].join('; '),
  };
}
