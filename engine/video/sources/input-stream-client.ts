import { sleep } from '../../../core/time/clock';
import { systemClock } from '../../system-clock';
import { messageOf } from '../../../core/fault';
import { InputPartReader, type InputPart } from '../../../protocol/input-stream';

/** A line that says nothing for this long is dead: the server speaks every second. */
const SILENT_MS = 2500;
const AGAIN_MS = 1000;

/** Reads what the server sends for an input, and asks again whenever that ends. */
export class InputStreamClient {
  #closed = false;
  #abort: AbortController | null = null;

  /**
   * @param onPart told each part in order
   * @param onLost told in words when the line is gone; the next try is on its way
   */
  constructor(
    readonly url: string,
    readonly onPart: (part: InputPart) => void,
    readonly onLost: (why: string) => void,
  ) {
    void this.#run();
  }

  close(): void {
    this.#closed = true;
    this.#abort?.abort();
  }

  async #run(): Promise<void> {
    while (!this.#closed) {
      try {
        await this.#read();
        if (!this.#closed) this.onLost('the studio server has closed the line');
      } catch (error) {
        if (!this.#closed) this.onLost(messageOf(error));
      }
      if (!this.#closed) await sleep(systemClock, AGAIN_MS);
    }
  }

  async #read(): Promise<void> {
    const abort = new AbortController();
    this.#abort = abort;
    const quiet = () => abort.abort(new Error('the studio server does not answer'));
    let cancel = systemClock.after(SILENT_MS * 2, quiet);
    try {
      const response = await fetch(this.url, { signal: abort.signal, cache: 'no-store' });
      if (!response.ok || !response.body)
        throw new Error(`the server answered with status ${response.status}`);
      const reader = response.body.getReader();
      const parts = new InputPartReader();
      for (;;) {
        const { done, value } = await reader.read();
        if (done || this.#closed) return;
        cancel();
        cancel = systemClock.after(SILENT_MS, quiet);
        for (const part of parts.push(value)) this.onPart(part);
      }
    } finally {
      cancel();
      abort.abort();
    }
  }
}

/** Where an input's parts come from; whole, since workers have no page to start from. */
export function inputStreamUrl(inputId: string): string {
  return new URL(`/files/inputs/${encodeURIComponent(inputId)}`, location.origin).href;
}
