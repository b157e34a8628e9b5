/** What waits in front of one way out. Pictures that grow old there are dropped by whole groups; sound never. */
export interface Waiting {
  kind: 'audio' | 'video' | 'data';
  keyframe: boolean;
  bytes: number;
}

interface Entry<T> {
  item: T;
  atMs: number;
}

/** Viewers' players hold two to four seconds; what is older comes too late. */
const DROP_AFTER_MS = 1500;

export class OutQueue<T extends Waiting> {
  #entries: Entry<T>[] = [];
  #bytes = 0;
  /** The rest of the present group is gone: the next picture must be a keyframe. */
  #broken = false;
  /** Pictures that never went out, since the beginning. */
  droppedPictures = 0;

  constructor(readonly dropAfterMs = DROP_AFTER_MS) {}

  get bytes(): number {
    return this.#bytes;
  }

  /** Age of the oldest entry. */
  ageMs(nowMs: number): number {
    return this.#entries.length === 0 ? 0 : nowMs - this.#entries[0].atMs;
  }

  push(item: T, atMs: number): void {
    if (item.kind === 'video') {
      if (this.#broken && !item.keyframe) {
        this.droppedPictures += 1;
        return;
      }
      this.#broken = false;
    }
    this.#entries.push({ item, atMs });
    this.#bytes += item.bytes;
  }

  /**
   * The next entry, if one of its size may go.
   * @param room bytes the way out takes now; any positive room lets one go, however large
   */
  take(room: number): T | null {
    if (this.#entries.length === 0 || room <= 0) return null;
    const { item } = this.#entries.shift()!;
    this.#bytes -= item.bytes;
    return item;
  }

  /**
   * Drops pictures that wait too long: what is left of every group but the newest that has its keyframe here. When
   * there is no such group, all of them, up to the next keyframe.
   * @returns how many pictures were dropped
   */
  dropStale(nowMs: number): number {
    const oldest = this.#entries.find(({ item }) => item.kind === 'video');
    if (!oldest || nowMs - oldest.atMs <= this.dropAfterMs) return 0;
    const newestKey = this.#entries.findLastIndex(({ item }) => item.kind === 'video' && item.keyframe);
    // A group that is old itself goes as well.
    const keepFrom =
      newestKey >= 0 && nowMs - this.#entries[newestKey].atMs <= this.dropAfterMs ? newestKey : Infinity;
    const before = this.#entries.length;
    this.#entries = this.#entries.filter(({ item }, i) => item.kind !== 'video' || i >= keepFrom);
    const dropped = before - this.#entries.length;
    this.#bytes = this.#entries.reduce((sum, { item }) => sum + item.bytes, 0);
    if (keepFrom === Infinity) this.#broken = true;
    this.droppedPictures += dropped;
    return dropped;
  }

  clear(): void {
    this.#entries = [];
    this.#bytes = 0;
    this.#broken = false;
  }
}
