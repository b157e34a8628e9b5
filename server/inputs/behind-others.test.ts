import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, test } from 'vitest';
import { behindOthers, canBeNobody } from './behind-others';

/** Rank and arguments. */
const TELL = `console.log(JSON.stringify({ rank: require('os').getPriority(), args: process.argv.slice(1) }));`;
const LAST = 19;

test.runIf(process.platform !== 'win32')('a program and what it starts come behind all others', () => {
  const launcher = behindOthers(process.execPath);
  const given = ['a b', "it's", '$HOME', '--flag=1'];
  const direct = JSON.parse(String(execFileSync(launcher.path, ['-e', TELL, '--', ...given])));
  expect(direct).toEqual({ rank: LAST, args: given });
  const child = `process.stdout.write(require('child_process').execFileSync(process.execPath, ['-e', ${JSON.stringify(TELL)}]))`;
  expect(JSON.parse(String(execFileSync(launcher.path, ['-e', child]))).rank).toBe(LAST);
  expect(os.getPriority()).toBeLessThan(LAST);
  launcher.remove();
  expect(existsSync(launcher.path)).toBe(false);
});

test.runIf(canBeNobody())('a program that is started as nobody owns its profile, and nothing else', () => {
  const profile = mkdtempSync(path.join(os.tmpdir(), 'dolomite-nobody-'));
  const launcher = behindOthers(process.execPath, true);
  const script = `const fs = require('fs');
    const tried = (what) => { try { what(); return 'done'; } catch (error) { return error.code; } };
    console.log(JSON.stringify([process.getuid(), tried(() => require('os').setPriority(-5)), process.env.HOME, tried(() => fs.writeFileSync(process.env.HOME + '/x', '')),
      tried(() => fs.readFileSync(${JSON.stringify(launcher.path)}))]));`;
  const said = execFileSync(launcher.path, ['-e', script, '--', `--user-data-dir=${profile}`], { cwd: '/' });
  expect(JSON.parse(String(said))).toEqual([65_534, 'ERR_SYSTEM_ERROR', profile, 'done', 'EACCES']);
  launcher.remove();
  rmSync(profile, { recursive: true });
});
