import type { WebSocket } from 'ws';
import { REVOKED } from '../../core/access/roles';
import { messageOf } from '../../core/fault';
import { busFromPageSchema, type BusFromPage, type BusFromServer } from '../../protocol/bus';
import type { DeskHealth } from '../../protocol/relay-orders';
import type { Log } from '../log';

/** A reload must find its desk free again, a crashed page must not block for long. */
const PING_MS = 2000;
/** A page that is only loaded again is back by then. */
const EMPTY_MS = 5 * 60_000;

/**
 * The bus to all pages of a show, and the lease that makes one of them the desk.
 * The first page to claim gets it; another gets it when the first is gone or when its user says "take over".
 */
export class BusServer {
  readonly #pages = new Map<WebSocket, { deskId: string | null; alive: boolean; visitorId: string }>();
  #holder: WebSocket | null = null;
  health: DeskHealth | null = null;
  readonly #timer: NodeJS.Timeout;
  #emptyTimer: NodeJS.Timeout | undefined;
  #closed = false;

  constructor(
    readonly log: Log,
    readonly greet: () => BusFromServer[],
    /** What the desk says, but for its lease and its health. */
    readonly onMessage: (message: Exclude<BusFromPage, { type: 'claim' | 'health' }>) => void,
    /** No page has been here for a while. */
    readonly onEmpty: () => void = () => {},
  ) {
    this.#timer = setInterval(() => this.#ping(), PING_MS);
    // A show may be opened by somebody who never comes, such as a webhook.
    this.#emptySoon();
  }

  get hasDesk(): boolean {
    return this.#holder !== null;
  }

  get pages(): number {
    return this.#pages.size;
  }

  /** @param visitorId whoever was let in */
  accept(socket: WebSocket, visitorId: string): void {
    clearTimeout(this.#emptyTimer);
    this.#pages.set(socket, { deskId: null, alive: true, visitorId });
    for (const message of this.greet()) this.#say(socket, message);
    socket.on('pong', () => {
      const page = this.#pages.get(socket);
      if (page) page.alive = true;
    });
    socket.on('message', (data: Buffer) => {
      const message = this.#parse(data);
      if (!message) return socket.close(1008, 'not a bus message');
      try {
        this.#take(socket, message);
      } catch (error) {
        // A server that ends for one message would take the broadcast's pages with it.
        this.log.error(
          { error: messageOf(error), type: message.type },
          'a page’s message was not carried out',
        );
      }
    });
    socket.on('error', (error) => this.log.debug({ error: error.message }, 'bus socket error'));
    socket.on('close', () => {
      this.#pages.delete(socket);
      if (this.#pages.size === 0 && !this.#closed) this.#emptySoon();
      if (this.#holder === socket) {
        this.#holder = null;
        this.health = null;
        this.#tellLease();
      }
    });
  }

  /** These may not be here any more. */
  sendOut(visitorIds: readonly string[]): void {
    for (const [socket, { visitorId }] of this.#pages)
      if (visitorIds.includes(visitorId)) socket.close(1008, REVOKED);
  }

  broadcast(message: BusFromServer): void {
    for (const socket of this.#pages.keys()) this.#say(socket, message);
  }

  /** @returns whether there is a desk to hear it */
  sayToDesk(message: BusFromServer): boolean {
    if (!this.#holder) return false;
    this.#say(this.#holder, message);
    return true;
  }

  close(): void {
    this.#closed = true;
    clearInterval(this.#timer);
    clearTimeout(this.#emptyTimer);
    for (const socket of this.#pages.keys()) socket.terminate();
  }

  #emptySoon(): void {
    clearTimeout(this.#emptyTimer);
    this.#emptyTimer = setTimeout(this.onEmpty, EMPTY_MS);
    this.#emptyTimer.unref();
  }

  #parse(data: Buffer): BusFromPage | null {
    try {
      const { error, value } = busFromPageSchema.validate(JSON.parse(data.toString('utf8')));
      if (!error) return value;
      this.log.warn({ error: error.message }, 'bus message refused');
    } catch {
      this.log.warn('bus message is not JSON');
    }
    return null;
  }

  #take(socket: WebSocket, message: BusFromPage): void {
    const page = this.#pages.get(socket);
    if (!page) return;
    if (message.type === 'claim') {
      page.deskId = message.deskId;
      const holder = this.#holder && this.#pages.get(this.#holder);
      if (!holder || message.takeOver || holder.deskId === message.deskId) this.#holder = socket;
      this.#tellLease();
    } else if (this.#holder === socket) {
      if (message.type === 'health') this.health = message.health;
      else this.onMessage(message);
    }
  }

  #tellLease(): void {
    for (const [socket, page] of this.#pages) {
      if (page.deskId === null) continue;
      this.#say(socket, {
        type: 'lease',
        held: socket === this.#holder,
        byOther: this.#holder !== null && socket !== this.#holder,
      });
    }
  }

  #say(socket: WebSocket, message: BusFromServer): void {
    if (socket.readyState === socket.OPEN) socket.send(JSON.stringify(message));
  }

  #ping(): void {
    for (const [socket, page] of this.#pages) {
      if (!page.alive) {
        socket.terminate();
        continue;
      }
      page.alive = false;
      socket.ping();
    }
  }
}
