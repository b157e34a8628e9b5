import net from 'node:net';

/** How a stand-in's ingest behaves. */
export const MOODS = ['normal', 'stall', 'drop', 'slow', 'refuse'] as const;
export type Mood = (typeof MOODS)[number];

/** The slow mood lets this through, kbps: less than any plan sends. */
const SLOW_KBPS = 400;
const SLICE_MS = 50;

/** A TCP front for an ingest that can be told to misbehave: stall, drop the connection, or take only a little. */
export class LineShaper {
  mood: Mood = 'normal';
  readonly #server: net.Server;
  readonly #pairs = new Set<{ client: net.Socket; target: net.Socket }>();
  #allowance = 0;
  readonly #timer: NodeJS.Timeout;

  constructor(targetPort: number) {
    this.#server = net.createServer((client) => {
      const target = net.connect(targetPort, '127.0.0.1');
      const pair = { client, target };
      this.#pairs.add(pair);
      client.on('data', (data) => {
        if (this.mood === 'stall') client.pause();
        if (this.mood === 'slow') {
          this.#allowance -= data.length;
          if (this.#allowance < 0) client.pause();
        }
        if (!target.write(data)) client.pause();
      });
      target.on('drain', () => this.#maybeResume(client));
      target.pipe(client);
      const end = () => {
        this.#pairs.delete(pair);
        client.destroy();
        target.destroy();
      };
      for (const socket of [client, target]) {
        socket.on('error', end);
        socket.on('close', end);
      }
    });
    this.#timer = setInterval(() => {
      this.#allowance = Math.min(
        SLOW_KBPS * 125 * 0.2,
        this.#allowance + (SLOW_KBPS * 125 * SLICE_MS) / 1000,
      );
      for (const { client } of this.#pairs) this.#maybeResume(client);
    }, SLICE_MS);
  }

  listen(port: number, host: string): Promise<number> {
    return new Promise((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(port, host, () => {
        const address = this.#server.address();
        resolve(address && typeof address === 'object' ? address.port : port);
      });
    });
  }

  setMood(mood: Mood): void {
    this.mood = mood;
    if (mood === 'drop' || mood === 'refuse') for (const { client } of this.#pairs) client.destroy();
    // Dropping is an event, not a state: the next connection is taken.
    if (mood === 'drop') this.mood = 'normal';
    for (const { client } of this.#pairs) this.#maybeResume(client);
  }

  close(): void {
    clearInterval(this.#timer);
    this.#server.close();
    for (const { client } of this.#pairs) client.destroy();
  }

  #maybeResume(client: net.Socket): void {
    if (this.mood === 'stall' || (this.mood === 'slow' && this.#allowance <= 0)) return;
    if (client.isPaused()) client.resume();
  }
}
