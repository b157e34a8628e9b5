import type { ServerResponse } from 'node:http';

/** A page that does not take what it is sent: beyond this it is let go and comes again. */
const MAX_WAITING_BYTES = 48 * 1024 * 1024;

/** The answers that an input's parts go out on. */
export class Outlets {
  readonly #open = new Set<ServerResponse>();

  /**
   * @param greeting what a new one gets first
   * @param onChange told when one came or went
   */
  constructor(
    readonly greeting: () => Uint8Array[],
    readonly onChange: () => void = () => {},
  ) {}

  get count(): number {
    return this.#open.size;
  }

  add(response: ServerResponse): void {
    response.writeHead(200, { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' });
    response.flushHeaders();
    this.#open.add(response);
    response.on('close', () => {
      this.#open.delete(response);
      this.onChange();
    });
    for (const part of this.greeting()) response.write(part);
    this.onChange();
  }

  send(part: Uint8Array): void {
    for (const response of this.#open) {
      if (response.writableLength > MAX_WAITING_BYTES) response.destroy();
      else response.write(part);
    }
  }

  /** As `send`, but leaves it out where the last one has not gone yet: for pictures, of which the newest is enough. */
  sendNewest(part: Uint8Array, onLeftOut: (response: ServerResponse) => void): void {
    for (const response of this.#open)
      if (response.writableNeedDrain) onLeftOut(response);
      else response.write(part);
  }

  close(): void {
    for (const response of this.#open) response.end();
    this.#open.clear();
  }
}
