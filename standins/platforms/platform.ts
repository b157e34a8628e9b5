import { randomUUID } from 'node:crypto';
import type { WebSocket } from 'ws';
import { EVENT_TYPES, type EventType } from '../../core/audience/events';
import { cloudEventJson } from '../../protocol/cloud-events';
import { seededRandom } from '../inputs/random';
import { makeChat, makeEvent, scriptedEvening, storm, type Happening } from './chatters';
import type { ChatRoom } from './irc-room';
import type { LineShaper } from './line-shaper';
import { OAuthDoor } from './oauth';

export interface PlatformFacts {
  name: string;
  title: string;
  /** The shape of picture its viewers expect. */
  frame: 'wide' | 'tall';
  capKbps: number;
  /** Some platforms want a new key for every broadcast. */
  keyUse: 'lasting' | 'fresh';
  seed: number;
  /** Its chat is an IRC server; else it comes with the events. */
  irc: boolean;
  /** How programs sign in. */
  signIn: 'device' | 'browser';
  /** Its servers are asked for; else they stand in its connector. */
  listsServers: boolean;
}

/** Two for wide pictures, one for tall ones. */
export const PLATFORMS: readonly PlatformFacts[] = [
  {
    ...{ name: 'larch', title: 'Larch', frame: 'wide', capKbps: 6000, keyUse: 'lasting', seed: 9 },
    ...{ irc: false, signIn: 'device', listsServers: false },
  },
  {
    ...{ name: 'cairn', title: 'Cairn', frame: 'wide', capKbps: 9000, keyUse: 'lasting', seed: 23 },
    ...{ irc: true, signIn: 'browser', listsServers: true },
  },
  {
    ...{ name: 'marmot', title: 'Marmot', frame: 'tall', capKbps: 4000, keyUse: 'fresh', seed: 41 },
    ...{ irc: false, signIn: 'device', listsServers: false },
  },
];

/** A chat message longer than this is cut, as platforms do. */
const MAX_CHAT = 300;
const MAX_STORM = 100_000;

/** One made-up platform: its chatters, its event feed, its viewers. */
export class Platform {
  viewers = 0;
  readonly oauth: OAuthDoor;
  /** What the studio said about the broadcast; shown on the watch page. */
  details: Record<string, unknown> = {};
  thumbnail: { bytes: Buffer; mime: string } | null = null;
  /** What its followers were told, the newest last. */
  readonly announced: string[] = [];
  /** What was sent out since it started, by kind. */
  readonly sent: Record<string, number> = {};
  readonly #feeds = new Set<WebSocket>();
  readonly #timers = new Set<NodeJS.Timeout>();
  #base: number;
  #quiet = false;
  readonly #random;

  constructor(
    readonly facts: PlatformFacts,
    public key: string,
    readonly shaper: LineShaper,
    readonly servers: readonly { name: string; url: string }[],
    readonly farShaper: LineShaper,
    /** Null for a platform whose chat comes with the events. */
    readonly room: ChatRoom | null,
    readonly now: () => number,
  ) {
    this.oauth = new OAuthDoor(now);
    this.#base = 120 + facts.seed * 8;
    this.#random = seededRandom(facts.seed);
    this.#evening();
    this.#timers.add(setInterval(() => this.#count(), 4000));
  }

  addFeed(socket: WebSocket): void {
    this.#feeds.add(socket);
    socket.on('close', () => this.#feeds.delete(socket));
    socket.on('error', () => socket.terminate());
    socket.on('message', (data: Buffer) => this.#ordered(data));
    this.#count();
  }

  chat(viewer: string, text: string): void {
    this.happen(makeChat(viewer, text.slice(0, MAX_CHAT)));
  }

  /** Makes something happen, as if a viewer had done it. */
  happen({ what, data }: Happening, id: string = randomUUID()): void {
    this.sent[what] = (this.sent[what] ?? 0) + 1;
    if (what === 'chat' && this.room) this.room.say(id, data);
    else this.#send(what === 'chat' ? 'chat.message' : what, data, id);
  }

  /** By a button of the account page. @returns whether there is such a kind */
  press(what: string, viewer: string, more: Record<string, unknown> = {}): boolean {
    const kind = EVENT_TYPES.find((type) => type === what) as EventType | undefined;
    if (!kind) return false;
    const made = makeEvent(kind, this.#random, viewer);
    this.happen({ what: kind, data: { ...made.data, ...more } });
    return true;
  }

  /** Sends anything, also what is no event: for trying what the studio does about it. */
  sendRaw(text: string): void {
    for (const feed of this.#feeds) if (feed.readyState === feed.OPEN) feed.send(text);
  }

  /** @returns when it is over, what was sent by kind */
  async storm(
    count: number,
    seconds: number,
    seed: number,
    chatShare: number,
  ): Promise<Record<string, number>> {
    const kinds: Record<string, number> = {};
    const total = Math.min(count, MAX_STORM);
    const started = this.now();
    let sent = 0;
    for (const happening of storm(seed, total, chatShare)) {
      kinds[happening.what] = (kinds[happening.what] ?? 0) + 1;
      this.happen(happening);
      sent += 1;
      const ahead = (sent / total) * seconds * 1000 - (this.now() - started);
      if (ahead > 10) await new Promise((resolve) => setTimeout(resolve, ahead));
    }
    return kinds;
  }

  /** Stops and goes on with the evening's own talk. */
  setQuiet(quiet: boolean): void {
    this.#quiet = quiet;
  }

  close(): void {
    for (const timer of this.#timers) clearTimeout(timer);
    for (const feed of this.#feeds) feed.terminate();
    this.room?.close();
    this.shaper.close();
    this.farShaper.close();
  }

  /** What the studio asks for: a message gone, a viewer out. */
  #ordered(data: Buffer): void {
    let order: { type?: unknown; data?: { messageId?: unknown; viewer?: unknown } };
    try {
      order = JSON.parse(data.toString('utf8')) as typeof order;
    } catch {
      return;
    }
    const { messageId, viewer } = order.data ?? {};
    if (order.type === 'live.chat.remove' && typeof messageId === 'string')
      this.#send('chat.removed', { messageId });
    if (
      (order.type === 'live.viewer.timeout' || order.type === 'live.viewer.ban') &&
      typeof viewer === 'string'
    )
      this.#send('chat.silenced', { viewer });
  }

  #count(): void {
    this.#base += Math.round(Math.sin(this.now() / 9000 + this.facts.seed) * 2);
    this.viewers = this.#base;
    this.#send('viewers', { viewers: this.viewers });
  }

  #evening(): void {
    const lines = scriptedEvening(this.facts.seed);
    const next = () => {
      const { value } = lines.next() as { value: ReturnType<typeof lines.next>['value'] };
      if (!value) return;
      const timer = setTimeout(() => {
        this.#timers.delete(timer);
        if (!this.#quiet) this.happen(value);
        next();
      }, value.wait * 1000);
      this.#timers.add(timer);
    };
    next();
  }

  #send(type: string, data: object, id: string = randomUUID()): void {
    this.sendRaw(cloudEventJson(`//${this.facts.name}.standin`, id, type, this.now(), data));
  }
}
