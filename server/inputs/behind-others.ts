/** Starting a program so that it only gets the processor's time that nobody else wants. */
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/** Where Linux has the program that chooses how another one is scheduled (util-linux). */
const CHRT = ['/usr/bin/chrt', '/bin/chrt'];

/**
 * A program to start in place of `program`, with the same arguments, that comes behind all others in the schedule
 * together with everything it starts. Linux has a class for that, of which no process gets out by ranking itself higher,
 * as browsers do with theirs; elsewhere it is the lowest rank. On Windows it is `program` itself.
 */
export function behindOthers(program: string): { path: string; remove: () => void } {
  if (process.platform === 'win32') return { path: program, remove: () => {} };
  const chrt = CHRT.find((place) => existsSync(place));
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-page-'));
  const file = path.join(folder, 'browser');
  const before = chrt ? `${chrt} --idle 0` : 'nice -n 19';
  writeFileSync(file, `#!/bin/sh\nexec ${before} ${quoted(program)} "$@"\n`, { mode: 0o700 });
  return { path: file, remove: () => rmSync(folder, { recursive: true, force: true }) };
}

const quoted = (text: string) => `'${text.replaceAll("'", `'\\''`)}'`;
