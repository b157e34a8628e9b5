/** Starting a program so that it only gets the processor's time that nobody else wants. */
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/** Where Linux has the program that chooses how another one is scheduled (util-linux). */
const CHRT = ['/usr/bin/chrt', '/bin/chrt'];
/** Where it has the program that starts another one as somebody else (util-linux), and the number of the user nobody. */
const SETPRIV = ['/usr/bin/setpriv', '/bin/setpriv'];
const NOBODY = 65_534;

/**
 * A program to start in place of `program`, with the same arguments, that comes behind all others in the schedule
 * together with everything it starts. Linux has a class for that, of which no process gets out by ranking itself higher,
 * as browsers do with theirs; elsewhere it is the lowest rank. On Windows it is `program` itself.
 * @param asNobody as a user who owns nothing but the folder named by `--user-data-dir`; see `canBeNobody`
 */
export function behindOthers(program: string, asNobody = false): { path: string; remove: () => void } {
  if (process.platform === 'win32') return { path: program, remove: () => {} };
  const chrt = CHRT.find((place) => existsSync(place));
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-page-'));
  const file = path.join(folder, 'browser');
  const before = chrt ? `${chrt} --idle 0` : 'nice -n 19';
  const lines = ['#!/bin/sh'];
  if (asNobody)
    // Its profile, made by us, is to be its own; there is no other place that it may write.
    lines.push(
      'for argument; do case "$argument" in --user-data-dir=*)',
      `  HOME="\${argument#*=}"; export HOME; chown -R ${NOBODY}:${NOBODY} "$HOME";;`,
      'esac; done',
    );
  const become = asNobody ? `${setpriv()} --reuid=${NOBODY} --regid=${NOBODY} --clear-groups ` : '';
  lines.push(`exec ${before} ${become}${quoted(program)} "$@"`, '');
  writeFileSync(file, lines.join('\n'), { mode: 0o700 });
  return { path: file, remove: () => rmSync(folder, { recursive: true, force: true }) };
}

/** Whether a program can be started as a user who owns nothing: root can, on Linux. */
export function canBeNobody(): boolean {
  return process.platform === 'linux' && process.getuid?.() === 0 && setpriv() !== null;
}

const setpriv = (): string | null => SETPRIV.find((place) => existsSync(place)) ?? null;

const quoted = (text: string) => `'${text.replaceAll("'", `'\\''`)}'`;
