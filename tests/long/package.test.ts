/** The package: made, and run from an empty folder by nobody but npm. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { root } from '../../scripts/lib/prepare.mjs';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';

let folder: string;
let tarball: string;
const children: ChildProcess[] = [];

/** Of somebody who runs no tests. */
const env = Object.fromEntries(
  Object.entries(process.env).filter(
    ([name]) => !/^(VITEST|NODE_ENV$|TEST$|DEV$|PROD$|MODE$|SSR$|BASE_URL$)/.test(name),
  ),
);
const npm = (args: string[], cwd: string) => {
  const { status, stdout, stderr } = spawnSync('npm', args, {
    cwd,
    env,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  if (status !== 0) throw new Error(stderr);
  return stdout;
};

beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-package-'));
  npm(['pack', '--silent', '--pack-destination', folder], root);
  tarball = path.join(
    folder,
    readdirSync(folder).find((name) => name.endsWith('.tgz'))!,
  );
});
afterAll(() => {
  // With everything that npx has started.
  for (const { pid, exitCode } of children) if (exitCode === null) process.kill(-pid!, 'SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

test('it has what runs, and neither sources nor tests nor data', () => {
  const { stdout } = spawnSync('tar', ['-tzf', tarball], { encoding: 'utf8', maxBuffer: 1 << 26 });
  const names = stdout
    .trim()
    .split('\n')
    .map((name) => name.replace(/^package\//, ''));
  for (const needed of [
    'package.json',
    'README.md',
    'scripts/dolomite.mjs',
    'build/server/web.mjs',
    'build/app/server/index.js',
  ])
    expect(names).toContain(needed);
  expect(names.some((name) => name.startsWith('db/migrations/'))).toBe(true);
  expect(
    names.filter((name) => /\.test\.|\.tsx?$|^(app|core|engine|server|tests|data)\//.test(name)),
  ).toEqual([]);
});

test('in an empty folder it starts a studio of one’s own, signs a browser in, and leaves nothing beside itself', async () => {
  const empty = path.join(folder, 'empty');
  const data = path.join(folder, 'mine');
  spawnSync('mkdir', [empty]);
  // Nobody has approved any script of any package: what has to be compiled is compiled by the studio’s own start.
  npm(['install', '--no-audit', '--no-fund', '--ignore-scripts', '--loglevel=error', tarball], empty);
  const child = spawn('npx', ['dolomite', 'start', '--data', data], {
    cwd: empty,
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
    detached: true,
  });
  children.push(child);
  let said = '';
  child.stdout.on('data', (bytes: Buffer) => (said += bytes.toString()));
  await expect.poll(() => said, { timeout: 240_000 }).toMatch(/ready http:\/\/\S+#/);
  await expect.poll(() => said).toContain('"npx dolomite sign-in" prints it again');
  const [url, token] = /ready (\S+)sign-in#(\S+)/.exec(said)!.slice(1);
  const cookie = await StudioClient.signIn(url, token);
  expect(await new StudioClient(url.slice(0, -1), { cookie }).text('/')).toContain('Dolomite');
  expect(existsSync(path.join(data, 'dolomite.sqlite'))).toBe(true);
  expect(readdirSync(empty).sort()).toEqual(['node_modules', 'package-lock.json', 'package.json']);
  const wrong = spawnSync('npx', ['dolomite', 'play'], { cwd: empty, encoding: 'utf8' });
  expect(wrong.status).toBe(1);
  // npm may have words of its own beside it.
  expect(wrong.stderr).toContain(
    'There is no command "play". Commands: start, demo, door, sign-in, go-back; without one, start.',
  );
  process.kill(-child.pid!, 'SIGTERM');
  await new Promise((resolve) => child.once('exit', resolve));
});
