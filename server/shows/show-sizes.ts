import { filesIn } from '../../core/show/file-uses';
import type { AnyRecord } from '../../core/show/records';

/** Between two shows that are counted: nobody waits for it, and all records of one are read at once. */
const PAUSE_MS = 20;

/** How much the files that a show names take. Counted when somebody asks and kept until the show is edited. */
export class ShowSizes {
  readonly #bytes = new Map<string, number>();
  readonly #wanted: string[] = [];
  #timer: NodeJS.Timeout | null = null;

  constructor(
    readonly parts: {
      /** Of a show, as they are now; none of one that is gone. */
      records: (showId: string) => Iterable<AnyRecord>;
      /** Of a file, in bytes; undefined when there is none of this id. */
      bytesOf: (fileId: string) => number | undefined;
      /** Of one that cannot be read nothing is counted, and that is told. */
      failed: (showId: string, error: unknown) => void;
    },
  ) {}

  /** Bytes; null while that is not known yet, and is found out. */
  of(showId: string): number | null {
    const known = this.#bytes.get(showId);
    if (known !== undefined) return known;
    if (!this.#wanted.includes(showId)) this.#wanted.push(showId);
    this.#timer ??= setTimeout(() => this.#count(), PAUSE_MS).unref();
    return null;
  }

  edited(showId: string): void {
    this.#bytes.delete(showId);
  }

  #count(): void {
    this.#timer = null;
    const showId = this.#wanted.shift();
    if (showId === undefined) return;
    try {
      this.#bytes.set(showId, this.#sum(showId));
    } catch (error) {
      this.#bytes.set(showId, 0);
      this.parts.failed(showId, error);
    }
    if (this.#wanted.length > 0) this.#timer = setTimeout(() => this.#count(), PAUSE_MS).unref();
  }

  #sum(showId: string): number {
    const sizes = new Map<string, number>();
    for (const record of this.parts.records(showId))
      for (const id of filesIn(record, (one) => this.parts.bytesOf(one) !== undefined))
        sizes.set(id, this.parts.bytesOf(id) ?? 0);
    return [...sizes.values()].reduce((sum, bytes) => sum + bytes, 0);
  }
}
