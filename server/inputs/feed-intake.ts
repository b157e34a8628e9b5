/** Takes in what encoders, phones and cameras publish by RTMP, each by a key of its own. */
import net from 'node:net';
import { messageOf } from '../../core/fault';
import type { FlvTag } from '../../core/media/flv-stream';
import { RtmpReceiver } from '../../core/media/rtmp-receiver';
import type { Log } from '../log';

export interface IntakeHooks {
  /** The input a key belongs to; null for none. */
  inputOf(key: string): string | null;
  onBegin(inputId: string): void;
  onTag(inputId: string, tag: FlvTag): void;
  /** @param why in words */
  onEnd(inputId: string, why: string): void;
}

/** The name before the key. */
export const INTAKE_APP = 'feed';
/** A connection that sends nothing for so long is let go. */
const IDLE_MS = 15_000;
/** So long it may take to come to publishing, whatever it sends meanwhile. */
const PUBLISH_WITHIN_MS = 10_000;
/** Feeds of one show, and some that knock in vain. */
const MAX_CONNECTIONS = 64;
/** Whoever guesses keys waits. */
const REFUSE_AFTER_MS = 1000;

export class FeedIntake {
  readonly #server: net.Server;
  /** Which connection sends an input just now. */
  readonly #senders = new Map<string, net.Socket>();
  readonly #sockets = new Set<net.Socket>();

  constructor(
    readonly hooks: IntakeHooks,
    readonly log: Log,
    readonly random: () => number = Math.random,
  ) {
    this.#server = net.createServer((socket) => this.#take(socket));
    this.#server.maxConnections = MAX_CONNECTIONS;
  }

  /** @param port 0 for any that is free @throws when the port is taken */
  async listen(port: number, host: string): Promise<number> {
    await new Promise<void>((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(port, host, () => {
        this.#server.off('error', reject);
        this.#server.on('error', (error) => this.log.error({ error: error.message }, 'feed intake'));
        resolve();
      });
    });
    return this.port;
  }

  get port(): number {
    const address = this.#server.address();
    return address !== null && typeof address === 'object' ? address.port : 0;
  }

  /** Ends whoever sends this input: its key is another one now. */
  drop(inputId: string): void {
    this.#senders.get(inputId)?.destroy();
  }

  close(): void {
    this.#server.close();
    for (const socket of this.#sockets) socket.destroy();
  }

  #take(socket: net.Socket): void {
    this.#sockets.add(socket);
    socket.setNoDelay(true);
    socket.setTimeout(IDLE_MS, () => socket.destroy());
    const receiver = new RtmpReceiver(this.random);
    const deadline = setTimeout(() => socket.destroy(), PUBLISH_WITHIN_MS);
    let inputId: string | null = null;
    const end = (why: string) => {
      if (inputId === null || this.#senders.get(inputId) !== socket) return;
      this.#senders.delete(inputId);
      this.hooks.onEnd(inputId, why);
      inputId = null;
    };
    socket.on('data', (bytes) => {
      try {
        const { send, events } = receiver.receive(bytes);
        if (send.length > 0) socket.write(send);
        for (const event of events) {
          if (event.type === 'tag' && inputId !== null) this.hooks.onTag(inputId, event.tag);
          else if (event.type === 'ended') end('the sending side has stopped');
          else if (event.type === 'publish') {
            const found = event.app === INTAKE_APP ? this.hooks.inputOf(event.key) : null;
            if (found === null) {
              setTimeout(() => socket.end(receiver.refuse('this key is not known here')), REFUSE_AFTER_MS);
              return;
            }
            // An encoder that lost its connection comes again before the old one is noticed to be gone.
            this.#senders.get(found)?.destroy();
            inputId = found;
            clearTimeout(deadline);
            this.#senders.set(found, socket);
            socket.write(receiver.accept());
            this.hooks.onBegin(found);
          }
        }
      } catch (error) {
        this.log.warn({ error: messageOf(error) }, 'a feed was not RTMP');
        end('what it sends cannot be read');
        socket.destroy();
      }
    });
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      clearTimeout(deadline);
      this.#sockets.delete(socket);
      end('the sending side is gone');
    });
  }
}
