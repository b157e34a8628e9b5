// Starts and watches the processes of a studio: relay, door, web, and with the demonstration its stand-ins. Used by start, demo,
// rehearse, bench and the tests.
import { spawn } from 'node:child_process';
import { openSync, readFileSync, rmSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import {
  claimFolder,
  emptyFolder,
  freshToken,
  holdFolder,
  lastingToken,
  writeWhole,
} from './data-folder.mjs';
import { root } from './prepare.mjs';
import { threadsOf, waitedForProcessorMs } from './process-usage.mjs';
import { StudioClient } from './studio-client.mjs';

/** Ports that were named already, and may not be listened on yet. */
const given = new Set();

/**
 * A port that nobody listens on. Below those that systems give to connections going out: one of those could be taken by
 * any program before it is listened on.
 */
export async function freePort() {
  for (;;) {
    const port = 20_000 + Math.floor(Math.random() * 12_000);
    if (given.has(port)) continue;
    const free = await new Promise((resolve) => {
      const server = net.createServer();
      server.once('error', () => resolve(false));
      server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
    });
    if (!free) continue;
    given.add(port);
    return port;
  }
}

/** Most of what the relay allocates lives for milliseconds: a small young generation keeps its memory flat. */
export const RELAY_FLAGS = ['--max-semi-space-size=2'];

/**
 * Ranks of the processes, as `nice` has them: pictures are made in the browser, thirty times a second, and each time
 * they have to wait for a processor they may come late. What serves them can wait those milliseconds; a platform, which
 * is elsewhere in truth, longest.
 */
const NICENESS = { relay: 3, web: 6, door: 8, standins: 9 };

/** How long a process may take until it is ready, if it has the processor whenever it wants it. */
const READY_MS = 30_000;
/** On a machine that others use it may take longer; so long at most. */
const READY_AT_MOST_MS = 180_000;
/** A process that ends is started again after this, longer each time it ends at once. */
const RESTART_MS = [300, 1000, 3000, 10_000];

/** Every thread of a process ranks for itself on Linux; one that is started later ranks as the one that starts it. */
function rank(pid, niceness) {
  for (const thread of threadsOf(pid))
    try {
      os.setPriority(thread, niceness);
    } catch {
      // It has ended already, or ranks lower than that by itself: either is told or right elsewhere.
    }
}

/**
 * @param {{ data: string, port?: number, fresh?: boolean, demonstration?: boolean, ownerHost?: string, ownerPort?: number, certificate?: { cert: string, key: string }, logFolder?: string | null, quiet?: boolean, env?: Record<string, string>, onExit?: (name: string) => void }} options
 */
export async function startStudio({
  data,
  port = 0,
  fresh = false,
  demonstration = true,
  ownerHost = '',
  ownerPort = 0,
  certificate = undefined,
  logFolder = null,
  quiet = false,
  env = {},
  onExit = () => {},
}) {
  claimFolder(data);
  const letGo = await holdFolder(data);
  if (fresh) emptyFolder(data);
  const relayToken = lastingToken(data, 'relay');
  const signInToken = freshToken(data, 'sign-in');
  const doorFolder = path.join(data, 'door');
  lastingToken(doorFolder, 'door');
  const relayPort = await freePort();
  const webPort = port || (await freePort());
  const standinPort = await freePort();
  const doorPort = await freePort();
  const ownerAt = ownerPort || (await freePort());
  const everybody = {
    ...process.env,
    ...env,
    NODE_ENV: 'production',
    DOLOMITE_ROOT: root,
    DOLOMITE_DOOR_PORT: String(doorPort),
  };
  /** The door has strangers before it: it is told of its own folder and of nothing else. */
  const doorEnv = { ...everybody, DOLOMITE_DOOR_FOLDER: doorFolder };
  const shared = {
    ...everybody,
    DOLOMITE_DATA: data,
    DOLOMITE_RELAY_PORT: String(relayPort),
    DOLOMITE_PORT: String(webPort),
    ...(ownerHost && { DOLOMITE_OWNER_HOST: ownerHost, DOLOMITE_OWNER_PORT: String(ownerAt) }),
    ...(ownerHost &&
      certificate && { DOLOMITE_OWNER_CERT: certificate.cert, DOLOMITE_OWNER_KEY: certificate.key }),
    ...(demonstration && {
      DOLOMITE_STANDIN_PORT: String(standinPort),
      DOLOMITE_STANDINS: path.join(data, 'standins.json'),
    }),
  };
  const children = new Map();
  /** Where a process says what it has to say: a file of its own when somebody wants to read it. */
  const output = (name) =>
    logFolder ? openSync(path.join(logFolder, `${name}.log`), 'a', 0o600) : quiet ? 'ignore' : 'inherit';
  let stopping = false;
  /** Those that have been ready once. */
  const begun = new Set();

  const start = (name, tries = 0) =>
    new Promise((resolve, reject) => {
      const startedAt = Date.now();
      const child = spawn(
        process.execPath,
        [
          ...(name === 'relay' ? RELAY_FLAGS : []),
          '--enable-source-maps',
          path.join(root, `build/server/${name}.mjs`),
        ],
        {
          cwd: root,
          env: name === 'door' ? doorEnv : shared,
          stdio: ['ignore', output(name), output(name), 'ipc'],
        },
      );
      children.set(name, child);
      let ready = false;
      const timer = setInterval(() => {
        const [took, waited] = [Date.now() - startedAt, waitedForProcessorMs(child.pid)];
        if (took < Math.min(READY_MS + waited, READY_AT_MOST_MS)) return;
        clearInterval(timer);
        reject(
          new Error(
            `${name} was not ready within ${Math.round(took / 1000)} s, of which it waited ${Math.round(waited / 1000)} s for the processor`,
          ),
        );
      }, 250);
      child.on('message', (message) => {
        if (message.ready) {
          ready = true;
          begun.add(name);
          clearInterval(timer);
          // Not before: where others take all there is, what ranks low would hardly begin at all.
          rank(child.pid, NICENESS[name]);
          resolve(message);
        } else if (message.failed) reject(new Error(message.failed));
      });
      child.on('exit', (code, signal) => {
        clearInterval(timer);
        if (stopping) return;
        if (!ready) reject(new Error(`${name} ended with ${signal ?? code} before it was ready`));
        // One that never ran is told to whoever starts the studio; one that did is tried again, however often.
        if (!begun.has(name)) return;
        onExit(name);
        const again = Date.now() - startedAt > 10_000 ? 0 : tries;
        setTimeout(
          () => !stopping && start(name, again + 1).catch(() => {}),
          RESTART_MS[Math.min(again, RESTART_MS.length - 1)],
        );
      });
    });

  const stop = async () => {
    stopping = true;
    await Promise.all(
      [...children.values()].map(
        (child) =>
          new Promise((resolve) => {
            if (child.exitCode !== null || child.signalCode !== null) return resolve();
            const force = setTimeout(() => child.kill('SIGKILL'), 4000);
            child.on('exit', () => {
              clearTimeout(force);
              resolve();
            });
            child.kill('SIGTERM');
          }),
      ),
    );
    for (const name of ['running.json', 'open.html']) rmSync(path.join(data, name), { force: true });
    letGo();
  };
  /** Where the owner's side is reached from other computers; null without. */
  let owner = null;
  try {
    await Promise.all([start('relay'), start('door'), ...(demonstration ? [start('standins')] : [])]);
    ({ owner } = await start('web'));
  } catch (error) {
    await stop();
    throw error;
  }
  const url = `http://127.0.0.1:${webPort}/`;
  writeWhole(path.join(data, 'running.json'), JSON.stringify({ url, pid: process.pid }));
  /** @type {Promise<string> | null} */
  let cookie = null;
  const ownCookie = () => (cookie ??= StudioClient.signIn(url, signInToken));
  /** Signs a browser's pages in, those that are still to come too. @param {import('playwright-core').BrowserContext} context */
  const signIn = async (context) => {
    const [name, value] = (await ownCookie()).split('=');
    await context.addCookies([
      { name, value, domain: '127.0.0.1', path: '/', httpOnly: true, sameSite: 'Strict' },
    ]);
  };
  const platforms = () =>
    demonstration ? JSON.parse(readFileSync(path.join(data, 'standins.json'), 'utf8')).platforms : [];
  return {
    url,
    /** Opened in a browser it makes that one the owner's. */
    signInUrl: `${url}sign-in#${signInToken}`,
    /** The same from another computer, with the fingerprint of a certificate that nobody vouches for; null when not wanted. */
    elsewhere: owner && { ...owner, signInUrl: `${owner.url}sign-in#${signInToken}` },
    /** A client that is signed in as the owner, at a path of the studio. */
    owner: async (at = '') => new StudioClient(url.slice(0, -1) + at, { cookie: await ownCookie() }),
    /** A page that is signed in as the owner. @param {import('playwright-core').Browser} browser */
    page: async (browser, options = {}) => {
      const page = await browser.newPage(options);
      await signIn(page.context());
      return page;
    },
    signIn,
    relayPort,
    doorPort,
    webPort,
    relayToken,
    data,
    children,
    platforms,
    stop,
  };
}
