/**
 * Programmes on driven time, in two halves joined by packets: the browser's half makes them (`driven-desk.ts`), the relay's
 * session is stepped with them here, and what it records is a file like any other.
 */
import { build, type Plugin } from 'esbuild';
import { createReadStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import http from 'node:http';
import { createRequire } from 'node:module';
import os from 'node:os';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { CUT } from '../../core/show/motion-records';
import type { AnyRecord, FrameName } from '../../core/show/records';
import { DrivenClock } from '../../core/time/driven-clock';
import type { ToUplinkPort } from '../../protocol/engine';
import type { BeginOrder } from '../../protocol/relay-orders';
import type { ConfigMessage } from '../../protocol/uplink';
import { Session } from '../../server/relay/session';
import { DRIVEN_START_MS } from './driven-start';
import type * as desk from './driven-desk';
import type {
  DrivenMessage,
  DrivenOrder,
  DrivenPlan,
  DrivenRun,
  PlanChange,
  Slow,
  Stall,
} from './driven-desk';

const require = createRequire(import.meta.url);
const root = path.resolve(import.meta.dirname, '../..');
const ISOLATED = {
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-embedder-policy': 'require-corp',
};

/** What a bundler of the application makes addresses of. */
const ADDRESSES: Plugin = {
  name: 'addresses',
  setup: ({ onResolve, onLoad }) => {
    onResolve({ filter: /\?url$/ }, ({ path: of }) => ({ path: of.slice(0, -4), namespace: 'address' }));
    onLoad({ filter: /.*/, namespace: 'address' }, ({ path: of }) => ({
      contents: `export default ${JSON.stringify(`/${path.relative(root, require.resolve(of))}`)}`,
    }));
  },
};

/** A small picture: what is composed, not how much. Wide, 15 frames a second. */
export const SMALL_PLAN: DrivenPlan = {
  frames: {
    wide: {
      width: 320,
      height: 180,
      fps: 15,
      kbps: 600,
      keyframeSeconds: 2,
      effort: 'quick',
      encoder: 'any',
    },
  },
  audioKbps: 128,
  tracks: [],
};

export interface DrivenShow {
  records: AnyRecord[];
  sceneId: string;
  poseId?: string | null;
  plan?: DrivenPlan;
  /** At so many seconds of the recording. */
  orders?: readonly [at: number, order: DrivenOrder | Stall | Slow | PlanChange][];
  seconds: number;
  /** With the noise reduction's module. */
  noise?: boolean;
  viewedAtFps?: number;
}

export interface DrivenResult extends DrivenRun {
  /** Recordings, by frame. */
  files: Partial<Record<FrameName, string>>;
}

/** One page for all programmes of a test file. */
export class Driven {
  readonly folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-driven-'));
  readonly #assets = new Map<string, { file: string; mime: string }>();
  #runs = 0;

  private constructor(
    readonly page: Page,
    readonly server: http.Server,
    /** Of the page, by path. */
    readonly code: ReadonlyMap<string, string>,
  ) {}

  static async open(browser: Browser): Promise<Driven> {
    const { outputFiles } = await build({
      entryPoints: [path.join(import.meta.dirname, 'driven-desk.ts')],
      ...{ bundle: true, write: false, format: 'esm', splitting: true, target: 'es2023', outdir: '/' },
      logLevel: 'error',
      plugins: [ADDRESSES],
    });
    const server = http.createServer();
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const page = await browser.newPage();
    const code = new Map(outputFiles.map(({ path: name, text }) => [name, text]));
    const driven = new Driven(page, server, code);
    server.on('request', (request, response) => driven.#answer(request, response));
    await page.goto(`http://127.0.0.1:${(server.address() as { port: number }).port}/`);
    await page.evaluate(`import('/driven-desk.js').then((desk) => { globalThis.driven = desk; })`);
    return driven;
  }

  async close(): Promise<void> {
    await this.page.close();
    this.server.close();
    rmSync(this.folder, { recursive: true, force: true });
  }

  /** A file of the show. @returns its id */
  asset(file: string, mime: string): string {
    const id = `asset-${this.#assets.size}`;
    this.#assets.set(id, { file, mime });
    return id;
  }

  /** Makes a programme and has the relay record it. */
  async record(show: DrivenShow): Promise<DrivenResult> {
    const run = await this.run(show);
    const relay = new DrivenRelay(path.join(this.folder, `run-${(this.#runs += 1)}`));
    relay.play(run.messages);
    return { ...run, files: await relay.end() };
  }

  /** The browser's half alone. */
  async run({ records, sceneId, poseId = null, plan = SMALL_PLAN, ...rest }: DrivenShow): Promise<DrivenRun> {
    const script = {
      ...{ records, plan, seconds: rest.seconds, noise: rest.noise ?? false },
      viewedAtFps: rest.viewedAtFps ?? null,
      onAir: { sceneId, poseId },
      orders: (rest.orders ?? []).map(([at, order]) => ({ at, order })),
    };
    const run = await this.page.evaluate(
      (of) => (globalThis as unknown as { driven: typeof desk }).driven.drive(of),
      script,
    );
    return { ...run, messages: run.messages.map(unpacked) };
  }

  #answer({ url = '/', headers }: http.IncomingMessage, response: http.ServerResponse): void {
    if (url === '/') {
      response.writeHead(200, { ...ISOLATED, 'content-type': 'text/html' }).end('<!doctype html>');
      return;
    }
    const code = this.code.get(url);
    if (code !== undefined) {
      response.writeHead(200, { ...ISOLATED, 'content-type': 'text/javascript' }).end(code);
      return;
    }
    const asset = this.#assets.get(url.replace('/files/assets/', ''));
    const file = asset?.file ?? (url.startsWith('/node_modules/') ? path.join(root, url) : null);
    if (file === null) {
      response.writeHead(404).end();
      return;
    }
    const mime = asset?.mime ?? (file.endsWith('.wasm') ? 'application/wasm' : 'application/octet-stream');
    const { size } = statSync(file);
    const range = /^bytes=(\d+)-(\d*)$/.exec(headers.range ?? '');
    const from = Number(range?.[1] ?? 0);
    const to = range?.[2] ? Math.min(size - 1, Number(range[2])) : size - 1;
    response.writeHead(range ? 206 : 200, {
      ...ISOLATED,
      ...{ 'content-type': mime, 'accept-ranges': 'bytes', 'content-length': to - from + 1 },
      ...(range && { 'content-range': `bytes ${from}-${to}/${size}` }),
    });
    createReadStream(file, { start: from, end: to }).pipe(response);
  }
}

function unpacked({ message, ...rest }: DrivenMessage): DrivenMessage {
  const bytes = (text: unknown) => new Uint8Array(Buffer.from(text as string, 'base64'));
  if (message.type === 'coverEnd') return { ...rest, message };
  const opened: ToUplinkPort =
    message.type === 'packet'
      ? { ...message, packet: { ...message.packet, payload: bytes(message.packet.payload) } }
      : { ...message, config: { ...message.config, codecConfig: bytes(message.config.codecConfig) } };
  return { ...rest, message: opened };
}

/** A relay's session, stepped with recorded packets. */
export class DrivenRelay {
  readonly clock: DrivenClock;
  readonly session: Session;
  /** Of the recordings, once they are closed. */
  fileNames: readonly string[] = [];
  #sequence = 0;

  constructor(
    readonly folder: string,
    order: Partial<BeginOrder> = {},
    startMs = DRIVEN_START_MS,
  ) {
    this.clock = new DrivenClock(startMs);
    this.session = new Session(
      {
        ...{ sessionId: 'driven-session', ticket: 't'.repeat(24), origin: 'http://127.0.0.1' },
        ...{ destinations: [], recordingFolder: folder },
        ...order,
      },
      this.clock,
      Math.random,
    );
    this.session.hello('desk-1');
  }

  /** Gives it everything that came between two moments of the browser's half, each at its time. */
  play(messages: readonly DrivenMessage[], fromMs = -Infinity, toMs = Infinity): void {
    for (const { atMs, of, message } of messages) {
      if (atMs < fromMs || atMs >= toMs) continue;
      this.clock.advanceTo(atMs);
      const encode = of === 'sound' ? 'wide' : of;
      if (message.type === 'coverEnd') this.session.coverComplete(encode);
      else if (message.type === 'config') {
        const config = message.config.track === 'video' ? { ...message.config, encode } : message.config;
        this.session.config(config as ConfigMessage);
      } else {
        const { packet, cover } = message;
        const sequence = cover ? 0 : (this.#sequence += 1);
        this.session.packet({ type: 'packet', sequence, cover, encode, packet });
      }
    }
  }

  /** Closes the recordings. */
  async end(): Promise<Partial<Record<FrameName, string>>> {
    this.fileNames = this.session.status()?.recording?.files ?? [];
    await this.session.end();
    const found: Partial<Record<FrameName, string>> = {};
    for (const name of this.fileNames)
      found[name.includes('-tall') ? 'tall' : 'wide'] = path.join(this.folder, name);
    return found;
  }
}

/** A take that cuts. */
export const cutTo = (sceneId: string, poseId: string | null = null): DrivenOrder => ({
  type: 'take',
  stop: { sceneId, poseId },
  transition: CUT,
});
