import type { AudienceEvent } from '~/core/audience/events';
import type { BroadcastState, BusFromPage, BusFromServer, PlatformStatus } from '~/protocol/bus';
import type { RelayStatus } from '~/protocol/relay-orders';

export interface BusSnapshot {
  connected: boolean;
  lease: 'asking' | 'held' | 'elsewhere';
  events: readonly AudienceEvent[];
  platforms: readonly PlatformStatus[];
  relay: RelayStatus | null;
  broadcast: BroadcastState;
}

const RETRY_MS = [300, 1000, 2000, 4000];
const MAX_EVENTS = 400;

/** The page's end of the bus: connected again by itself, asks for the lease each time. */
export class BusClient {
  #snapshot: BusSnapshot;
  readonly #listeners = new Set<() => void>();
  #socket: WebSocket | null = null;
  #tries = 0;
  #closed = false;
  #known = new Set<string>();

  constructor(
    readonly deskId: string,
    broadcast: BroadcastState,
    readonly onEvents: (events: AudienceEvent[]) => void,
  ) {
    this.#snapshot = { connected: false, lease: 'asking', events: [], platforms: [], relay: null, broadcast };
    this.#connect();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): BusSnapshot => this.#snapshot;

  say(message: BusFromPage): void {
    if (this.#socket?.readyState === WebSocket.OPEN) this.#socket.send(JSON.stringify(message));
  }

  takeOver(): void {
    this.say({ type: 'claim', deskId: this.deskId, takeOver: true });
  }

  /** What an action answered is newer than what the bus said last. */
  setBroadcast(broadcast: BroadcastState): void {
    this.#change({ broadcast });
  }

  close(): void {
    this.#closed = true;
    this.#socket?.close();
  }

  #connect(): void {
    const socket = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/bus`);
    this.#socket = socket;
    socket.onopen = () => {
      this.#tries = 0;
      this.#change({ connected: true });
      this.say({ type: 'claim', deskId: this.deskId, takeOver: false });
    };
    socket.onmessage = ({ data }: MessageEvent<string>) => this.#take(JSON.parse(data) as BusFromServer);
    socket.onclose = () => {
      if (this.#closed) return;
      this.#change({ connected: false });
      setTimeout(() => this.#connect(), RETRY_MS[Math.min(this.#tries++, RETRY_MS.length - 1)]);
    };
  }

  #take(message: BusFromServer): void {
    switch (message.type) {
      case 'lease':
        this.#change({ lease: message.held ? 'held' : message.byOther ? 'elsewhere' : 'asking' });
        break;
      case 'audience': {
        const fresh = message.events.filter((e) => !this.#known.has(`${e.platform}/${e.id}`));
        if (fresh.length === 0) return;
        for (const e of fresh) this.#known.add(`${e.platform}/${e.id}`);
        this.#change({ events: [...this.#snapshot.events, ...fresh].slice(-MAX_EVENTS) });
        this.onEvents(fresh);
        break;
      }
      case 'platforms':
        this.#change({ platforms: message.platforms });
        break;
      case 'relay':
        this.#change({ relay: message.status, broadcast: message.broadcast });
        break;
    }
  }

  #change(part: Partial<BusSnapshot>): void {
    this.#snapshot = { ...this.#snapshot, ...part };
    for (const listener of this.#listeners) listener();
  }
}
