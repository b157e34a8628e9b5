import net from 'node:net';

/** How a stand-in's ingest behaves. */
export const MOODS = ['normal', 'stall', 'drop', 'slow', 'refuse'] as const;
export type Mood = (typeof MOODS)[number];

/** A made-up line: what it carries and how badly. */
export interface Line {
  /** Kbps upwards; null for no limit. */
  kbps: number | null;
  /** One way, ms, upwards. */
  delayMs: number;
  /** Share of 1460-byte packets that are lost: each costs the line a round trip, as TCP waits for it. */
  loss: number;
  /** The delay varies by up to so many ms. */
  jitterMs: number;
}

/** A step of a script: from then on the line is like this. */
export interface LineStep extends Partial<Line> {
  atSeconds: number;
}

export const CLEAR_LINE: Line = { kbps: null, delayMs: 0, loss: 0, jitterMs: 0 };

/** What a line may do in an evening: slower, down, slow, and back. */
export const SCRIPTED_EVENING: readonly LineStep[] = [
  { atSeconds: 0, kbps: 8000, loss: 0.02, delayMs: 20 },
  { atSeconds: 30, kbps: 3000 },
  { atSeconds: 60, kbps: 0 },
  { atSeconds: 65, kbps: 1000 },
  { atSeconds: 95, kbps: 6000 },
];

/** The slow mood lets this through, kbps: less than any plan sends. */
const SLOW_KBPS = 400;
const SLICE_MS = 20;
/** What the line takes in a burst: a tenth of a second. */
const BURST_MS = 100;
const PACKET_BYTES = 1460;

interface Pair {
  client: net.Socket;
  target: net.Socket;
  /** On its way: forwarded when its time has come. */
  way: { data: Buffer; atMs: number }[];
}

/** One budget of bytes, for all connections that share a line. */
export class LineBudget {
  line: Line = CLEAR_LINE;
  #allowance = 0;
  #blockedUntil = 0;
  #filledMs = 0;

  constructor(
    readonly now: () => number,
    readonly random: () => number,
  ) {}

  /** Bytes that may go through now. */
  get open(): boolean {
    return this.line.kbps === null || (this.#allowance > 0 && this.now() >= this.#blockedUntil);
  }

  /** Gives what has come together since the last time; whoever shares the line may call it. */
  fill(): void {
    const { kbps } = this.line;
    const now = this.now();
    const ms = now - this.#filledMs;
    this.#filledMs = now;
    if (kbps === null) return;
    this.#allowance = Math.min((kbps * BURST_MS) / 8, this.#allowance + (kbps * ms) / 8);
  }

  spend(bytes: number): void {
    this.#allowance -= bytes;
    const { loss, delayMs } = this.line;
    if (loss > 0 && this.random() < 1 - (1 - loss) ** (bytes / PACKET_BYTES))
      this.#blockedUntil = this.now() + Math.max(20, 2 * delayMs);
  }
}

/**
 * A TCP front for an ingest that can be told to misbehave: stall, drop the connection, take only a little; or be a line of
 * a given rate, delay, loss and jitter, set by hand or by a script.
 */
export class LineShaper {
  mood: Mood = 'normal';
  readonly #server: net.Server;
  readonly #pairs = new Set<Pair>();
  readonly #slow: LineBudget;
  readonly #timer: NodeJS.Timeout;
  #script: { steps: LineStep[]; startedMs: number } | null = null;

  /** @param shared a budget that other shapers use as well: one line for all */
  constructor(
    targetPort: number,
    readonly shared: LineBudget = new LineBudget(() => performance.now(), Math.random),
    /** How much further away this server is, ms each way. */
    readonly distanceMs = 0,
  ) {
    this.#slow = new LineBudget(() => performance.now(), Math.random);
    this.#slow.line = { ...CLEAR_LINE, kbps: SLOW_KBPS };
    this.#server = net.createServer((client) => {
      const target = net.connect(targetPort, '127.0.0.1');
      const pair: Pair = { client, target, way: [] };
      this.#pairs.add(pair);
      client.on('data', (data) => {
        const { delayMs, jitterMs } = this.shared.line;
        this.#budget.spend(data.length);
        const at = performance.now() + delayMs + this.distanceMs + jitterMs * this.shared.random();
        // What was sent first arrives first, as TCP has it.
        pair.way.push({ data, atMs: Math.max(at, pair.way.at(-1)?.atMs ?? 0) });
        this.#forward(pair);
        if (!this.#open) client.pause();
      });
      target.on('drain', () => this.#maybeResume(pair));
      target.on('data', (data) => this.#back(pair, data));
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
    this.#timer = setInterval(() => this.#tick(), SLICE_MS);
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
    for (const pair of this.#pairs) this.#maybeResume(pair);
  }

  /** What is left out stays as it is. */
  setLine(line: Partial<Line>): void {
    this.#script = null;
    this.shared.line = { ...this.shared.line, ...line };
  }

  /** Follows the script from now on. */
  runScript(steps: readonly LineStep[]): void {
    this.#script = {
      steps: [...steps].sort((a, b) => a.atSeconds - b.atSeconds),
      startedMs: performance.now(),
    };
  }

  close(): void {
    clearInterval(this.#timer);
    this.#server.close();
    for (const { client } of this.#pairs) client.destroy();
  }

  get #budget(): LineBudget {
    return this.mood === 'slow' ? this.#slow : this.shared;
  }

  get #open(): boolean {
    return this.mood !== 'stall' && this.#budget.open;
  }

  #tick(): void {
    const now = performance.now();
    if (this.#script) {
      const seconds = (now - this.#script.startedMs) / 1000;
      while (this.#script && this.#script.steps.length > 0 && this.#script.steps[0].atSeconds <= seconds) {
        const { atSeconds, ...line } = this.#script.steps.shift()!;
        void atSeconds;
        this.shared.line = { ...this.shared.line, ...line };
      }
    }
    this.#slow.fill();
    this.shared.fill();
    for (const pair of this.#pairs) {
      this.#forward(pair);
      this.#maybeResume(pair);
    }
  }

  #forward(pair: Pair): void {
    const now = performance.now();
    while (pair.way.length > 0 && pair.way[0].atMs <= now) {
      const { data } = pair.way.shift()!;
      if (!pair.target.destroyed && !pair.target.write(data)) pair.client.pause();
    }
  }

  /** Answers take their time as well, but no room on a line that is counted upwards. */
  #back({ client }: Pair, data: Buffer): void {
    const wait = this.distanceMs + this.shared.line.delayMs;
    if (wait <= 0) client.write(data);
    else setTimeout(() => client.destroyed || client.write(data), wait);
  }

  #maybeResume({ client, target }: Pair): void {
    if (!this.#open || target.writableNeedDrain) return;
    if (client.isPaused()) client.resume();
  }
}
