/** Chat over IRC: with the stand-in, which has what IRCv3 adds, and with a server that is not ours. */
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import pino from 'pino';
import { afterEach, describe, expect, test, vi } from 'vitest';
import type { AudienceEvent, Incoming } from '../../core/audience/events';
import { freePort } from '../../scripts/lib/studio.mjs';
import { IrcClient, ownLogin } from '../../server/audience/irc-client';
import { ChatRoom } from '../../standins/platforms/irc-room';

const closing: (() => void)[] = [];
afterEach(() => closing.splice(0).forEach((close) => close()));

describe('IRC, with the stand-in', () => {
  async function connect(channels = ['#night-signal-box', '#dispatch']) {
    const room = new ChatRoom('cairn', Date.now);
    const port = await room.listen();
    const taken: Incoming[] = [];
    const refused: string[] = [];
    const client = new IrcClient(
      { name: 'cairn', host: '127.0.0.1', port, tls: false },
      {
        log: pino({ level: 'silent' }),
        now: Date.now,
        login: ownLogin({ nick: 'studio', channels }, null),
        take: (incoming) => taken.push(incoming),
        reject: (_, reason) => refused.push(reason),
        changed: () => {},
      },
    );
    closing.push(() => {
      client.close();
      room.close();
    });
    await vi.waitFor(() => expect(client.status.connected).toBe(true), 5000);
    // Joined when the first word comes through.
    await vi.waitFor(() => {
      room.say(`hello-${Math.random()}`, { viewer: 'x', text: 'hello' });
      expect(taken.length).toBeGreaterThan(0);
    }, 5000);
    taken.length = 0;
    const chats = () => taken.filter((t): t is Extract<AudienceEvent, { type: 'chat' }> => t.type === 'chat');
    return { room, client, taken, refused, chats };
  }

  test('words with id, time, badges, emotes and colour, from both channels', async () => {
    const { room, chats } = await connect();
    for (let i = 0; i < 3; i++)
      room.say(`m${i}`, {
        viewer: 'mossbell',
        text: 'bells :bell: ; and \\',
        colour: '#63BDBB',
        badges: ['moderator'],
        emotes: [{ from: 6, to: 12, id: 'bell' }],
      });
    await vi.waitFor(() => expect(chats().filter((m) => m.id.startsWith('m'))).toHaveLength(3), 5000);
    const said = chats().filter((m) => m.id.startsWith('m'));
    expect(said[0]).toMatchObject({
      platform: 'cairn',
      viewer: 'mossbell',
      text: 'bells :bell: ; and \\',
      colour: '#63BDBB',
      badges: ['moderator'],
      emotes: [{ from: 6, to: 12, id: 'bell' }],
    });
    expect(new Set(said.map((m) => m.channel)).size).toBe(2);
  });

  test('removing, sending out and banning go there and come back', async () => {
    const { client, taken } = await connect();
    expect(client.remove('#night-signal-box', 'm1')).toBe(true);
    expect(client.silence('#night-signal-box', 'noisy', true)).toBe(true);
    await vi.waitFor(
      () =>
        expect(taken.filter((t) => t.type !== 'chat')).toMatchObject([
          { type: 'removed', id: 'm1' },
          { type: 'silenced', viewer: 'noisy' },
          { type: 'silenced', viewer: 'noisy' },
        ]),
      5000,
    );
  });

  test('after a lost connection it comes back and asks for what it missed', async () => {
    const { room, client, chats } = await connect(['#night-signal-box']);
    room.drop();
    await vi.waitFor(() => expect(client.status.connected).toBe(false), 5000);
    room.say('missed-1', { viewer: 'a', text: 'said meanwhile' });
    room.say('missed-2', { viewer: 'a', text: 'and more' });
    room.say('missed-3', { viewer: 'a', text: 'and more' });
    await vi.waitFor(
      () => expect(chats().filter((m) => m.id.startsWith('missed')).length).toBeGreaterThan(1),
      8000,
    );
  });

  test('a channel that is not there and babble are told, and it goes on', async () => {
    const { room, client, refused, chats } = await connect(['#nowhere', '#night-signal-box', '#dispatch']);
    expect(client.status.message).toContain('#nowhere');
    for (let i = 0; i < 3; i++) room.babble();
    room.say('after', { viewer: 'a', text: 'still here' });
    await vi.waitFor(() => expect(chats().some((m) => m.id === 'after')).toBe(true), 5000);
    expect(refused).toEqual([]);
  });
});

describe('IRC, with ngIRCd', () => {
  async function start(password = '') {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-ircd-'));
    const port = await freePort();
    const config = path.join(folder, 'ngircd.conf');
    writeFileSync(
      config,
      `[Global]\nName = irc.hut.example\nInfo = test\nListen = 127.0.0.1\nPorts = ${port}\nMotdPhrase = hello\n${password ? `Password = ${password}\n` : ''}[Options]\nIdent = no\nPAM = no\nDNS = no\nCloakHost = hidden\n`,
    );
    const server = spawn('ngircd', ['-n', '-f', config], {
      stdio: 'ignore',
      env: { ...process.env, PATH: `${process.env.PATH}:/usr/sbin` },
    });
    closing.push(() => {
      server.kill('SIGKILL');
      rmSync(folder, { recursive: true, force: true });
    });
    await vi.waitFor(
      () =>
        new Promise<void>((resolve, reject) => {
          const probe = net.connect(port, '127.0.0.1', () => (probe.destroy(), resolve()));
          probe.on('error', reject);
        }),
      { timeout: 10_000, interval: 100 },
    );
    return port;
  }

  async function studio(port: number, password: string | null = null) {
    const taken: Incoming[] = [];
    const client = new IrcClient(
      { name: 'hut', host: '127.0.0.1', port, tls: false },
      {
        log: pino({ level: 'silent' }),
        now: Date.now,
        login: ownLogin({ nick: 'studio', channels: ['#box', '#pass'] }, password),
        take: (i) => taken.push(i),
        reject: () => {},
        changed: () => {},
      },
    );
    closing.push(() => client.close());
    // First in its channels, and so their operator.
    await vi.waitFor(() => expect(client.joined.size).toBe(2), 20_000);
    return { client, taken };
  }

  /** A viewer with a client of few words. */
  async function viewer(port: number, nick: string) {
    const socket = net.connect(port, '127.0.0.1');
    let heard = '';
    socket.on('data', (data: Buffer) => {
      heard += data.toString();
      for (const ping of data.toString().matchAll(/^PING (.*)\r/gm)) socket.write(`PONG ${ping[1]}\r\n`);
    });
    socket.on('error', () => socket.destroy());
    closing.push(() => socket.destroy());
    socket.write(`NICK ${nick}\r\nUSER ${nick} 0 * :${nick}\r\nJOIN #box\r\nJOIN #pass\r\n`);
    await vi.waitFor(() => expect(heard).toContain('JOIN :#pass'), 10_000);
    return { say: (line: string) => socket.write(`${line}\r\n`), heard: () => heard };
  }

  test('words from two channels; sending out; what is no chat is left out', async () => {
    const port = await start();
    const { client, taken } = await studio(port);
    const them = await viewer(port, 'mossbell');
    them.say('PRIVMSG #box :snow on the pass ☃');
    them.say('PRIVMSG #pass :\u0001ACTION waves\u0001');
    them.say('PRIVMSG #pass :\u0001VERSION\u0001');
    them.say('PRIVMSG studio :only for you');
    them.say('PRIVMSG #box :last');
    await vi.waitFor(() => expect(taken).toHaveLength(3), 10_000);
    expect(taken).toMatchObject([
      { type: 'chat', channel: '#box', viewer: 'mossbell', text: 'snow on the pass ☃' },
      { type: 'chat', channel: '#pass', text: 'waves' },
      { type: 'chat', text: 'last' },
    ]);
    expect(new Set(taken.map((t) => ('id' in t ? t.id : ''))).size).toBe(3);
    expect(client.remove('#box', 'x')).toBe(false);
    expect(client.silence('#box', 'mossbell', true)).toBe(true);
    await vi.waitFor(() => expect(them.heard()).toMatch(/KICK #box mossbell/), 10_000);
    await vi.waitFor(
      () => expect(taken.filter((t) => t.type === 'silenced').length).toBeGreaterThan(0),
      10_000,
    );
  });

  test('who is to sign in first joins nothing; then as whom the account is, with its token; a name it does not take is told', async () => {
    const port = await start('oauth:t0k3n');
    let signedIn = false;
    // Nine letters are the most this server takes.
    let nick = 'lampwright';
    const client = new IrcClient(
      { name: 'hut', host: '127.0.0.1', port, tls: false },
      {
        log: pino({ level: 'silent' }),
        now: Date.now,
        login: () =>
          signedIn
            ? Promise.resolve({ nick, password: 'oauth:t0k3n', channels: ['#lampwright'] })
            : Promise.reject(new Error('sign in to Hut first')),
        take: () => {},
        reject: () => {},
        changed: () => {},
      },
    );
    closing.push(() => client.close());
    await vi.waitFor(() => expect(client.status.message).toContain('sign in to Hut first'), 5000);
    expect(client.status.connected).toBe(false);
    signedIn = true;
    await vi.waitFor(() => expect(client.status.message).toContain('does not take lampwright'), 20_000);
    nick = 'lampman';
    await vi.waitFor(() => expect([...client.joined]).toEqual(['#lampwright']), 20_000);
  });

  test('a password is sent, a wrong one is told', async () => {
    const port = await start('lamp oil');
    await studio(port, 'lamp oil');
    const wrong = new IrcClient(
      { name: 'hut', host: '127.0.0.1', port, tls: false },
      {
        log: pino({ level: 'silent' }),
        now: Date.now,
        login: ownLogin({ nick: 'other', channels: ['#box'] }, 'water'),
        take: () => {},
        reject: () => {},
        changed: () => {},
      },
    );
    closing.push(() => wrong.close());
    await vi.waitFor(() => expect(wrong.status.message).not.toBe('connecting'), 10_000);
    expect(wrong.status.connected).toBe(false);
  });
});
