import type { FrameName } from '../../core/show/records';
import { fork, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { WebSocket } from 'ws';
import { RELAY_FLAGS } from '../../scripts/lib/studio.mjs';
import type { BeginOrder, RelayStatus } from '../../protocol/relay-orders';
import {
  decodeRelayMessage,
  encodeDeskMessage,
  UPLINK_VERSION,
  type DeskMessage,
  type RelayMessage,
} from '../../protocol/uplink';
import type { SampleStream } from './sample-stream';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { Patience } from './taken-time';
import { waited } from './waits';

const TOKEN = 'test-token-of-twenty-and-more-characters';
const root = path.resolve(import.meta.dirname, '../..');

/** The real relay process, ordered about as the web server would. */
export class RelayProcess {
  private constructor(
    readonly child: ChildProcess,
    readonly port: number,
  ) {}

  static async start(env: Record<string, string> = {}): Promise<RelayProcess> {
    const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-relay-'));
    writeFileSync(path.join(data, 'relay.token'), TOKEN, { mode: 0o600 });
    const child = fork(path.join(root, 'build/server/relay.mjs'), {
      env: {
        ...process.env,
        ...env,
        DOLOMITE_DATA: data,
        DOLOMITE_RELAY_PORT: '0',
        DOLOMITE_LOG: 'error',
      },
      execArgv: RELAY_FLAGS,
      stdio: 'ignore',
    });
    child.once('exit', () => rmSync(data, { recursive: true, force: true }));
    const port = await new Promise<number>((resolve, reject) => {
      child.once('message', (message) => resolve((message as { port: number }).port));
      child.once('exit', () => reject(new Error('the relay ended at once')));
    });
    return new RelayProcess(child, port);
  }

  async order<T>(
    method: string,
    orderPath: string,
    body?: unknown,
    token = TOKEN,
  ): Promise<{ status: number; body: T }> {
    const response = await new StudioClient(`http://127.0.0.1:${this.port}`).ask(orderPath, {
      method,
      headers: { authorization: `Bearer ${token}` },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    return { status: response.status, body: (await response.json()) as T };
  }

  async begin(part: Partial<BeginOrder>): Promise<BeginOrder> {
    const order: BeginOrder = {
      sessionId: 'session-1',
      ticket: 'ticket-ticket-ticket-ticket',
      origin: 'http://127.0.0.1',
      destinations: [],
      recordingFolder: null,
      ...part,
    };
    const { status, body } = await this.order('POST', '/begin', order);
    if (status !== 200) throw new Error(JSON.stringify(body));
    return order;
  }

  async status(): Promise<NonNullable<RelayStatus['session']>> {
    return (await this.order<RelayStatus>('GET', '/status')).body.session!;
  }

  async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
    if (this.child.exitCode !== null || this.child.signalCode !== null) return;
    this.child.kill(signal);
    await new Promise((resolve) => this.child.once('exit', resolve));
  }
}

/** A desk's end of the uplink, sending a sample in real time. */
export class FakeDesk {
  readonly said: RelayMessage[] = [];
  readonly socket: WebSocket;
  closedWith: number | null = null;
  sequence = 0;

  constructor(
    relay: Pick<RelayProcess, 'port'>,
    readonly order: Pick<BeginOrder, 'sessionId' | 'ticket'>,
    readonly source = 'desk-1',
    ticket = order.ticket,
  ) {
    this.socket = new WebSocket(`ws://127.0.0.1:${relay.port}/uplink`);
    this.socket.on('message', (data: Buffer) => this.said.push(decodeRelayMessage(data)));
    this.socket.on('close', (code) => (this.closedWith = code));
    this.socket.on('open', () =>
      this.send({ type: 'hello', version: UPLINK_VERSION, sessionId: order.sessionId, ticket, source }),
    );
  }

  send(message: DeskMessage): void {
    this.socket.send(encodeDeskMessage(message));
  }

  async until(what: (desk: this) => boolean, ms = 20_000): Promise<void> {
    await eventually(() => what(this), ms);
  }

  async welcome(): Promise<void> {
    await this.until((d) => d.said.some((m) => m.type === 'welcome'));
  }

  /** Sends packets at their own pace; `shiftUs` moves their stamps. */
  async play(
    sample: SampleStream,
    options: {
      fromUs?: number;
      toUs?: number;
      shiftUs?: number;
      speed?: number;
      /** Every picture is sent once for each of these. */
      frames?: readonly FrameName[];
    } = {},
  ): Promise<void> {
    const { fromUs = 0, toUs = Infinity, shiftUs = 0, speed = 1, frames = ['wide'] } = options;
    return waited('clock', () => this.#play(sample, { fromUs, toUs, shiftUs, speed, frames }));
  }

  async #play(
    sample: SampleStream,
    {
      fromUs,
      toUs,
      shiftUs,
      speed,
      frames,
    }: { fromUs: number; toUs: number; shiftUs: number; speed: number; frames: readonly FrameName[] },
  ): Promise<void> {
    const start = performance.now();
    for (const packet of sample.packets) {
      if (packet.timestampUs < fromUs || packet.timestampUs >= toUs) continue;
      const due = (packet.timestampUs - fromUs) / 1000 / speed;
      const wait = due - (performance.now() - start);
      if (wait > 1) await new Promise((resolve) => setTimeout(resolve, wait));
      if (this.socket.readyState !== WebSocket.OPEN) return;
      for (const frame of packet.track === 'video' ? frames : (['wide'] as const)) {
        this.sequence += 1;
        this.send({
          type: 'packet',
          sequence: this.sequence,
          cover: false,
          encode: frame,
          packet: { ...packet, timestampUs: packet.timestampUs + shiftUs },
        });
      }
    }
  }
}

/**
 * Looks at something until what it finds passes, as patiently as `eventually`.
 *
 * @param passes `expect` what is found; its last words are those of the failure
 */
export async function settles<T>(
  what: () => T | Promise<T>,
  passes: (found: T) => void,
  ms = 30_000,
): Promise<void> {
  const patience = new Patience(ms);
  for (;;)
    try {
      return passes(await what());
    } catch (error) {
      if (patience.over) throw error;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
}

/**
 * Waits until it is so.
 * @param ms how long at most; what others take of the processor meanwhile does not count
 * @throws Error with what was waited for
 */
export async function eventually(what: () => boolean | Promise<boolean>, ms = 30_000): Promise<void> {
  const patience = new Patience(ms);
  while (!(await what())) {
    if (patience.over) throw new Error(`it did not happen within ${patience}: ${what}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
