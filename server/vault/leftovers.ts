import { readdirSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { PARTS } from './rewrap-orders';

/** What is still being made was touched within this. */
const FRESH_MS = 10 * 60_000;
/** Files that get another name when they are whole. */
const UNFINISHED = /\.part(\.\w+)?$/;

/**
 * Removes what a crash left behind: files that were never finished, and pictures that were kept to look back on.
 * @param folders where files are made
 * @param sessionId the broadcast that runs, whose scratch files are in use; null for none
 */
export function clearLeftovers(
  folders: readonly string[],
  scratchFolder: string,
  sessionId: string | null,
  nowMs: number,
): void {
  const unfinished = (name: string) =>
    UNFINISHED.test(name) || Object.values(PARTS).some((end) => name.endsWith(end));
  for (const folder of folders)
    for (const name of namesIn(folder)) if (unfinished(name)) removeOld(path.join(folder, name), nowMs);
  for (const name of namesIn(scratchFolder))
    if (sessionId === null || !name.startsWith(sessionId)) removeOld(path.join(scratchFolder, name), nowMs);
}

function namesIn(folder: string): string[] {
  try {
    return readdirSync(folder);
  } catch {
    // Not made yet, or a disk that is away: nothing of ours lies there now.
    return [];
  }
}

function removeOld(file: string, nowMs: number): void {
  const stats = statSync(file, { throwIfNoEntry: false });
  if (stats?.isFile() && nowMs - stats.mtimeMs > FRESH_MS) rmSync(file, { force: true });
}
