import { randomUUID } from 'node:crypto';
import type { WebSocket } from 'ws';
import { platformEventJson } from '../../protocol/cloud-events';
import { scriptedEvening } from './chatters';
import type { LineShaper } from './line-shaper';

export interface PlatformFacts {
  name: string;
  title: string;
  /** The shape of picture its viewers expect. */
  frame: 'wide' | 'tall';
  capKbps: number;
  seed: number;
}

/** Two for wide pictures, one for tall ones. */
export const PLATFORMS: readonly PlatformFacts[] = [
  { name: 'larch', title: 'Larch', frame: 'wide', capKbps: 6000, seed: 9 },
  { name: 'cairn', title: 'Cairn', frame: 'wide', capKbps: 9000, seed: 23 },
  { name: 'marmot', title: 'Marmot', frame: 'tall', capKbps: 4000, seed: 41 },
];

/** A chat message longer than this is cut, as platforms do. */
const MAX_CHAT = 300;

/** One made-up platform: its chatters, its event feed, its viewers. */
export class Platform {
  viewers = 0;
  readonly #feeds = new Set<WebSocket>();
  readonly #timers = new Set<NodeJS.Timeout>();
  #base: number;

  constructor(
    readonly facts: PlatformFacts,
    public key: string,
    readonly shaper: LineShaper,
    readonly ingestPort: number,
    readonly now: () => number,
  ) {
    this.#base = 120 + facts.seed * 8;
    this.#evening();
    const timer = setInterval(() => this.#count(), 4000);
    this.#timers.add(timer);
  }

  addFeed(socket: WebSocket): void {
    this.#feeds.add(socket);
    socket.on('close', () => this.#feeds.delete(socket));
    socket.on('error', () => socket.terminate());
    this.#count();
  }

  chat(viewer: string, text: string, colour?: string): void {
    this.#send('live.chat.message', { viewer, text: text.slice(0, MAX_CHAT), colour });
  }

  follow(viewer: string): void {
    this.#send('live.follow', { viewer });
  }

  close(): void {
    for (const timer of this.#timers) clearTimeout(timer);
    for (const feed of this.#feeds) feed.terminate();
    this.shaper.close();
  }

  #count(): void {
    this.#base += Math.round(Math.sin(this.now() / 9000 + this.facts.seed) * 2);
    this.viewers = this.#base;
    this.#send('live.viewers', { viewers: this.viewers });
  }

  #evening(): void {
    const lines = scriptedEvening(this.facts.seed);
    const next = () => {
      const { value } = lines.next();
      if (!value) return;
      const timer = setTimeout(() => {
        this.#timers.delete(timer);
        if (value.follow) this.follow(value.viewer);
        else this.chat(value.viewer, value.text, value.colour);
        next();
      }, value.wait * 1000);
      this.#timers.add(timer);
    };
    next();
  }

  #send(type: Parameters<typeof platformEventJson>[2], data: Parameters<typeof platformEventJson>[4]): void {
    const json = platformEventJson(`//${this.facts.name}.standin`, randomUUID(), type, this.now(), data);
    for (const feed of this.#feeds) if (feed.readyState === feed.OPEN) feed.send(json);
  }
}
