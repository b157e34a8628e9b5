import { timingSafeEqual } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { WebSocket } from 'ws';
import type { Clock } from '../../core/time/clock';
import { Fault, messageOf } from '../../core/fault';
import {
  decodeDeskMessage,
  encodeRelayMessage,
  UPLINK_CLOSE,
  UPLINK_VERSION,
  type RelayMessage,
} from '../../protocol/uplink';
import type { Log } from '../log';
import type { Session } from './session';

/** A desk says hello at once; anything that waits longer is not one. */
const HELLO_MS = 5000;
/** Acknowledgements at least this often while packets come: the desk sees a slow line within a picture or two. */
const ACK_MS = 100;

function sameText(a: string, b: string): boolean {
  const x = Buffer.from(a);
  const y = Buffer.from(b);
  return x.length === y.length && timingSafeEqual(x, y);
}

/** Serves the uplink of the one session there is. */
export class UplinkServer {
  #desk: WebSocket | null = null;

  constructor(
    readonly session: () => Session | null,
    readonly log: Log,
    readonly clock: Clock,
  ) {}

  accept(socket: WebSocket, request: IncomingMessage): void {
    let greeted = false;
    const say = (message: RelayMessage) => {
      if (socket.readyState === socket.OPEN) socket.send(encodeRelayMessage(message));
    };
    const refuse = (code: string, message: string, closeCode: number = UPLINK_CLOSE.refused) => {
      this.log.warn({ code }, `uplink refused: ${message}`);
      say({ type: 'refuse', code, message });
      socket.close(closeCode, code);
    };
    const cancelWait = this.clock.after(HELLO_MS, () => refuse('uplink.silent', 'no hello came'));
    let acknowledged = 0;
    let rates = '{}';
    const endAcks = this.clock.every(ACK_MS, () => {
      const last = this.session()?.lastSequence ?? 0;
      if (greeted && last !== acknowledged && this.#desk === socket) {
        acknowledged = last;
        say({ type: 'ack', sequence: last });
      }
      const shares = this.session()?.shares ?? {};
      const told = JSON.stringify(shares, (_, value: unknown) =>
        typeof value === 'number' ? Math.round(value * 100) / 100 : value,
      );
      if (greeted && told !== rates && this.#desk === socket) {
        rates = told;
        say({ type: 'rates', shares });
      }
    });

    socket.on('message', (data: Buffer, isBinary: boolean) => {
      try {
        if (!isBinary) throw new Fault('uplink.garbage', 'uplink: text where bytes are expected');
        const message = decodeDeskMessage(data);
        const session = this.session();
        if (message.type === 'hello') {
          cancelWait();
          if (message.version !== UPLINK_VERSION)
            return refuse(
              'uplink.version',
              `version ${message.version} is not spoken here: reload the studio`,
            );
          if (!session || session.order.sessionId !== message.sessionId)
            return refuse('uplink.session', 'this broadcast is not known to the relay');
          if (!sameText(message.ticket, session.order.ticket))
            return refuse('uplink.ticket', 'the ticket is wrong');
          if (request.headers.origin !== undefined && request.headers.origin !== session.order.origin)
            return refuse('uplink.origin', `pages of ${request.headers.origin} may not send here`);
          if (this.#desk && this.#desk !== socket)
            this.#desk.close(UPLINK_CLOSE.replaced, 'another desk took over');
          this.#desk = socket;
          greeted = true;
          acknowledged = -1;
          return say({ type: 'welcome', ...session.hello(message.source) });
        }
        if (!greeted || !session) return refuse('uplink.order', 'hello comes first');
        if (this.#desk !== socket) return;
        if (message.type === 'config') session.config(message);
        else if (message.type === 'packet') session.packet(message);
        else if (message.type === 'coverEnd') session.coverComplete(message.encode);
        else socket.close(1000);
      } catch (error) {
        if (!(error instanceof Fault)) throw error;
        refuse(error.code, messageOf(error), UPLINK_CLOSE.garbage);
      }
    });
    socket.on('error', (error) => this.log.warn({ error: error.message }, 'uplink socket error'));
    socket.on('close', () => {
      cancelWait();
      endAcks();
      if (this.#desk === socket) this.#desk = null;
    });
  }

  /** Closes the desk's connection, telling it that the broadcast has ended. */
  end(): void {
    this.#desk?.close(UPLINK_CLOSE.ended, 'the broadcast has ended');
    this.#desk = null;
  }
}
