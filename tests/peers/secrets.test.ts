/** What a process says and how it was started must hold no key: logs and lists of processes are read by others. */
import { fork } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, test } from 'vitest';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { eventually } from '../lib/relay-process';

const TOKEN = 'test-token-of-twenty-and-more-characters';
const KEY = 'hut-nine-and-its-secret-roof';
const TICKET = 'ticket-that-nobody-else-may-have';

test('a relay’s log and command line hold neither key nor ticket nor token', async () => {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-secrets-'));
  writeFileSync(path.join(data, 'relay.token'), TOKEN, { mode: 0o600 });
  const child = fork(path.resolve(import.meta.dirname, '../../build/server/relay.mjs'), {
    env: { ...process.env, DOLOMITE_DATA: data, DOLOMITE_RELAY_PORT: '0', DOLOMITE_LOG: 'trace' },
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
  });
  let said = '';
  for (const stream of [child.stdout!, child.stderr!])
    stream.on('data', (part: Buffer) => (said += String(part)));
  try {
    const port = await new Promise<number>((resolve, reject) => {
      child.once('message', (message) => resolve((message as { port: number }).port));
      child.once('exit', () => reject(new Error('the relay ended at once')));
    });
    const relay = new StudioClient(`http://127.0.0.1:${port}`, { authorization: `Bearer ${TOKEN}` });
    const order = {
      ...{ sessionId: 'session-1', ticket: TICKET, origin: 'http://127.0.0.1', recordingFolder: null },
      destinations: [{ id: 'd', name: 'Nobody', frame: 'wide', url: 'rtmp://127.0.0.1:9/live', key: KEY }],
    };
    expect((await relay.send('/begin', order)).status).toBe(200);
    // One that is refused, and an order that cannot be read, are logged as well.
    await new StudioClient(relay.origin, { authorization: 'Bearer wrong' }).send('/begin', order);
    await relay.send('/begin', { ...order, sessionId: 7 });
    await eventually(() => said.includes('broadcast begins'));
    const status = await relay.text('/status');
    await relay.send('/end', {});
    await eventually(() => said.includes('broadcast ended'));
    const command = readFileSync(`/proc/${child.pid}/cmdline`, 'utf8');
    const environment = readFileSync(`/proc/${child.pid}/environ`, 'utf8');
    for (const secret of [KEY, TICKET, TOKEN])
      for (const [where, text] of Object.entries({ said, status, command, environment }))
        expect(text.includes(secret), `${secret} in ${where}`).toBe(false);
  } finally {
    child.kill('SIGKILL');
    rmSync(data, { recursive: true });
  }
});
