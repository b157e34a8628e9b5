import { PLAIN_EVENT, type ViewerEvent } from '../../core/audience/events';
import { Fault } from '../../core/fault';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { DestinationRecord } from '../../core/show/records';
import type { AudienceFromServer, PlatformStatus } from '../../protocol/audience-bus';
import type { Database } from '../db/database';
import type { SecretRepository } from '../db/secret-repository';
import type { Log } from '../log';
import type { PollResult } from '../../core/audience/own-poll';
import { PollCounter } from './poll-counter';
import { AudienceHub, NO_COUNTING } from './audience-hub';
import { ChatServerRepository } from './chat-server-repository';
import { EntryRepository } from './entry-repository';
import { IrcClient, ownLogin, type ChatServer, type IrcLogin } from './irc-client';
import type { ServiceChat } from './service-chat';
import { PlatformFeed, type PlatformAddress } from './platform-feed';

/** Readings of viewers and refusals are told this often at most. */
const STATUS_MS = 200;

export interface AudienceParts {
  /** The show's own poll as it stands; null when none runs. */
  tellPoll: (poll: PollResult | null) => void;
  showId: string;
  database: Database;
  secrets: SecretRepository;
  /** Where chat and events of platforms come from, as their connectors say. */
  feeds: () => readonly PlatformAddress[];
  /** Chat servers that a sign-in joins. */
  chats: () => readonly ServiceChat[];
  chatLogin: (destination: DestinationRecord) => Promise<IrcLogin>;
  /** Of a sign-in. @throws Fault when nobody is signed in */
  token: (destination: DestinationRecord) => Promise<string>;
  log: Log;
  say: (message: AudienceFromServer) => void;
  document: () => ShowDocument;
}

/** Everything about the viewers of one show: its platforms, chat servers and hooks, and what they bring. */
export class Audience {
  readonly entries: EntryRepository;
  readonly chatServers: ChatServerRepository;
  readonly hub: AudienceHub;
  /** Of the show's own polls. */
  readonly polls: PollCounter;
  readonly #feeds = new Map<string, PlatformFeed>();
  readonly #chats = new Map<string, IrcClient>();
  /** Of services, by all that makes another connection of them. */
  readonly #serviceChats = new Map<string, IrcClient>();
  #statusTimer: NodeJS.Timeout | null = null;
  #counted = '';
  readonly #storms = new Set<NodeJS.Timeout>();

  constructor(readonly parts: AudienceParts) {
    const { database, secrets, log, showId } = parts;
    this.entries = new EntryRepository(database, showId);
    this.chatServers = new ChatServerRepository(database, secrets, showId);
    this.hub = new AudienceHub({
      entries: this.entries,
      say: (message) => {
        parts.say(message);
        if (message.type === 'audience') this.polls.said(message.events);
      },
      counting: () => this.#counting(),
      now: Date.now,
      onViewers: (platform, viewers) => this.#feeds.get(platform)?.setViewers(viewers),
      onRejection: () => this.#statusSoon(),
      onTrouble: (error) =>
        log.error({ error: String(error) }, 'the database did not take what viewers did; it is tried again'),
      onSetAside: ({ platform, id, type }, error) =>
        log.error(
          { platform, id, type, error: String(error) },
          'an event can never be kept and was left out',
        ),
    });
    this.polls = new PollCounter({
      document: parts.document,
      chatSince: (sinceMs) => this.entries.chatSince(sinceMs),
      tell: parts.tellPoll,
      ended: (poll, sinceMs) => this.#pollEnded(poll, sinceMs),
    });
    this.#counted = JSON.stringify(this.#countedBy());
    this.followPlatforms();
    for (const server of this.chatServers.list()) this.#openChat(server);
  }

  greeting(): AudienceFromServer[] {
    return [this.#statusMessage(), ...this.hub.greeting()];
  }

  /** What a poll came to stands in the list, and on the picture, like one of a platform. */
  #pollEnded({ pollId, title, options }: PollResult, sinceMs: number): void {
    this.hub.take({
      ...PLAIN_EVENT,
      type: 'poll',
      platform: 'studio',
      id: `poll-${pollId}-${sinceMs}`,
      viewer: 'studio',
      atMs: Date.now(),
      title,
      poll: { open: false, options },
    });
    this.hub.flush();
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
    const chat = this.#allChats.find((c) => c.server.name === platform);
    const feed = this.#feeds.get(platform);
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

  /** The show was edited: its platforms may be others; when goals or its money are, everything is counted again. */
  edited(): void {
    this.followPlatforms();
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

  close(): void {
    this.polls.close();
    if (this.#statusTimer) clearTimeout(this.#statusTimer);
    for (const storm of this.#storms) clearInterval(storm);
    for (const feed of this.#feeds.values()) feed.close();
    for (const chat of this.#allChats) chat.close();
    this.hub.close();
  }

  #counting(): ReturnType<AudienceHub['parts']['counting']> {
    const document = this.parts.document();
    const show = recordsOf(document, 'show')[0];
    return show ? { goals: recordsOf(document, 'goal'), settings: show.audience } : NO_COUNTING;
  }

  /** Connected are those platforms that the show has an account or a destination on. */
  followPlatforms(): void {
    const named = new Set(recordsOf(this.parts.document(), 'destination').map((d) => d.connector));
    const feeds = this.parts.feeds();
    for (const [name, feed] of this.#feeds)
      if (!named.has(name) || !feeds.some((f) => f.name === name && f.feedUrl === feed.address.feedUrl)) {
        feed.close();
        this.#feeds.delete(name);
        this.#statusSoon();
      }
    for (const address of feeds)
      if (named.has(address.name) && !this.#feeds.has(address.name))
        this.#feeds.set(
          address.name,
          new PlatformFeed(
            address,
            this.parts.log,
            (incoming) => this.hub.take(incoming),
            (source, reason) => this.hub.reject(source, reason),
            () => this.#statusSoon(),
            () => this.#ofAccount(address.name, this.parts.token),
          ),
        );
    this.#followChats(named);
  }

  /** Chats that a sign-in joins: of the services that the show has an account or a destination on. */
  #followChats(named: ReadonlySet<string | null>): void {
    const wanted = this.parts.chats().filter(({ name }) => named.has(name));
    for (const [key, client] of this.#serviceChats)
      if (!wanted.some((chat) => serviceKey(chat) === key)) {
        client.close();
        this.#serviceChats.delete(key);
        this.#statusSoon();
      }
    for (const service of wanted)
      if (!this.#serviceChats.has(serviceKey(service))) {
        const login = () => this.#ofAccount(service.name, this.parts.chatLogin);
        const { host, port, tls } = service.chat;
        this.#serviceChats.set(
          serviceKey(service),
          this.#client({ name: service.name, host, port, tls }, login),
        );
      }
  }

  /** The first of the show's destinations there says whose account it is. */
  async #ofAccount<T>(name: string, ask: (destination: DestinationRecord) => Promise<T>): Promise<T> {
    const account = recordsOf(this.parts.document(), 'destination').find((d) => d.connector === name);
    if (!account) throw new Fault('account.out', `add ${name} as a destination and sign in`);
    return ask(account);
  }

  #client(
    server: Pick<ChatServer, 'name' | 'host' | 'port' | 'tls'>,
    login: () => Promise<IrcLogin>,
  ): IrcClient {
    return new IrcClient(server, {
      log: this.parts.log,
      now: Date.now,
      login,
      take: (incoming) => this.hub.take(incoming),
      reject: (source, reason) => this.hub.reject(source, reason),
      changed: () => this.#statusSoon(),
    });
  }

  #openChat(server: ChatServer): void {
    this.#chats.set(server.id, this.#client(server, ownLogin(server, this.chatServers.password(server.id))));
  }

  #statusSoon(): void {
    this.#statusTimer ??= setTimeout(() => {
      this.#statusTimer = null;
      this.parts.say(this.#statusMessage());
    }, STATUS_MS);
  }

  #statusMessage(): AudienceFromServer {
    return { type: 'platforms', platforms: this.statuses, rejections: this.hub.rejections };
  }

  get #allChats(): IrcClient[] {
    return [...this.#chats.values(), ...this.#serviceChats.values()];
  }

  /** How platforms and chat servers are connected, and how many watch. */
  get statuses(): PlatformStatus[] {
    return [...[...this.#feeds.values()].map((f) => f.status), ...this.#allChats.map((c) => c.status)];
  }
}

const serviceKey = (chat: ServiceChat): string => JSON.stringify(chat);
