import net from 'node:net';
import tls from 'node:tls';
import {
  BADGES,
  PLAIN_MESSAGE,
  type Badge,
  type ChatMessage,
  type EmoteRange,
  type Incoming,
} from '../../core/audience/events';
import { messageOf } from '../../core/fault';
import { ircLine, IrcParser, type IrcMessage } from '../../protocol/irc';
import type { PlatformStatus } from '../../protocol/audience-bus';
import type { Log } from '../log';

const RETRY_MS = [1000, 2000, 5000, 10_000, 30_000];
/** A line that says nothing for this long is asked whether it is there, and given up after as long again. */
const QUIET_MS = 60_000;
/** What we can make use of (IRCv3 capability names). */
const WANTED = [
  'message-tags',
  'server-time',
  'account-tag',
  'batch',
  'draft/chathistory',
  'draft/message-redaction',
];
/** Missed messages that are asked for after a lost connection. */
const RESUME_MESSAGES = 100;
/** Garbage lines until a server counts as something else. */
const MAX_GARBAGE = 50;

export interface ChatServer {
  id: string;
  name: string;
  host: string;
  port: number;
  tls: boolean;
  nick: string;
  channels: readonly string[];
}

/** As whom one is there, and where. */
export interface IrcLogin {
  nick: string;
  password: string | null;
  channels: readonly string[];
}

export interface IrcParts {
  log: Log;
  now: () => number;
  /** Asked before each connection, since a token may be another by then. @throws Fault with what to do when nobody is signed in */
  login: () => Promise<IrcLogin>;
  take: (incoming: Incoming) => void;
  reject: (source: string, reason: string) => void;
  changed: () => void;
}

/** Of a chat server of one's own. */
export const ownLogin =
  ({ nick, channels }: Pick<ChatServer, 'nick' | 'channels'>, password: string | null): IrcParts['login'] =>
  () =>
    Promise.resolve({ nick, channels, password });

/** Chat of one IRC server, from several channels, connected again by itself (RFC 1459, 2812; IRCv3). */
export class IrcClient {
  readonly status: PlatformStatus;
  #socket: net.Socket | null = null;
  #parser = new IrcParser();
  #caps = new Set<string>();
  #nick = '';
  #channels: readonly string[] = [];
  /** Why it has hung up itself, in words; empty while it has not. */
  #refused = '';
  #timer: NodeJS.Timeout | null = null;
  #alive: NodeJS.Timeout | null = null;
  #tries = 0;
  #closed = false;
  /** The last message id of each channel: where to go on after a lost connection. */
  readonly #last = new Map<string, string>();
  #count = 0;
  /** Channels it is in. */
  readonly joined = new Set<string>();

  constructor(
    readonly server: Pick<ChatServer, 'name' | 'host' | 'port' | 'tls'>,
    readonly parts: IrcParts,
  ) {
    this.status = {
      platform: server.name,
      by: 'irc',
      connected: false,
      viewers: null,
      message: 'connecting',
    };
    void this.#connect();
  }

  close(): void {
    this.#closed = true;
    for (const timer of [this.#timer, this.#alive]) if (timer) clearTimeout(timer);
    if (this.#socket && !this.#socket.destroyed) {
      this.#socket.write(ircLine('QUIT', ['the studio closes']));
      this.#socket.destroySoon();
    }
  }

  /** Takes a message out for everybody; false when the server cannot. */
  remove(channel: string, messageId: string): boolean {
    if (!this.#caps.has('draft/message-redaction')) return false;
    return this.#send('REDACT', [channel, messageId, 'removed by the host']);
  }

  /** Sends a viewer out of a channel; with `ban` they cannot come back. */
  silence(channel: string, viewer: string, ban: boolean): boolean {
    if (ban) this.#send('MODE', [channel, '+b', `${viewer}!*@*`]);
    return this.#send('KICK', [channel, viewer, 'sent out by the host']);
  }

  #send(command: string, params: readonly string[]): boolean {
    if (!this.#socket?.writable) return false;
    try {
      this.#socket.write(ircLine(command, params));
      return true;
    } catch (error) {
      this.parts.log.warn({ error: String(error) }, 'chat order not sent');
      return false;
    }
  }

  async #connect(): Promise<void> {
    let login: IrcLogin;
    try {
      login = await this.parts.login();
    } catch (error) {
      return this.#again(`no chat of ${this.server.name} yet: ${messageOf(error)}`);
    }
    if (this.#closed) return;
    const { host, port } = this.server;
    const socket = this.server.tls
      ? tls.connect({ host, port, servername: host })
      : net.connect({ host, port });
    this.#socket = socket;
    this.#parser = new IrcParser();
    this.#caps = new Set();
    this.#nick = login.nick;
    this.#channels = login.channels;
    socket.setTimeout(2 * QUIET_MS, () => socket.destroy(new Error('no answer for two minutes')));
    socket.once(this.server.tls ? 'secureConnect' : 'connect', () => {
      this.#send('CAP', ['LS', '302']);
      if (login.password) this.#send('PASS', [login.password]);
      this.#send('NICK', [this.#nick]);
      this.#send('USER', [this.#nick, '0', '*', 'Dolomite studio']);
    });
    socket.on('data', (chunk: Buffer) => {
      for (const message of this.#parser.push(chunk)) this.#take(message);
      if (this.#parser.garbage > MAX_GARBAGE) {
        this.parts.reject(this.server.name, 'the server does not speak IRC: check host and port');
        socket.destroy();
      }
    });
    socket.on('error', (error) =>
      this.parts.log.debug({ server: this.server.name, error: error.message }, 'chat error'),
    );
    socket.on('close', () => this.#lost());
    this.#alive ??= setInterval(() => this.#send('PING', [String(this.parts.now())]), QUIET_MS);
  }

  #lost(): void {
    this.joined.clear();
    this.#again(this.#refused || `chat of ${this.server.name} is not connected; trying again`);
    this.#refused = '';
  }

  #again(message: string): void {
    if (this.#closed) return;
    Object.assign(this.status, { connected: false, message });
    this.parts.changed();
    const waitMs = RETRY_MS[Math.min(this.#tries++, RETRY_MS.length - 1)];
    this.#timer = setTimeout(() => void this.#connect(), waitMs);
  }

  #take(message: IrcMessage): void {
    const { command, params, nick } = message;
    switch (command) {
      case 'PING':
        this.#send('PONG', params.slice(-1));
        break;
      case 'CAP':
        this.#capability(params);
        break;
      case '001':
        this.#tries = 0;
        Object.assign(this.status, { connected: true, message: '' });
        this.parts.changed();
        for (const channel of this.#channels) this.#send('JOIN', [channel]);
        break;
      case '433': // ERR_NICKNAMEINUSE
        this.#nick = `${this.#nick.slice(0, 12)}_${Math.floor(this.parts.now() % 1000)}`;
        this.#send('NICK', [this.#nick]);
        break;
      case '403':
      case '471':
      case '473':
      case '474':
      case '475':
        this.#tell(`${params[1] ?? 'a channel'} cannot be joined: ${params.at(-1) ?? command}`);
        break;
      case '482': // ERR_CHANOPRIVSNEEDED
        this.#tell(`${params[1] ?? 'the channel'}: only its operators may do this; make ${this.#nick} one`);
        break;
      case '432': // ERR_ERRONEUSNICKNAME
        this.#refused = `the server does not take ${this.#nick} as a name: choose a shorter one of letters and digits`;
        this.#socket?.destroy();
        break;
      case '464':
        this.#tell('the password is wrong');
        break;
      case 'JOIN':
        if (nick !== this.#nick) break;
        this.joined.add(params[0] ?? '');
        this.#resume(params[0] ?? '');
        break;
      case 'PRIVMSG':
        this.#chat(message);
        break;
      case 'REDACT': // IRCv3 message redaction (draft)
        if (params[1])
          this.parts.take({
            type: 'removed',
            platform: this.server.name,
            id: params[1],
            atMs: this.parts.now(),
          });
        break;
      case 'KICK':
        if (params[1])
          this.parts.take({
            type: 'silenced',
            platform: this.server.name,
            viewer: params[1],
            atMs: this.parts.now(),
          });
        break;
      case 'MODE': {
        const banned = params[1]?.startsWith('+b') ? /^([^!*]+)!/.exec(params[2] ?? '') : null;
        if (banned)
          this.parts.take({
            type: 'silenced',
            platform: this.server.name,
            viewer: banned[1],
            atMs: this.parts.now(),
          });
        break;
      }
      case 'ERROR':
        this.#tell(params.at(-1) ?? 'the server closed the connection');
        break;
    }
  }

  #tell(words: string): void {
    this.status.message = words.slice(0, 200);
    this.parts.changed();
  }

  /** IRCv3 capability negotiation, version 302. */
  #capability(params: readonly string[]): void {
    const offered = (params.at(-1) ?? '').split(' ').map((cap) => cap.split('=')[0]);
    if (params[1] === 'LS') {
      const wanted = WANTED.filter((cap) => offered.includes(cap));
      if (wanted.length > 0) this.#send('CAP', ['REQ', wanted.join(' ')]);
      // A list in several lines has an asterisk before all but the last.
      if (params[2] !== '*' && wanted.length === 0) this.#send('CAP', ['END']);
    } else if (params[1] === 'ACK') {
      for (const cap of offered) this.#caps.add(cap);
      this.#send('CAP', ['END']);
    } else if (params[1] === 'NAK') this.#send('CAP', ['END']);
  }

  /** What was said while the connection was lost (IRCv3 chathistory, draft). */
  #resume(channel: string): void {
    const last = this.#last.get(channel.toLowerCase());
    if (last && this.#caps.has('draft/chathistory'))
      this.#send('CHATHISTORY', ['AFTER', channel, `msgid=${last}`, String(RESUME_MESSAGES)]);
  }

  #chat({ tags, nick, params }: IrcMessage): void {
    const [channel, text = ''] = params;
    // Words to us alone are no chat; requests between clients (CTCP) neither, but for actions.
    if (!channel?.startsWith('#') || nick === '') return;
    const action = /^\u0001ACTION (.*?)\u0001?$/s.exec(text);
    if (text.startsWith('\u0001') && !action) return;
    const now = this.parts.now();
    const stamp = Date.parse(tags.get('time') ?? '');
    const id = tags.get('msgid') ?? `${now}-${(this.#count += 1)}`;
    if (tags.has('msgid')) this.#last.set(channel.toLowerCase(), id);
    const colour = tags.get('dolomite.standin/colour') ?? '';
    const message: ChatMessage = {
      ...PLAIN_MESSAGE,
      id: id.slice(0, 200),
      platform: this.server.name,
      channel,
      viewer: nick.slice(0, 200),
      atMs: Number.isFinite(stamp) ? Math.min(stamp, now) : now,
      colour: /^#[0-9a-f]{6}$/i.test(colour) ? colour : null,
      badges: (tags.get('dolomite.standin/badges') ?? '')
        .split(',')
        .filter((badge): badge is Badge => (BADGES as readonly string[]).includes(badge)),
      emotes: emotesOf(tags.get('dolomite.standin/emotes') ?? ''),
      text: action ? action[1] : text,
    };
    this.parts.take(message);
  }
}

/** `lantern:0-7,12-19/bell:20-24`: places in UTF-16 units, the end not included. */
export function emotesOf(tag: string): EmoteRange[] {
  const ranges: EmoteRange[] = [];
  for (const part of tag.split('/')) {
    const [id, places = ''] = part.split(':');
    if (!/^[\w.-]{1,64}$/.test(id)) continue;
    for (const place of places.split(',')) {
      const match = /^(\d{1,5})-(\d{1,5})$/.exec(place);
      if (match && ranges.length < 200) ranges.push({ from: Number(match[1]), to: Number(match[2]), id });
    }
  }
  return ranges;
}
