/** The sum by which a file is known, made as the file comes. */
import { createHash } from 'node:crypto';
import { Worker } from 'node:worker_threads';

export interface FileHash {
  /** Resolves when there is room for more. */
  add(piece: Uint8Array): Promise<void>;
  /** @returns hexadecimal digits */
  done(): Promise<string>;
  /** Frees what it holds; may be called at any time, also twice. */
  close(): void;
}

/** From so much on a thread of its own is worth its beginning: a gigabyte takes seconds, in which nothing else would be done. */
const THREAD_FROM_BYTES = 32 * 1024 * 1024;
/** Pieces on their way to the thread. */
const MOST_AHEAD = 8;

const THREAD = `
  const { parentPort } = require('node:worker_threads');
  const hash = require('node:crypto').createHash('sha256');
  parentPort.on('message', (piece) =>
    parentPort.postMessage(piece === null ? hash.digest('hex') : (hash.update(piece), null)));
`;

/** @param expected how long the file says it is, bytes; null when it does not say */
export function fileHash(expected: number | null): FileHash {
  if (expected !== null && expected >= THREAD_FROM_BYTES) return new HashThread();
  const hash = createHash('sha256');
  return {
    add: (piece) => Promise.resolve(void hash.update(piece)),
    done: () => Promise.resolve(hash.digest('hex')),
    close: () => {},
  };
}

/** The same beside what the server does meanwhile. */
class HashThread implements FileHash {
  readonly #thread = new Worker(THREAD, { eval: true });
  #ahead = 0;
  #problem: Error | null = null;
  /** Told whenever the thread has done a piece, or failed. */
  #told = () => {};
  #digest: string | null = null;

  constructor() {
    this.#thread.on('message', (digest: string | null) => {
      this.#digest = digest;
      this.#ahead -= 1;
      this.#told();
    });
    this.#thread.on('error', (error) => {
      this.#problem = error;
      this.#told();
    });
  }

  async add(piece: Uint8Array): Promise<void> {
    // The piece itself is still being written to the disk.
    const copy = Uint8Array.from(piece);
    this.#say(copy, [copy.buffer]);
    await this.#until(() => this.#ahead < MOST_AHEAD);
  }

  async done(): Promise<string> {
    this.#say(null, []);
    await this.#until(() => this.#ahead === 0);
    return this.#digest!;
  }

  close(): void {
    void this.#thread.terminate();
  }

  #say(message: Uint8Array | null, transfer: ArrayBuffer[]): void {
    this.#ahead += 1;
    this.#thread.postMessage(message, transfer);
  }

  async #until(met: () => boolean): Promise<void> {
    for (;;) {
      if (this.#problem) throw this.#problem;
      if (met()) return;
      await new Promise<void>((resolve) => (this.#told = resolve));
    }
  }
}
