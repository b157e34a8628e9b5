/** The commands as a user types them. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { claimFolder, emptyFolder, holdFolder } from '../../scripts/lib/data-folder.mjs';
import { ownFolder } from '../../scripts/lib/own-folder.mjs';
import { freePort } from '../../scripts/lib/studio.mjs';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';

const root = path.resolve(import.meta.dirname, '../..');
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-commands-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const demo = (...args: string[]) => command('scripts/demo.mjs', args);

function command(
  script: string,
  args: string[],
  env: Record<string, string> = {},
): {
  child: ChildProcess;
  ended: Promise<{ code: number | null; text: string }>;
  until: (what: RegExp) => Promise<string>;
} {
  const child = spawn(process.execPath, [script, ...args], {
    cwd: root,
    env: { ...process.env, ...env },
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
  const data = path.join(folder, 'data');
  const run = demo('--port', String(port), '--data', data, '--fresh');
  const url = `http://127.0.0.1:${port}`;
  const printed = (await run.until(/ready http:\S+/)).replace('ready ', '');
  expect(printed).toMatch(new RegExp(`^${url}/sign-in#[\\w-]{40,}$`));
  // Without what was printed there is nothing to see; with it there is.
  expect((await new StudioClient(url).ask('/', { redirect: 'manual' })).status).toBe(401);
  const cookie = await StudioClient.signIn(url, printed.split('#')[1]);
  expect(await new StudioClient(url, { cookie }).text('/')).toContain('Night Signal Box');
  // It is printed again on demand, and lies where only its owner can read it.
  const again = spawnSync(process.execPath, ['scripts/sign-in.mjs', '--data', data], { cwd: root });
  expect(String(again.stdout).trim()).toBe(printed);
  for (const name of ['sign-in.token', 'relay.token', 'running.json', 'secrets.key'])
    expect([name, (statSync(path.join(data, name)).mode & 0o777).toString(8)]).toEqual([name, '600']);
  expect((statSync(data).mode & 0o777).toString(8)).toBe('700');
  // A second studio on the same data would take up the same broadcast with the same keys.
  const second = await demo('--data', data).ended;
  expect([second.code, second.text.trim()]).toEqual([
    1,
    `Dolomite could not start: Dolomite is already running on this data folder, at ${url}/: stop it first, or choose another folder with --data.`,
  ]);
  const fresh = await demo('--data', data, '--fresh').ended;
  expect([fresh.code, existsSync(path.join(data, 'dolomite.sqlite'))]).toEqual([1, true]);
  run.child.kill('SIGTERM');
  expect((await run.ended).code).toBe(0);
  await expect(new StudioClient(url).text('/')).rejects.toThrow();
  const gone = spawnSync(process.execPath, ['scripts/sign-in.mjs', '--data', data], { cwd: root });
  expect([gone.status, String(gone.stderr)]).toEqual([1, expect.stringContaining('No studio runs')]);
});

test('a folder that is somebody else’s is left alone, also with --fresh; one of ours is emptied of what is ours', async () => {
  const theirs = path.join(folder, 'theirs');
  mkdirSync(theirs);
  writeFileSync(path.join(theirs, 'letters.txt'), 'dear');
  for (const more of [[], ['--fresh']]) {
    const { code, text } = await demo('--data', theirs, ...more).ended;
    expect([code, text]).toEqual([1, expect.stringContaining('was not made by Dolomite')]);
  }
  expect(readdirSync(theirs)).toEqual(['letters.txt']);
  const ours = path.join(folder, 'ours');
  claimFolder(ours);
  mkdirSync(path.join(ours, 'recordings'));
  for (const name of ['letters.txt', 'secrets.key', 'recordings/night.mkv'])
    writeFileSync(path.join(ours, name), 'x');
  const letGo = await holdFolder(ours);
  emptyFolder(ours);
  letGo();
  expect(readdirSync(ours).sort()).toEqual(['dolomite-data.json', 'letters.txt', 'studio.lock']);
});

test('a studio that was killed lets its folder go, and leaves no process behind', async () => {
  const data = path.join(folder, 'killed');
  const run = demo('--data', data);
  const url = (await run.until(/ready http:\S+/)).replace(/ready (.*)sign-in#.*/, '$1');
  run.child.kill('SIGKILL');
  await run.ended;
  const asked = spawnSync(process.execPath, ['scripts/sign-in.mjs', '--data', data], { cwd: root });
  expect([asked.status, String(asked.stderr)]).toEqual([1, expect.stringContaining('No studio runs')]);
  const again = demo('--data', data);
  const started = (await again.until(/ready http:\S+/)).replace(/ready (.*)sign-in#.*/, '$1');
  expect(started).not.toBe(url);
  await expect(new StudioClient(url).text('/')).rejects.toThrow();
  again.child.kill('SIGTERM');
  expect((await again.ended).code).toBe(0);
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
    [['--colour', 'red'], 'Options: --port N, --data DIR, --fresh, --open'],
  ] as const) {
    const { code, text } = await demo(...args).ended;
    expect(code).toBe(1);
    expect(text.trim().split('\n')).toHaveLength(1);
    expect(text).toContain(words);
  }
  taken.close();
});

test('start keeps a studio of one’s own where the system keeps such things: empty, without stand-ins, never deleted by a word', async () => {
  const home = { XDG_DATA_HOME: path.join(folder, 'home') };
  const data = path.join(folder, 'home', 'dolomite');
  const wrong = await command('scripts/start.mjs', ['--fresh'], home).ended;
  expect([wrong.code, wrong.text]).toEqual([
    1,
    expect.stringContaining('Options: --port N, --data DIR, --open'),
  ]);
  const run = command('scripts/start.mjs', [], home);
  const printed = (await run.until(/ready http:\S+/)).replace('ready ', '');
  await run.until(new RegExp(`are in ${data}`));
  const url = printed.replace(/\/sign-in#.*/, '');
  const cookie = await StudioClient.signIn(`${url}/`, printed.split('#')[1]);
  const page = await new StudioClient(url, { cookie }).text('/');
  expect([page.includes('Night Signal Box'), page.includes('No show yet')]).toEqual([false, true]);
  expect(existsSync(path.join(data, 'standins.json'))).toBe(false);
  const again = spawnSync(process.execPath, ['scripts/sign-in.mjs'], {
    cwd: root,
    env: { ...process.env, ...home },
  });
  expect(String(again.stdout).trim()).toBe(printed);
  run.child.kill('SIGTERM');
  expect((await run.ended).code).toBe(0);
});

test('each system has its place for a person’s own data', () => {
  const at = (platform: string, env: Record<string, string> = {}, home = '/home/lamp') =>
    ownFolder({ platform, env, home });
  expect(at('linux')).toBe('/home/lamp/.local/share/dolomite');
  expect(at('linux', { XDG_DATA_HOME: '/data' })).toBe('/data/dolomite');
  expect(at('linux', { XDG_DATA_HOME: 'relative' })).toBe('/home/lamp/.local/share/dolomite');
  expect(at('darwin')).toBe('/home/lamp/Library/Application Support/Dolomite');
  expect(at('win32', { LOCALAPPDATA: 'D:\\Local' })).toBe('D:\\Local\\Dolomite');
  expect(at('win32', {}, 'C:\\Users\\lamp')).toBe('C:\\Users\\lamp\\AppData\\Local\\Dolomite');
});
