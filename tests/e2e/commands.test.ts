import { StudioClient } from '../../scripts/lib/studio-client.mjs';
/** The commands as a user types them. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { freePort } from '../../scripts/lib/studio.mjs';

const root = path.resolve(import.meta.dirname, '../..');
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-commands-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function demo(...args: string[]): {
  child: ChildProcess;
  ended: Promise<{ code: number | null; text: string }>;
  until: (what: RegExp) => Promise<string>;
} {
  const child = spawn(process.execPath, ['scripts/demo.mjs', ...args], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let text = '';
  const waiting: (() => void)[] = [];
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (part: Buffer) => {
      text += part.toString();
      for (const look of waiting) look();
    });
  const ended = new Promise<{ code: number | null; text: string }>((resolve) =>
    child.on('exit', (code) => resolve({ code, text })),
  );
  const until = (what: RegExp) =>
    new Promise<string>((resolve, reject) => {
      const look = () => {
        const found = what.exec(text);
        if (found) resolve(found[0]);
      };
      waiting.push(look);
      void ended.then(() => reject(new Error(`it ended without ${what}: ${text}`)));
      look();
    });
  return { child, ended, until };
}

test('demo prints where it is ready, keeps its port, and ends cleanly on SIGTERM', async () => {
  const port = await freePort();
  const run = demo('--port', String(port), '--data', path.join(folder, 'data'), '--fresh');
  expect(await run.until(/ready http:\S+/)).toBe(`ready http://127.0.0.1:${port}/`);
  expect(await new StudioClient(`http://127.0.0.1:${port}`).text('/')).toContain('Night Signal Box');
  run.child.kill('SIGTERM');
  expect((await run.ended).code).toBe(0);
  await expect(new StudioClient(`http://127.0.0.1:${port}`).text('/')).rejects.toThrow();
});

test('a taken port, a folder that is a file and a strange option get one clear line each', async () => {
  const taken = net.createServer();
  const port = await new Promise<number>((resolve) =>
    taken.listen(0, '127.0.0.1', () => resolve((taken.address() as net.AddressInfo).port)),
  );
  const file = path.join(folder, 'file');
  writeFileSync(file, '');
  for (const [args, words] of [
    [['--port', String(port), '--data', path.join(folder, 'b')], `Port ${port} is taken`],
    [['--data', path.join(file, 'below')], 'cannot be written: choose another with --data'],
    [['--port', 'nine'], 'is not a port'],
    [['--colour', 'red'], 'Options: --port N, --data DIR, --fresh'],
  ] as const) {
    const { code, text } = await demo(...args).ended;
    expect(code).toBe(1);
    expect(text.trim().split('\n')).toHaveLength(1);
    expect(text).toContain(words);
  }
  taken.close();
});
