// Starts and watches the three processes of a studio: relay, stand-ins, web. Used by demo, rehearse, bench and the tests.
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { root } from './prepare.mjs';

export function freePort() {
  return new Promise((resolve, reject) => {
    const server = net.createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

/** Most of what the relay allocates lives for milliseconds: a small young generation keeps its memory flat. */
export const RELAY_FLAGS = ['--max-semi-space-size=2'];

/**
 * Ranks of the processes, as `nice` has them: pictures are made in the browser, thirty times a second, and each time
 * they have to wait for a processor they may come late. What serves them can wait those milliseconds; a platform, which
 * is elsewhere in truth, longest.
 */
const NICENESS = { relay: 3, web: 6, standins: 9 };

/** How long a process may take until it is ready. */
const READY_MS = 30_000;
/** A process that ends is started again after this, longer each time it ends at once. */
const RESTART_MS = [300, 1000, 3000, 10_000];

/** Threads that a process starts later rank as the one that starts them: it is to be told at once. */
function rank(pid, niceness) {
  try {
    if (pid !== undefined) os.setPriority(pid, niceness);
  } catch {
    // It has ended already, or ranks lower than that by itself: either is told or right elsewhere.
  }
}

function token(data) {
  // The same over restarts of one process, so that the others still know it.
  const file = path.join(data, 'relay.token');
  if (!existsSync(file)) writeFileSync(file, randomBytes(24).toString('hex'), { mode: 0o600 });
  return readFileSync(file, 'utf8');
}

/**
 * @param {{ data: string, port?: number, quiet?: boolean, env?: Record<string, string>, onExit?: (name: string) => void }} options
 */
export async function startStudio({ data, port = 0, quiet = false, env = {}, onExit = () => {} }) {
  mkdirSync(data, { recursive: true });
  const relayPort = await freePort();
  const webPort = port || (await freePort());
  const standinPort = await freePort();
  const shared = {
    ...process.env,
    ...env,
    NODE_ENV: 'production',
    DOLOMITE_ROOT: root,
    DOLOMITE_DATA: data,
    DOLOMITE_RELAY_PORT: String(relayPort),
    DOLOMITE_RELAY_TOKEN: token(data),
    DOLOMITE_PORT: String(webPort),
    DOLOMITE_STANDIN_PORT: String(standinPort),
    DOLOMITE_STANDINS: path.join(data, 'standins.json'),
  };
  const children = new Map();
  let stopping = false;

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
          env: shared,
          stdio: ['ignore', quiet ? 'ignore' : 'inherit', quiet ? 'ignore' : 'inherit', 'ipc'],
        },
      );
      children.set(name, child);
      rank(child.pid, NICENESS[name]);
      let ready = false;
      const timer = setTimeout(
        () => reject(new Error(`${name} was not ready within ${READY_MS / 1000} s`)),
        READY_MS,
      );
      child.on('message', (message) => {
        if (message.ready) {
          ready = true;
          clearTimeout(timer);
          resolve(message.port);
        } else if (message.failed) reject(new Error(message.failed));
      });
      child.on('exit', (code, signal) => {
        clearTimeout(timer);
        if (stopping) return;
        if (!ready) return reject(new Error(`${name} ended with ${signal ?? code} before it was ready`));
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
  };
  try {
    await Promise.all([start('relay'), start('standins')]);
    await start('web');
  } catch (error) {
    await stop();
    throw error;
  }
  const platforms = () => JSON.parse(readFileSync(path.join(data, 'standins.json'), 'utf8')).platforms;
  return {
    url: `http://127.0.0.1:${webPort}/`,
    relayPort,
    webPort,
    relayToken: shared.DOLOMITE_RELAY_TOKEN,
    data,
    children,
    platforms,
    stop,
  };
}
