/** One web page, rendered with a transparent background: its pictures go out as they change. */
import type { BrowserContext, CDPSession, Page } from 'playwright-core';
import { messageOf } from '../../core/fault';
import { hostAndPort } from '../../core/inputs/web-address';
import type { InputStreamStatus } from '../../protocol/input-stream';
import { FilteringProxy, PROXY_STATUS } from './filtering-proxy';
import type { PageBrowser } from './page-browser';

export interface PageSettings {
  url: string;
  width: number;
  height: number;
  fps: number;
  /** `name:port` of private places it may reach. */
  allowed: readonly string[];
}

export interface PageListener {
  onPicture(png: Uint8Array): void;
  onStatus(status: InputStreamStatus): void;
}

/** Times in ms, sizes in bytes; tests take shorter ones. */
export const PAGE_LIMITS = {
  load: 20_000,
  /**
   * How often a page is asked whether it is alive; how long it may take to say so before it is held back, and before it
   * is ended. Held back it runs a quarter of the time.
   */
  check: 1000,
  freely: 1000,
  answer: 8000,
  end: { calm: 1000, crash: 3000 },
  /** Waits before it is begun anew, longer each time it fails soon again. */
  again: [500, 2000, 5000, 15_000, 30_000],
  /** A page that ran so long was all right. */
  settled: 60_000,
  heapBytes: 300 * 1024 * 1024,
  nodes: 200_000,
};
const MAX_BLOCKED = 20;

type Open = { context: BrowserContext; page: Page; cdp: CDPSession };

export class PageRenderer {
  #status: InputStreamStatus = { state: 'waiting', message: 'is being loaded', blocked: [] };
  #picture: Uint8Array | null = null;
  #open: Open | null = null;
  /** Lets the page run freely again while it is held back. */
  #release: (() => void) | null = null;
  #hangs = false;
  #proxy: FilteringProxy | null = null;
  #closed = false;
  #tries = 0;
  /** Whether the page was ever there, so that its picture is one of it and not of an empty window. */
  #loaded = false;
  #timers = new Set<NodeJS.Timeout>();
  /** Which opening of the page is the present one: what an earlier one still says is not listened to. */
  #round = 0;

  constructor(
    readonly settings: PageSettings,
    readonly browser: PageBrowser,
    readonly listener: PageListener,
    readonly limits: typeof PAGE_LIMITS = PAGE_LIMITS,
  ) {
    void this.#begin();
  }

  get status(): InputStreamStatus {
    return this.#status;
  }

  /** The newest picture, PNG; null before the first. */
  get picture(): Uint8Array | null {
    return this.#picture;
  }

  async close(): Promise<void> {
    if (this.#closed) return;
    this.#closed = true;
    this.#round += 1;
    for (const timer of this.#timers) clearTimeout(timer);
    await this.#end();
  }

  #say(state: InputStreamStatus['state'], message: string): void {
    this.#status = { ...this.#status, state, message };
    this.listener.onStatus(this.#status);
  }

  #blocked(host: string): void {
    const { blocked } = this.#status;
    if (blocked.includes(host) || blocked.length >= MAX_BLOCKED) return;
    this.#status = { ...this.#status, blocked: [...blocked, host] };
    this.listener.onStatus(this.#status);
  }

  #later(ms: number, what: () => void): void {
    const timer = setTimeout(() => {
      this.#timers.delete(timer);
      what();
    }, ms);
    timer.unref();
    this.#timers.add(timer);
  }

  async #begin(): Promise<void> {
    const round = ++this.#round;
    const begun = Date.now();
    try {
      await this.#load(round);
      if (this.#round !== round) return;
      this.#later(this.limits.settled, () => {
        if (this.#round === round) this.#tries = 0;
      });
      this.#watch(round);
    } catch (error) {
      if (this.#round === round) this.#again(round, plainWords(error), begun);
    }
  }

  /** The page is ended and begun anew after a while. What it showed stays: a hanging page is no reason for a hole. */
  #again(round: number, why: string, begun = 0): void {
    if (this.#closed || this.#round !== round) return;
    this.#round += 1;
    const wait = this.limits.again[Math.min(this.#tries, this.limits.again.length - 1)];
    this.#tries += 1;
    const next = Math.max(0, wait - (begun > 0 ? Date.now() - begun : 0));
    // The second time in a row it is no hiccup any more.
    this.#say(
      this.#loaded && this.#tries < 2 ? 'running' : 'failed',
      `${why}; tried again ${next < 1000 ? 'now' : `in ${Math.round(next / 1000)} s`}`,
    );
    void this.#end().then(() => this.#later(next, () => void this.#begin()));
  }

  async #load(round: number): Promise<void> {
    const { url, width, height } = this.settings;
    const browser = await this.browser.get();
    const proxy = await FilteringProxy.open({
      allowed: new Set(this.settings.allowed),
      onBlocked: (host) => this.#blocked(host),
    });
    this.#proxy = proxy;
    const context = await browser.newContext({
      viewport: { width, height },
      acceptDownloads: false,
      serviceWorkers: 'block',
      proxy: { server: `http://127.0.0.1:${proxy.port}`, bypass: '<-loopback>' },
    });
    if (this.#round !== round) return void (await context.close());
    const page = await context.newPage();
    const cdp = await context.newCDPSession(page);
    this.#open = { context, page, cdp };
    context.on('page', (other) => {
      if (other !== page) void other.close().catch(() => {});
    });
    page.on('dialog', (dialog) => void dialog.dismiss().catch(() => {}));
    page.on('crash', () => this.#again(round, 'the page has crashed or used too much memory'));
    page.on('close', () => this.#again(round, 'the page has closed itself'));
    await cdp.send('Emulation.setDefaultBackgroundColorOverride', { color: { r: 0, g: 0, b: 0, a: 0 } });
    await cdp.send('Performance.enable');
    this.#cast(round, cdp);
    const answer = await page.goto(url, { timeout: this.limits.load, waitUntil: 'load' });
    if (this.#round !== round) return;
    const host = hostAndPort(new URL(page.url() === 'about:blank' ? url : page.url()));
    const own = answer?.headers()[PROXY_STATUS] ?? '';
    if (own.includes('destination_ip_prohibited'))
      throw new Error(
        `its address leads to your own network (${this.#status.blocked.at(-1)}), which must be allowed first`,
      );
    if (own.includes('dns_error')) throw new Error('there is no computer of this name');
    if (own) throw new Error('nothing answers at this address');
    if (answer && answer.status() >= 400) throw new Error(`${host} answered with status ${answer.status()}`);
    this.#loaded = true;
    this.#say('running', '');
  }

  /** Pictures come when the page changes; the next one is asked for no sooner than the rate allows. */
  #cast(round: number, cdp: CDPSession): void {
    const { width, height, fps } = this.settings;
    let last = 0;
    cdp.on('Page.screencastFrame', ({ data, sessionId }) => {
      if (this.#round !== round) return;
      this.#picture = Buffer.from(data, 'base64');
      this.listener.onPicture(this.#picture);
      const now = performance.now();
      const wait = Math.max(0, last + 1000 / fps - now);
      last = now + wait;
      this.#later(wait, () => void cdp.send('Page.screencastFrameAck', { sessionId }).catch(() => {}));
    });
    void cdp
      .send('Page.startScreencast', { format: 'png', maxWidth: width, maxHeight: height, everyNthFrame: 1 })
      .catch((error: unknown) => this.#again(round, plainWords(error)));
  }

  #watch(round: number): void {
    this.#later(this.limits.check, () => {
      const open = this.#open;
      if (this.#round !== round || !open) return;
      let answered = false;
      const late = new Promise<never>((_, reject) =>
        this.#later(this.limits.answer, () => {
          if (answered) return;
          this.#hangs = true;
          reject(new Error('the page hangs'));
        }),
      );
      this.#later(this.limits.freely, () => {
        if (!answered && this.#round === round) void this.#holdBack(() => !answered && this.#round === round);
      });
      const alive = async () => {
        await open.cdp.send('Runtime.evaluate', { expression: '1' });
        const { metrics } = await open.cdp.send('Performance.getMetrics');
        const metric = (name: string) => metrics.find((m) => m.name === name)?.value ?? 0;
        if (metric('JSHeapUsedSize') > this.limits.heapBytes || metric('Nodes') > this.limits.nodes)
          throw new Error('the page uses more and more memory');
      };
      Promise.race([alive(), late])
        .finally(() => {
          answered = true;
          this.#letGo();
        })
        .then(
          () => this.#watch(round),
          (error: unknown) => this.#again(round, plainWords(error)),
        );
    });
  }

  /** The desk needs the processor more than a page that does not answer. */
  async #holdBack(still: () => boolean): Promise<void> {
    try {
      const release = await this.browser.holdBackBusiest();
      if (!release) return;
      this.#letGo();
      if (still()) this.#release = release;
      else release();
    } catch (error) {
      this.browser.log.debug(
        { error: messageOf(error) },
        'a page that does not answer could not be held back',
      );
    }
  }

  #letGo(): void {
    this.#release?.();
    this.#release = null;
  }

  async #end(): Promise<void> {
    const open = this.#open;
    this.#open = null;
    this.#letGo();
    this.#proxy?.close();
    this.#proxy = null;
    if (!open) return;
    const closed = open.context.close().then(
      () => true,
      () => true,
    );
    const { calm, crash } = this.limits.end;
    const hangs = this.#hangs;
    this.#hangs = false;
    if (!hangs && (await within(closed, calm))) return;
    // A page in a loop does not even close: its process can be ended by another of its threads, which costs less than
    // beginning the whole browser anew.
    void open.cdp.send('Page.crash').catch(() => {});
    if (!(await within(closed, crash))) await this.browser.kill();
  }
}

/** Whether it came true in time. */
function within(done: Promise<boolean>, ms: number): Promise<boolean> {
  return Promise.race([done, new Promise<false>((resolve) => setTimeout(resolve, ms, false).unref())]);
}

/** The first line of an error of the browser's, without what only its own people understand. */
function plainWords(error: unknown): string {
  const line = messageOf(error)
    .split('\n')[0]
    .replace(/^page\.goto: /, '');
  if (/Timeout \d+ms exceeded/.test(line)) return 'the page did not load in time';
  if (/ERR_NAME_NOT_RESOLVED|ERR_TUNNEL_CONNECTION_FAILED|ERR_PROXY/.test(line))
    return 'there is no such place, or it does not answer';
  if (/ERR_CONNECTION_REFUSED|ERR_EMPTY_RESPONSE/.test(line)) return 'nothing answers at this address';
  if (/ERR_UNSAFE_PORT/.test(line)) return 'browsers refuse this port';
  if (/ERR_CERT/.test(line)) return 'its certificate is not valid';
  if (/has been closed|Target closed|Target crashed/.test(line)) return 'the page has crashed';
  return line.replace(/ at https?:\S+$/, '');
}
