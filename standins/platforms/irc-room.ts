import net from 'node:net';
import type { EmoteRange } from '../../core/audience/events';
import { ircLine, IrcParser } from '../../protocol/irc';

const CHANNELS = ['#night-signal-box', '#dispatch'];
const CAPS = ['message-tags', 'server-time', 'draft/chathistory', 'draft/message-redaction'];
const HISTORY = 200;

interface Said {
  id: string;
  channel: string;
  viewer: string;
  line: string;
}

/** A stand-in's chat as an IRC server with the parts of IRCv3 that matter: tags, times, ids, history, redaction. */
export class ChatRoom {
  readonly #server: net.Server;
  readonly #clients = new Map<net.Socket, { nick: string; caps: Set<string>; channels: Set<string> }>();
  readonly #history: Said[] = [];
  #turn = 0;

  constructor(
    readonly name: string,
    readonly now: () => number,
  ) {
    this.#server = net.createServer((socket) => this.#accept(socket));
  }

  listen(): Promise<number> {
    return new Promise((resolve) =>
      this.#server.listen(0, '127.0.0.1', () => resolve((this.#server.address() as net.AddressInfo).port)),
    );
  }

  /** A viewer says something in one of the rooms. */
  say(id: string, data: Record<string, unknown>): void {
    const viewer = String(data.viewer).replace(/[^\w.-]/g, '_') || 'guest';
    const text = String(data.text);
    const channel = CHANNELS[(this.#turn += 1) % 3 === 0 ? 1 : 0];
    const emotes = ((data.emotes ?? []) as EmoteRange[]).map((e) => `${e.id}:${e.from}-${e.to}`).join('/');
    const tags: Record<string, string> = {
      msgid: id,
      time: new Date(this.now()).toISOString(),
      ...(typeof data.colour === 'string' && { 'dolomite.standin/colour': data.colour }),
      ...(Array.isArray(data.badges) &&
        data.badges.length > 0 && { 'dolomite.standin/badges': data.badges.join(',') }),
      ...(emotes !== '' && { 'dolomite.standin/emotes': emotes }),
    };
    const tagged = ircLine('PRIVMSG', [channel, text], tags);
    const line = tagged.replace(/^(@\S+ )/, `$1:${viewer}!${viewer}@${this.name}.standin `);
    this.#history.push({ id, channel, viewer, line });
    if (this.#history.length > HISTORY) this.#history.shift();
    this.#all(channel, line);
  }

  /** Throws everybody out, as a server that restarts does. */
  drop(): void {
    for (const socket of this.#clients.keys()) socket.destroy();
  }

  /** Sends bytes that are no IRC. */
  babble(): void {
    for (const socket of this.#clients.keys())
      socket.write(Buffer.from([0xff, 0xfe, 0x00, 0x0a, 0x20, 0x0a]));
  }

  close(): void {
    this.drop();
    this.#server.close();
  }

  #accept(socket: net.Socket): void {
    const client = { nick: '', caps: new Set<string>(), channels: new Set<string>() };
    const parser = new IrcParser();
    let user = false;
    let negotiating = false;
    let welcomed = false;
    this.#clients.set(socket, client);
    socket.on('error', () => socket.destroy());
    socket.on('close', () => this.#clients.delete(socket));
    const send = (command: string, params: string[]) =>
      socket.write(`:${this.name}.standin ${ircLine(command, params)}`);
    const welcome = () => {
      if (welcomed || negotiating || client.nick === '' || !user) return;
      welcomed = true;
      send('001', [client.nick, `Welcome to ${this.name}`]);
      send('376', [client.nick, 'End of message']);
    };
    socket.on('data', (chunk: Buffer) => {
      for (const { command, params } of parser.push(chunk))
        switch (command) {
          case 'CAP':
            if (params[0] === 'LS') {
              negotiating = true;
              send('CAP', ['*', 'LS', CAPS.join(' ')]);
            } else if (params[0] === 'REQ') {
              for (const cap of (params[1] ?? '').split(' ')) client.caps.add(cap);
              send('CAP', ['*', 'ACK', params[1] ?? '']);
            } else if (params[0] === 'END') {
              negotiating = false;
              welcome();
            }
            break;
          case 'NICK':
            client.nick = params[0] ?? '';
            welcome();
            break;
          case 'USER':
            user = true;
            welcome();
            break;
          case 'PING':
            send('PONG', [params.at(-1) ?? '']);
            break;
          case 'JOIN':
            for (const channel of (params[0] ?? '').split(',')) {
              if (!CHANNELS.includes(channel)) {
                send('403', [client.nick, channel, 'There is no such channel']);
                continue;
              }
              client.channels.add(channel);
              socket.write(`:${client.nick}!studio@${this.name}.standin ${ircLine('JOIN', [channel])}`);
            }
            break;
          case 'CHATHISTORY': {
            const after = this.#history.findIndex((said) => `msgid=${said.id}` === params[2]);
            for (const said of after < 0 ? [] : this.#history.slice(after + 1))
              if (said.channel === params[1]) socket.write(said.line);
            break;
          }
          case 'REDACT':
            if (params[1])
              this.#all(
                params[0],
                `:${client.nick}!studio@${this.name}.standin ${ircLine('REDACT', params)}`,
              );
            break;
          case 'KICK':
            if (params[1])
              this.#all(params[0], `:${client.nick}!studio@${this.name}.standin ${ircLine('KICK', params)}`);
            break;
          case 'MODE':
            if (params.length > 1)
              this.#all(params[0], `:${client.nick}!studio@${this.name}.standin ${ircLine('MODE', params)}`);
            break;
          case 'QUIT':
            socket.end();
            break;
        }
    });
  }

  #all(channel: string, line: string): void {
    for (const [socket, { channels }] of this.#clients) if (channels.has(channel)) socket.write(line);
  }
}
