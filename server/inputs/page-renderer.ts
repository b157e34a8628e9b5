/** One web page, rendered with a transparent background: its pictures go out as they change. */
import type { BrowserContext, CDPSession, Page } from 'playwright-core';
import { messageOf } from '../../core/fault';
import { hostAndPort } from '../../core/inputs/web-address';
import type { InputStreamStatus } from '../../protocol/input-stream';
import { FilteringProxy, PROXY_STATUS } from './filtering-proxy';
import type { ProcessLook } from './hold-back';
import type { PageBrowser } from './page-browser';
import { listenTo, type HeardSound } from './page-sound';

export interface PageSettings {
  url: string;
  width: number;
  height: number;
  fps: number;
  /** `name:port` of private places it may reach. */
  allowed: readonly string[];
}

/** A whole picture, as PNG, and when it was to be seen, epoch ms. */
export interface PagePicture {
  atMs: number;
  png: Uint8Array;
}

export interface PageListener {
  onPicture(picture: PagePicture): void;
  onSound(sound: HeardSound): void;
  onStatus(status: InputStreamStatus): void;
}

/** Times in ms, sizes in bytes; tests take shorter ones. */
export const PAGE_LIMITS = {
  load: 20_000,
  /** A page that has not changed for so long has come to rest. */
  rest: 700,
  /** How often a page is asked whether it is alive. */
  check: 500,
  /**
   * How long it may take to say so before it is held back: while it loads, later, and when it has hung before. Held back
   * it runs a tenth of the time.
   */
  freely: { loading: 1500, loaded: 400, hung: 150 },
  /** How long before it is said that it does not answer, and before it is ended. */
  said: 2500,
  answer: 12_000,
  end: { calm: 1000, crash: 3000 },
  /** Waits before it is begun anew, longer each time it fails soon again. */
  again: [500, 2000, 5000, 15_000, 30_000],
  /** The same where it hung: what it showed stays, and it will most likely hang again. */
  againHung: [5000, 15_000, 30_000],
  /** A page that ran so long was all right. */
  settled: 60_000,
  heapBytes: 300 * 1024 * 1024,
  nodes: 200_000,
};
const MAX_BLOCKED = 20;
const HANGS = 'the page hangs';
/**
 * Parts of a processor that a page must take to be held back for one that does not answer: that one may not get more of a
 * full machine. Which process is whose the browser does not say, so a second one must take more.
 */
const FIRST_SHARE = 0.3;
const SECOND_SHARE = 0.7;

type Open = { context: BrowserContext; page: Page; cdp: CDPSession };

export class PageRenderer {
  #status: InputStreamStatus = { state: 'waiting', message: 'is being loaded', blocked: [] };
  #picture: PagePicture | null = null;
  #open: Open | null = null;
  /** Let what is held back run freely again. */
  #releases: (() => void)[] = [];
  #hangs = false;
  /** It has hung before, and has not been all right for long enough since. */
  #hung = false;
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

  /** The newest picture; null before the first. */
  get picture(): PagePicture | null {
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
        if (this.#round !== round) return;
        this.#tries = 0;
        this.#hung = false;
      });
    } catch (error) {
      if (this.#round !== round) return;
      // Held back because it does not answer: then that is why it has not loaded in time.
      this.#hangs ||= this.#releases.length > 0;
      this.#again(round, this.#hangs ? HANGS : plainWords(error), begun);
    }
  }

  /** The page is ended and begun anew after a while. What it showed stays: a hanging page is no reason for a hole. */
  #again(round: number, why: string, begun = 0): void {
    if (this.#closed || this.#round !== round) return;
    this.#round += 1;
    if (this.#hangs) this.#hung = true;
    const waits = this.#hangs ? this.limits.againHung : this.limits.again;
    const wait = waits[Math.min(this.#tries, waits.length - 1)];
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
    await listenTo(context, (sound) => {
      // What is refused is not heard either.
      if (this.#round === round && this.#loaded) this.listener.onSound(sound);
    });
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
    let loading = true;
    this.#watch(round, () => loading);
    const answer = await page.goto(url, { timeout: this.limits.load, waitUntil: 'load' });
    if (this.#round !== round) return;
    loading = false;
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
    // Not before: what stands in place of a page that is refused is nobody's to see.
    this.#cast(round, cdp);
    this.#say('running', '');
  }

  /**
   * Pictures come when the page changes; the next one is asked for no sooner than its rate and the pace of all allow. The
   * browser drops what changes while two are under way, and a page that then stands still sends no other: when it comes to
   * rest one is asked for, and again until it is the same as before.
   */
  #cast(round: number, cdp: CDPSession): void {
    const { width, height, fps } = this.settings;
    const begin = () =>
      cdp
        .send('Page.startScreencast', { format: 'png', maxWidth: width, maxHeight: height, everyNthFrame: 1 })
        .catch((error: unknown) => this.#again(round, plainWords(error)));
    let last = 0;
    let newest = '';
    cdp.on('Page.screencastFrame', ({ data, sessionId, metadata }) => {
      if (this.#round !== round) return;
      if (data !== newest) {
        newest = data;
        const atMs = metadata.timestamp === undefined ? Date.now() : metadata.timestamp * 1000;
        this.#picture = { atMs, png: Buffer.from(data, 'base64') };
        this.listener.onPicture(this.#picture);
        this.#later(this.limits.rest, () => {
          if (newest === data && this.#round === round)
            void cdp
              .send('Page.stopScreencast')
              .catch(() => {})
              .then(begin);
        });
      }
      const now = performance.now();
      const wait = Math.max(0, last + (1000 / fps) * this.browser.pace.factor - now);
      last = now + wait;
      this.#later(wait, () => void cdp.send('Page.screencastFrameAck', { sessionId }).catch(() => {}));
    });
    void begin();
  }

  /**
   * Asks the page again and again whether it is alive. While it loads it may take as long to answer as it may to load;
   * either way it is held back when it does not answer soon.
   */
  #watch(round: number, loading: () => boolean): void {
    const { check, freely, said, answer, load } = this.limits;
    this.#later(check, () => {
      const open = this.#open;
      if (this.#round !== round || !open) return;
      let answered = false;
      const waits = () => !answered && this.#round === round;
      const late = new Promise<never>((_, reject) =>
        this.#later(loading() ? load : answer, () => {
          if (!waits()) return;
          this.#hangs = true;
          reject(new Error(HANGS));
        }),
      );
      const before = this.browser.look();
      // Who does not answer here has no chance below either.
      before.catch(() => {});
      const hold = () => {
        if (!waits()) return;
        void this.#holdBack(before, waits);
        // Too little may have been seen of it, or another one was busier by chance.
        this.#later(check, hold);
      };
      this.#later(this.#hung ? freely.hung : loading() ? freely.loading : freely.loaded, hold);
      this.#later(said, () => {
        if (!waits() || loading()) return;
        const held = this.#releases.length > 0 ? ' and is held back' : '';
        this.#say(this.#status.state, `the page does not answer${held}: it shows what it showed`);
      });
      Promise.race([this.#alive(open, loading), late])
        .finally(() => {
          answered = true;
          this.#letGo();
        })
        .then(
          () => {
            if (this.#round !== round) return;
            if (!loading() && this.#status.message !== '') this.#say('running', '');
            this.#watch(round, loading);
          },
          (error: unknown) => this.#again(round, plainWords(error)),
        );
    });
  }

  /** @throws Error when it is gone or takes too much memory */
  async #alive({ cdp }: Open, loading: () => boolean): Promise<void> {
    const ask = async () => {
      await cdp.send('Runtime.evaluate', { expression: '1' });
      return (await cdp.send('Performance.getMetrics')).metrics;
    };
    const metrics = await ask().catch((error: unknown) => {
      // Between one document and the next there is nobody to answer, which is an answer.
      if (loading()) return [];
      throw error;
    });
    const metric = (name: string) => metrics.find((m) => m.name === name)?.value ?? 0;
    if (metric('JSHeapUsedSize') > this.limits.heapBytes || metric('Nodes') > this.limits.nodes)
      throw new Error('the page uses more and more memory');
  }

  /** The desk needs the processor more than a page that does not answer. */
  async #holdBack(before: Promise<ProcessLook>, still: () => boolean): Promise<void> {
    try {
      const share = this.#releases.length > 0 ? SECOND_SHARE : FIRST_SHARE;
      const release = await this.browser.holdBackBusiest(await before, share);
      if (!release) return;
      if (still()) this.#releases.push(release);
      else release();
    } catch (error) {
      this.browser.log.debug(
        { error: messageOf(error) },
        'a page that does not answer could not be held back',
      );
    }
  }

  #letGo(): void {
    for (const release of this.#releases) release();
    this.#releases = [];
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
