import { randomBytes, randomUUID } from 'node:crypto';
import { Fault, messageOf } from '../../core/fault';
import { recordsOf } from '../../core/show/document';
import type { BroadcastState } from '../../protocol/bus';
import type { BeginOrder, DestinationOrder, RelayStatus } from '../../protocol/relay-orders';
import type { SecretRepository } from '../db/secret-repository';
import type { ShowRepository } from '../db/show-repository';
import type { Log } from '../log';
import type { RecordingRepository } from '../vault/recording-repository';
import type { RelayClient } from './relay-client';

const POLL_MS = 1000;
/** Where the running broadcast is kept, sealed like a key since its ticket is one. */
const STORED = 'broadcast';

interface Stored {
  order: Omit<BeginOrder, 'destinations'>;
  showId: string;
  startedAtMs: number;
}

/** Starts and stops broadcasts, and keeps watching the relay while one runs. */
export class Broadcast {
  state: BroadcastState = { state: 'off' };
  status: RelayStatus | null = null;
  #order: Omit<BeginOrder, 'destinations'> | null = null;
  #showId: string | null = null;
  #startedAtMs = 0;
  #polling = false;
  readonly #timer: NodeJS.Timeout;

  constructor(
    readonly options: {
      relay: RelayClient;
      uplinkUrl: string;
      shows: ShowRepository;
      secrets: SecretRepository;
      recordings: RecordingRepository;
      log: Log;
      now: () => number;
      changed: () => void;
    },
  ) {
    this.#timer = setInterval(() => void this.#poll(), POLL_MS);
  }

  /** After a restart of the web server: a broadcast that was not stopped is taken up again. */
  resume(): void {
    const stored = this.options.secrets.get(STORED);
    if (stored === null) return;
    const { order, showId, startedAtMs } = JSON.parse(stored) as Stored;
    this.#order = order;
    this.#showId = showId;
    this.#startedAtMs = startedAtMs;
    this.#setOn();
  }

  /** @throws Fault `broadcast.*` or `relay.*` with what to do */
  async start(showId: string, origin: string): Promise<Omit<BeginOrder, 'destinations'>> {
    if (this.state.state !== 'off')
      throw new Fault('broadcast.on', 'a broadcast is on already: stop it first');
    const order = {
      sessionId: randomUUID(),
      ticket: randomBytes(24).toString('base64url'),
      origin,
      recordingFolder: this.options.recordings.folder,
    };
    this.status = await this.options.relay.begin({ ...order, destinations: this.#destinations(showId) });
    this.#order = order;
    this.#showId = showId;
    this.#startedAtMs = this.options.now();
    const stored: Stored = { order, showId, startedAtMs: this.#startedAtMs };
    this.options.secrets.set(STORED, JSON.stringify(stored), this.#startedAtMs);
    this.#setOn();
    return order;
  }

  async stop(): Promise<void> {
    const showId = this.#showId;
    // The wish to stop holds even when the relay cannot be told: it is not opened anew.
    this.#order = null;
    this.#showId = null;
    this.state = { state: 'off' };
    this.options.secrets.remove(STORED);
    try {
      await this.options.relay.end();
    } finally {
      this.status = null;
      if (showId) await this.options.recordings.scan(showId, null);
      this.options.changed();
    }
  }

  /** Tells the relay about a destination that was changed, added or removed while on air. */
  async destinationChanged(showId: string, destinationId: string): Promise<void> {
    if (this.state.state === 'off') return;
    const order = this.#destinations(showId).find((d) => d.id === destinationId);
    this.status = await (order
      ? this.options.relay.setDestination(order)
      : this.options.relay.removeDestination(destinationId));
    this.options.changed();
  }

  close(): void {
    clearInterval(this.#timer);
  }

  #destinations(showId: string): DestinationOrder[] {
    return recordsOf(this.options.shows.document(showId), 'destination')
      .filter((d) => d.enabled)
      .map((d) => ({
        id: d.id,
        name: d.name,
        frame: d.frame,
        url: d.url,
        key: this.options.secrets.get(d.id) ?? '',
      }));
  }

  #setOn(): void {
    if (!this.#order) return;
    const { sessionId, ticket } = this.#order;
    this.state = {
      state: 'on',
      sessionId,
      ticket,
      uplinkUrl: this.options.uplinkUrl,
      startedAtMs: this.#startedAtMs,
    };
    this.options.changed();
  }

  async #poll(): Promise<void> {
    if (this.#polling || this.state.state === 'off') return;
    this.#polling = true;
    try {
      const status = await this.options.relay.status();
      // Stopped while we asked: what came back is about the past.
      if (!this.#order || !this.#showId) return;
      this.status = status;
      if (status.session?.id !== this.#order.sessionId) {
        // The relay was started anew and knows nothing: open the same session again, with the same ticket.
        this.options.log.warn('the relay lost the broadcast: opening it anew');
        this.status = await this.options.relay.begin({
          ...this.#order,
          destinations: this.#destinations(this.#showId),
        });
      }
      this.#setOn();
    } catch (error) {
      if (!this.#order) return;
      this.status = null;
      this.state = { state: 'relayGone', message: messageOf(error) };
      this.options.changed();
    } finally {
      this.#polling = false;
    }
  }
}
