import tls from 'node:tls';
import { WebSocket, type ClientOptions } from 'ws';
import { MESSAGE_BYTES } from '../../core/access/limits';
import { Fault, messageOf } from '../../core/fault';
import {
  DOOR_VERSION,
  fromDoorSchema,
  type DoorAddress,
  type FromDoor,
  type ToDoor,
} from '../../protocol/door';
import type { Log } from '../log';
import { Visitors, type VisitorParts } from './visitors';

/** Tried again after this, longer each time it fails. */
const AGAIN_MS = [500, 1000, 2000, 5000, 10_000, 30_000];
/** The door asks whether the studio lives every five seconds: one that says nothing for three of them is gone. */
const QUIET_MS = 16_000;
const REACH_MS = 10_000;

export interface DoorLineOptions {
  /** Of the door, with scheme and `/` at its end. */
  url: string;
  token: string;
  /** Of its certificate, when no authority vouches for it. */
  fingerprint: string | null;
  log: Log;
  visitors: VisitorParts;
}

/** The studio's line to a door: called from here, outward, and called again as long as it is wanted. */
export class DoorLine {
  readonly visitors: Visitors;
  #socket: WebSocket | null = null;
  #tries = 0;
  #timer: NodeJS.Timeout | undefined;
  #quietTimer: NodeJS.Timeout | undefined;
  #closed = false;
  #house = false;
  /** Whether it can be opened to the local network. */
  canHouse = false;
  connected = false;
  /** Why it is not connected, or not as open as it should be; null when all is well. */
  problem: string | null = null;
  addresses: readonly DoorAddress[] = [];

  constructor(readonly options: DoorLineOptions) {
    this.visitors = new Visitors(options.visitors, (message) => this.#say(message));
    void this.#call();
  }

  /** Opens a door on this computer to the local network, or closes it. It is told again after each new call. */
  setHouse(open: boolean): void {
    this.#house = open;
    if (this.canHouse) this.#say({ type: 'listen', house: open });
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#timer);
    clearTimeout(this.#quietTimer);
    this.#socket?.close(1000);
    this.visitors.lost();
  }

  async #call(): Promise<void> {
    try {
      const tlsOptions = await this.#trusted();
      if (this.#closed) return;
      const socket = new WebSocket(new URL('studio', this.options.url.replace(/^http/, 'ws')), {
        ...tlsOptions,
        headers: { authorization: `Bearer ${this.options.token}` },
        maxPayload: MESSAGE_BYTES.door,
        handshakeTimeout: REACH_MS,
      });
      this.#socket = socket;
      socket.on('message', (data: Buffer) => this.#hear(data));
      socket.on('ping', () => this.#heard());
      socket.on('open', () => this.#heard());
      socket.on('unexpected-response', (_, response) => {
        this.problem =
          response.statusCode === 401
            ? 'The door does not know this studio: take the line it prints, and enter it again.'
            : `The door answered ${response.statusCode}: is this its address?`;
        response.resume();
        socket.terminate();
      });
      socket.on('error', (error) => {
        this.problem ??= `The door cannot be reached: ${error.message}.`;
      });
      socket.on('close', () => this.#lose());
    } catch (error) {
      this.problem = messageOf(error);
      this.#lose();
    }
  }

  /**
   * For a door that nobody vouches for: its certificate is fetched, compared with the fingerprint the owner copied, and then
   * the only one that is accepted. The token is shown to nobody before.
   */
  async #trusted(): Promise<ClientOptions> {
    const { url, fingerprint } = this.options;
    if (fingerprint === null) return {};
    const { hostname, port } = new URL(url);
    const host = hostname.replace(/^\[|\]$/g, '');
    const pem = await new Promise<string>((resolve, reject) => {
      const probe = tls.connect(
        { host, port: Number(port || 443), rejectUnauthorized: false, timeout: REACH_MS },
        () => {
          const certificate = probe.getPeerX509Certificate();
          probe.destroy();
          if (certificate?.fingerprint256 === fingerprint) resolve(certificate.toString());
          else
            reject(
              new Fault(
                'door.fingerprint',
                'Another certificate answers there than the one you entered: somebody stands between, or the door made a new one. Compare the fingerprint it prints.',
              ),
            );
        },
      );
      probe.on('timeout', () => probe.destroy(new Error('it does not answer')));
      probe.on('error', (error) =>
        reject(new Fault('door.unreachable', `The door cannot be reached: ${error.message}.`)),
      );
    });
    // Known by its fingerprint, not by its name.
    const known: tls.ConnectionOptions = { ca: pem, checkServerIdentity: () => undefined };
    return known as ClientOptions;
  }

  #hear(data: Buffer): void {
    this.#heard();
    let message: FromDoor;
    try {
      const { error, value } = fromDoorSchema.validate(JSON.parse(data.toString('utf8')));
      if (error) throw error;
      message = value;
    } catch (error) {
      this.options.log.warn({ error: messageOf(error) }, 'the door said what the studio does not know');
      return;
    }
    if (message.type === 'hello') return this.#greeted(message);
    if (!this.connected) return;
    try {
      this.visitors.hear(message);
    } catch (error) {
      // A studio that ended for one message would take the broadcast's pages with it.
      this.options.log.error({ error: messageOf(error), type: message.type }, 'what came by the door failed');
      if (message.type === 'ask')
        this.#say({
          type: 'answer',
          id: message.id,
          status: 500,
          cookie: null,
          body: JSON.stringify({ code: 'door.500', message: 'This did not work. The studio has noted why.' }),
        });
    }
  }

  #greeted({ version, addresses, house, problem }: Extract<FromDoor, { type: 'hello' }>): void {
    if (version !== DOOR_VERSION) {
      this.problem = `The door runs another version of Dolomite (it speaks ${version}, this studio ${DOOR_VERSION}): bring both to the same.`;
      this.#socket?.close(1000);
      return;
    }
    const first = !this.connected;
    this.connected = true;
    this.#tries = 0;
    this.addresses = addresses;
    this.canHouse = house;
    this.problem = problem;
    if (first && house) this.setHouse(this.#house);
  }

  #heard(): void {
    clearTimeout(this.#quietTimer);
    this.#quietTimer = setTimeout(() => this.#socket?.terminate(), QUIET_MS);
  }

  #lose(): void {
    clearTimeout(this.#quietTimer);
    if (this.connected) {
      this.connected = false;
      this.problem ??= 'The door is gone.';
      this.visitors.lost();
    }
    if (this.#closed) return;
    const wait = AGAIN_MS[Math.min(this.#tries, AGAIN_MS.length - 1)];
    this.#tries += 1;
    this.#timer = setTimeout(() => {
      void this.#call();
    }, wait);
  }

  #say(message: ToDoor): void {
    if (this.#socket?.readyState === WebSocket.OPEN) this.#socket.send(JSON.stringify(message));
  }
}
