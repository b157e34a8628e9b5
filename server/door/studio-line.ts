import { createHash, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer, type WebSocket } from 'ws';
import { DOOR, MESSAGE_BYTES } from '../../core/access/limits';
import { toDoorSchema, type FromDoor, type ToDoor } from '../../protocol/door';
import type { Log } from '../log';

/** A studio that went to sleep or lost its network is gone after two of these. */
const PING_MS = 5000;

const sum = (text: string) => createHash('sha256').update(text).digest();

/** The door's end of the line to its studio: the studio calls, shows the token, and there is one at a time. */
export class StudioLine {
  readonly #sockets = new WebSocketServer({ noServer: true, maxPayload: MESSAGE_BYTES.door });
  readonly #token: Buffer;
  #studio: WebSocket | null = null;
  #alive = true;
  readonly #timer: NodeJS.Timeout;

  constructor(
    readonly parts: {
      token: string;
      log: Log;
      /** What it is told first. */
      greet: () => FromDoor;
      take: (message: ToDoor) => void;
      /** Nobody answers any more. */
      lost: () => void;
    },
  ) {
    this.#token = sum(parts.token);
    this.#timer = setInterval(() => this.#ping(), PING_MS);
  }

  get connected(): boolean {
    return this.#studio !== null;
  }

  /** Whether a call carries the token. */
  knows({ headers }: Pick<IncomingMessage, 'headers'>): boolean {
    const shown = /^Bearer (.+)$/.exec(headers.authorization ?? '')?.[1] ?? '';
    return timingSafeEqual(sum(shown), this.#token);
  }

  /** Of a call that was found to carry the token. */
  accept(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    this.#sockets.handleUpgrade(request, socket, head, (studio) => {
      // The newer one is the one that lives: a studio that lost its network comes again before its old line is missed.
      if (this.#studio) {
        const old = this.#studio;
        this.#lose();
        old.close(1000, 'replaced');
      }
      this.#studio = studio;
      this.#alive = true;
      studio.on('pong', () => (this.#alive = true));
      studio.on('error', (error) => this.parts.log.debug({ error: error.message }, 'studio line error'));
      studio.on('close', () => this.#studio === studio && this.#lose());
      studio.on('message', (data: Buffer) => {
        if (this.#studio === studio) this.#hear(data);
      });
      this.parts.log.info('the studio is connected');
      this.say(this.parts.greet());
    });
  }

  /** @returns whether there is a studio that hears it */
  say(message: FromDoor): boolean {
    const studio = this.#studio;
    if (studio?.readyState !== 1) return false;
    if (studio.bufferedAmount > DOOR.studioWaitingBytes) {
      studio.terminate();
      return false;
    }
    studio.send(JSON.stringify(message));
    return true;
  }

  close(): void {
    clearInterval(this.#timer);
    this.#studio?.close(1001, 'the door closes');
    this.#sockets.close();
  }

  #hear(data: Buffer): void {
    try {
      const { error, value } = toDoorSchema.validate(JSON.parse(data.toString('utf8')));
      if (!error) return this.parts.take(value);
      this.parts.log.warn({ error: error.message }, 'the studio said what the door does not know');
    } catch (error) {
      this.parts.log.warn({ error: String(error) }, 'the studio said no message');
    }
  }

  #lose(): void {
    this.#studio = null;
    this.parts.log.info('the studio is gone');
    this.parts.lost();
  }

  #ping(): void {
    if (!this.#studio) return;
    if (!this.#alive) return this.#studio.terminate();
    this.#alive = false;
    this.#studio.ping();
  }
}
