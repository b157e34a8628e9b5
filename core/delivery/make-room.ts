/** Which recordings a rule would remove, for looking at before anything is deleted. */
export interface RoomRule {
  /** Older than so many days. */
  days: number;
  /** Clips that were kept on purpose stay. */
  keepClips: boolean;
  /** Only what has a copy in another container. */
  onlyCopied: boolean;
}

export interface RoomFile {
  id: string;
  startedMs: number;
  bytes: number;
  kind: 'recording' | 'clip' | 'copy';
  madeFrom: string | null;
}

const DAY_MS = 86_400_000;

/** What the rule would remove, oldest first. A copy made from a file that stays is no reason to remove it. */
export function toRemove<T extends RoomFile>(files: readonly T[], rule: RoomRule, nowMs: number): T[] {
  const copied = new Set(files.flatMap((f) => (f.kind === 'copy' && f.madeFrom ? [f.madeFrom] : [])));
  return files
    .filter((f) => f.startedMs < nowMs - rule.days * DAY_MS)
    .filter((f) => !(rule.keepClips && f.kind === 'clip'))
    .filter((f) => !rule.onlyCopied || (f.kind === 'recording' && copied.has(f.id)))
    .sort((a, b) => a.startedMs - b.startedMs);
}

/** Recordings that have no copy in another container yet. */
export function withoutCopy<T extends RoomFile & { seconds: number }>(files: readonly T[]): T[] {
  const copied = new Set(files.flatMap((f) => (f.kind === 'copy' && f.madeFrom ? [f.madeFrom] : [])));
  return files.filter((f) => f.kind === 'recording' && f.seconds > 0 && !copied.has(f.id));
}
