import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { expect, test } from 'vitest';
import { behindOthers, canBeNobody } from './behind-others';

/** The class of a process and its rank, as Linux tells them (proc(5): fields 41 and 19 of stat). */
const TELL = `const { readFileSync } = require('fs');
const stat = readFileSync('/proc/self/stat', 'utf8');
const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
console.log(JSON.stringify({ policy: Number(fields[38]), args: process.argv.slice(1) }));`;
const IDLE = 5;

test.runIf(process.platform === 'linux')('a program and what it starts come behind all others', () => {
  const launcher = behindOthers(process.execPath);
  const given = ['a b', "it's", '$HOME', '--flag=1'];
  const direct = JSON.parse(String(execFileSync(launcher.path, ['-e', TELL, '--', ...given])));
  expect(direct).toEqual({ policy: IDLE, args: given });
  // Also what raises its own rank, which only root may.
  const child = `process.getuid() === 0 && require('os').setPriority(-5);
    process.stdout.write(require('child_process').execFileSync(process.execPath, ['-e', ${JSON.stringify(TELL)}]))`;
  expect(JSON.parse(String(execFileSync(launcher.path, ['-e', child]))).policy).toBe(IDLE);
  expect(readFileSync('/proc/self/stat', 'utf8').split(' ')[40]).not.toBe(String(IDLE));
  launcher.remove();
  expect(existsSync(launcher.path)).toBe(false);
});

test.runIf(canBeNobody())('a program that is started as nobody owns its profile, and nothing else', () => {
  const profile = mkdtempSync(path.join(os.tmpdir(), 'dolomite-nobody-'));
  const launcher = behindOthers(process.execPath, true);
  const script = `const fs = require('fs');
    const tried = (what) => { try { what(); return 'done'; } catch (error) { return error.code; } };
    console.log(JSON.stringify([process.getuid(), process.env.HOME, tried(() => fs.writeFileSync(process.env.HOME + '/x', '')),
      tried(() => fs.readFileSync(${JSON.stringify(launcher.path)}))]));`;
  const said = execFileSync(launcher.path, ['-e', script, '--', `--user-data-dir=${profile}`], { cwd: '/' });
  expect(JSON.parse(String(said))).toEqual([65_534, profile, 'done', 'EACCES']);
  launcher.remove();
  rmSync(profile, { recursive: true });
});
