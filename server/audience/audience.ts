import { PLAIN_EVENT, type ViewerEvent } from '../../core/audience/events';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { AudienceFromServer, PlatformStatus } from '../../protocol/audience-bus';
import type { Database } from '../db/database';
import type { SecretRepository } from '../db/secret-repository';
import type { Log } from '../log';
import { AudienceHub, NO_COUNTING } from './audience-hub';
import { ChatServerRepository } from './chat-server-repository';
import { EmoteCache } from './emote-cache';
import { EntryRepository } from './entry-repository';
import { HookDoor } from './hook-door';
import { HookRepository } from './hook-repository';
import { IrcClient, type ChatServer } from './irc-client';
import { PlatformFeed, type PlatformAddress } from './platform-feed';
import { Speech } from './speech';
import { ViewerData } from './viewer-data';
import { SettingRepository } from '../db/setting-repository';

/** Readings of viewers and refusals are told this often at most. */
const STATUS_MS = 200;
/** How often it is looked what is too old to be kept. */
const SWEEP_MS = 3_600_000;

export interface AudienceParts {
  database: Database;
  secrets: SecretRepository;
  platforms: readonly PlatformAddress[];
  emoteFolder: string;
  speechFolder: string;
  log: Log;
  say: (message: AudienceFromServer) => void;
  /** The show that is worked on. */
  document: () => ShowDocument | null;
}

/** Everything about viewers on the server: platforms, chat servers, hooks, and what they bring. */
export class Audience {
  readonly entries: EntryRepository;
  /** For how long what viewers did is kept, and everything of one of them. */
  readonly viewerData: ViewerData;
  readonly hooks: HookRepository;
  readonly chatServers: ChatServerRepository;
  readonly door: HookDoor;
  readonly hub: AudienceHub;
  readonly emotes: EmoteCache;
  readonly speech: Speech;
  readonly #feeds: PlatformFeed[];
  readonly #chats = new Map<string, IrcClient>();
  #statusTimer: NodeJS.Timeout | null = null;
  readonly #sweepTimer: NodeJS.Timeout;
  #counted = '';
  readonly #storms = new Set<NodeJS.Timeout>();

  constructor(readonly parts: AudienceParts) {
    const { database, secrets, log } = parts;
    this.entries = new EntryRepository(database);
    this.viewerData = new ViewerData(database, new SettingRepository(database));
    this.hooks = new HookRepository(database, secrets);
    this.chatServers = new ChatServerRepository(database, secrets);
    this.speech = new Speech(parts.speechFolder);
    this.emotes = new EmoteCache(parts.emoteFolder, parts.platforms);
    this.hub = new AudienceHub({
      entries: this.entries,
      say: parts.say,
      counting: () => this.#counting(),
      now: Date.now,
      onViewers: (platform, viewers) =>
        this.#feeds.find((feed) => feed.address.name === platform)?.setViewers(viewers),
      onRejection: () => this.#statusSoon(),
      onTrouble: (error) =>
        log.error({ error: String(error) }, 'the database did not take what viewers did; it is tried again'),
      onSetAside: ({ platform, id, type }, error) =>
        log.error(
          { platform, id, type, error: String(error) },
          'an event can never be kept and was left out',
        ),
    });
    this.door = new HookDoor(
      this.hooks,
      (incoming) => incoming.forEach((one) => this.hub.take(one)),
      (source, reason) => this.hub.reject(source, reason),
      Date.now,
    );
    this.#feeds = parts.platforms.map(
      (address) =>
        new PlatformFeed(
          address,
          log,
          (incoming) => this.hub.take(incoming),
          (source, reason) => this.hub.reject(source, reason),
          () => this.#statusSoon(),
        ),
    );
    this.#counted = JSON.stringify(this.#countedBy());
    this.#sweepTimer = setInterval(() => this.sweep(), SWEEP_MS);
    for (const server of this.chatServers.list()) this.#openChat(server);
  }

  greeting(): AudienceFromServer[] {
    return [this.#statusMessage(), ...this.hub.greeting()];
  }

  /** An event as a real one would be, marked as a test. */
  test(event: Pick<ViewerEvent, 'id' | 'type' | 'viewer' | 'atMs'> & Partial<ViewerEvent>): ViewerEvent {
    const whole: ViewerEvent = { ...PLAIN_EVENT, platform: 'test', ...event, test: true };
    this.hub.take(whole);
    this.hub.flush();
    return whole;
  }

  /** Test events, evenly over some seconds: to see the queue and the picture under load. */
  testStorm(
    makers: readonly (() => Parameters<Audience['test']>[0])[],
    count: number,
    seconds: number,
  ): void {
    if (makers.length === 0) return;
    const started = Date.now();
    let fired = 0;
    const timer = setInterval(() => {
      const due = Math.min(count, Math.ceil(((Date.now() - started) / 1000 / seconds) * count));
      for (; fired < due; fired++) this.test(makers[fired % makers.length]());
      if (fired < count) return;
      clearInterval(timer);
      this.#storms.delete(timer);
    }, 50);
    this.#storms.add(timer);
  }

  putChatServer(server: ChatServer, password: string | null): void {
    this.chatServers.put(server, password, Date.now());
    this.#chats.get(server.id)?.close();
    this.#openChat(server);
    this.#statusSoon();
  }

  /** Another secret; who came in by the old one is sent out. @returns the new one, shown once */
  renewHook(id: string): string {
    const secret = this.hooks.renew(id, Date.now());
    this.door.shut(id);
    return secret;
  }

  removeHook(id: string): void {
    this.hooks.remove(id);
    this.door.shut(id);
  }

  removeChatServer(id: string): void {
    this.chatServers.remove(id);
    this.#chats.get(id)?.close();
    this.#chats.delete(id);
    this.#statusSoon();
  }

  /**
   * Takes a message out, or sends its writer out, where it was written.
   * @returns words for the user: what the platform was asked, or why it could not be
   */
  moderate(seq: number, what: 'remove' | 'timeout' | 'ban'): { done: boolean; message: string } {
    const event = this.entries.find(seq)?.event;
    if (event?.type !== 'chat') return { done: false, message: 'This is no chat message any more.' };
    const { platform, viewer, id, channel } = event;
    const now = Date.now();
    // Out of the picture at once, whatever the platform says.
    if (what === 'remove') this.hub.take({ type: 'removed', platform, id, atMs: now });
    else this.hub.take({ type: 'silenced', platform, viewer, atMs: now });
    const chat = [...this.#chats.values()].find((c) => c.server.name === platform);
    const feed = this.#feeds.find((f) => f.address.name === platform);
    const asked = chat
      ? what === 'remove'
        ? chat.remove(channel, id)
        : chat.silence(channel, viewer, what === 'ban')
      : what === 'remove'
        ? feed?.moderate('chat.remove', { messageId: id })
        : feed?.moderate(what === 'ban' ? 'viewer.ban' : 'viewer.timeout', { viewer, seconds: 600 });
    const words = {
      remove: 'The message is removed',
      timeout: `${viewer} is timed out`,
      ban: `${viewer} is banned`,
    }[what];
    return asked
      ? { done: true, message: `${words} on ${platform}.` }
      : {
          done: false,
          message: `It is off your picture, but ${platform} could not be asked: it is not connected or cannot do this.`,
        };
  }

  /** The show was edited: when goals or its money are others, everything is counted again. */
  edited(): void {
    const words = JSON.stringify(this.#countedBy());
    if (words === this.#counted) return;
    this.#counted = words;
    this.hub.recount();
  }

  /** What a count depends on. */
  #countedBy(): unknown {
    const { goals, settings } = this.#counting();
    return [settings.currency, settings.rates, goals.map(({ id, of, sinceMs }) => [id, of, sinceMs])];
  }

  /** Deletes what is older than it may be kept. */
  sweep(): void {
    try {
      // What they count towards is counted again without them.
      if (this.viewerData.sweep(Date.now()) > 0) this.hub.recount();
    } catch (error) {
      this.parts.log.error({ error: String(error) }, 'old chat could not be deleted; it is tried again');
    }
  }

  /** Deletes everything of one viewer. @returns how many entries that were */
  forget(platform: string, viewer: string): number {
    this.hub.flush();
    const count = this.viewerData.remove(platform, viewer);
    this.hub.recount();
    return count;
  }

  close(): void {
    clearInterval(this.#sweepTimer);
    if (this.#statusTimer) clearTimeout(this.#statusTimer);
    for (const storm of this.#storms) clearInterval(storm);
    for (const feed of this.#feeds) feed.close();
    for (const chat of this.#chats.values()) chat.close();
    this.hub.close();
  }

  #counting(): ReturnType<AudienceHub['parts']['counting']> {
    const document = this.parts.document();
    const show = document && recordsOf(document, 'show')[0];
    return show ? { goals: recordsOf(document, 'goal'), settings: show.audience } : NO_COUNTING;
  }

  #openChat(server: ChatServer): void {
    this.#chats.set(
      server.id,
      new IrcClient(server, {
        log: this.parts.log,
        now: Date.now,
        password: this.chatServers.password(server.id),
        take: (incoming) => this.hub.take(incoming),
        reject: (source, reason) => this.hub.reject(source, reason),
        changed: () => this.#statusSoon(),
      }),
    );
  }

  #statusSoon(): void {
    this.#statusTimer ??= setTimeout(() => {
      this.#statusTimer = null;
      this.parts.say(this.#statusMessage());
    }, STATUS_MS);
  }

  #statusMessage(): AudienceFromServer {
    const platforms: PlatformStatus[] = [
      ...(this.#feeds?.map((f) => f.status) ?? []),
      ...[...this.#chats.values()].map((c) => c.status),
    ];
    return { type: 'platforms', platforms, rejections: this.hub.rejections };
  }
}
