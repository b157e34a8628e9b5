/** The headless browser that renders web pages: found on this machine, started when the first page wants it. */
import { existsSync } from 'node:fs';
import type { Browser, CDPSession } from 'playwright-core';
import { Fault } from '../../core/fault';
import type { Log } from '../log';
import { behindOthers, canBeNobody } from './behind-others';
import { PagePace } from './page-pace';
import { busiestPage, holdBack, type ProcessLook } from './hold-back';

const PLACES = [
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome-stable',
  '/usr/bin/google-chrome',
  '/usr/bin/microsoft-edge-stable',
  '/Applications/Google Chrome.app/Contents/MacOS/Google Chrome',
  'C:\\Program Files\\Google\\Chrome\\Application\\chrome.exe',
];
/** A page's own memory, MB: above that its process ends and it is begun anew. */
const HEAP_MB = 384;
/**
 * Parts of the browser's own window that it would load for each page, half a second of a processor's time each, and
 * renderers kept in stock: nobody sees or needs them here.
 */
const LEFT_OUT = [
  'WebUIOmniboxPopup',
  'WebUIOmniboxAimPopup',
  'WebUIOmniboxFullPopup',
  'SpareRendererForSitePerProcess',
];
/** The last such argument counts: what the driver leaves out is repeated. */
const LEFT_OUT_BY_DRIVER = [
  'AimEnabled',
  'AvoidUnnecessaryBeforeUnloadCheckSync',
  'DestroyProfileOnBrowserClose',
  'HttpsFirstBalancedModeAutoEnable',
  'HttpsUpgrades',
  'LensOverlay',
  'MediaRouter',
  'NetworkTimeServiceQuerying',
  'OptimizationHints',
  'PaintHolding',
  'PreconnectToSearch',
  'ThirdPartyStoragePartitioning',
];

/** Where this machine has a browser that can render pages, or null. */
export function browserPath(chosen = process.env.DOLOMITE_CHROMIUM): string | null {
  if (chosen) return existsSync(chosen) ? chosen : null;
  return PLACES.find((place) => existsSync(place)) ?? null;
}

/** One browser for all pages: a process for each page is the browser's own doing. */
export class PageBrowser {
  #browser: Promise<Browser> | null = null;
  readonly #held = new Set<number>();
  #session: { browser: Browser; opened: Promise<CDPSession> } | null = null;

  constructor(
    readonly log: Log,
    readonly pace = new PagePace(),
  ) {}

  /** @throws Fault `page.noBrowser` when none is installed or it does not start */
  async get(): Promise<Browser> {
    this.#browser ??= this.#launch();
    try {
      const browser = await this.#browser;
      if (browser.isConnected()) return browser;
    } catch (error) {
      this.#browser = null;
      throw error;
    }
    this.#browser = this.#launch();
    return this.#browser;
  }

  /** What its processes have computed so far. */
  async look(): Promise<ProcessLook> {
    const browser = await this.get();
    if (this.#session?.browser !== browser)
      this.#session = { browser, opened: browser.newBrowserCDPSession() };
    const session = await this.#session.opened;
    const { processInfo } = await session.send('SystemInfo.getProcessInfo');
    return { atMs: performance.now(), processes: processInfo };
  }

  /**
   * Holds back the page that has computed most since `before`, since one that does not answer computes without end.
   * @param share of a processor it must have taken, 0…1
   * @returns lets it run freely again; null when none took so much that is not held back already
   */
  async holdBackBusiest(before: ProcessLook, share: number): Promise<(() => void) | null> {
    const pid = busiestPage(before, await this.look(), this.#held, share);
    if (pid === null) return null;
    this.#held.add(pid);
    const release = holdBack(pid);
    return () => {
      this.#held.delete(pid);
      release();
    };
  }

  /** Ends the browser with everything in it: for a page that cannot be ended otherwise. */
  async kill(): Promise<void> {
    const browser = this.#browser;
    this.#browser = null;
    try {
      await (await browser)?.close();
    } catch (error) {
      this.log.warn({ error: String(error) }, 'the page browser did not end by itself');
    }
  }

  async #launch(): Promise<Browser> {
    const executablePath = browserPath();
    if (!executablePath)
      throw new Fault(
        'page.noBrowser',
        'no browser is installed on the server: install Chromium, or name one in DOLOMITE_CHROMIUM',
      );
    // The browser refuses its own sandbox to root. There it runs as somebody who owns nothing, and still without: its
    // sandbox has a first process of its own, which a killed page can leave waiting for ever where nobody collects the
    // dead, as in many containers, and with it the whole browser.
    const root = process.platform === 'linux' && process.getuid?.() === 0;
    const { chromium } = await import('playwright-core');
    const launcher = behindOthers(executablePath, canBeNobody());
    const launched = chromium.launch({
      executablePath: launcher.path,
      chromiumSandbox: !root,
      env: handedOn(),
      args: [
        '--mute-audio',
        // Nobody can press anything in it first.
        '--autoplay-policy=no-user-gesture-required',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        `--disable-features=${[...LEFT_OUT, ...LEFT_OUT_BY_DRIVER].join(',')}`,
        // Calls between browsers would go around the proxy.
        '--force-webrtc-ip-handling-policy=disable_non_proxied_udp',
        `--js-flags=--max-old-space-size=${HEAP_MB}`,
      ],
    });
    // Once it runs, or does not, its launcher is done.
    const browser = await launched.finally(() => launcher.remove());
    browser.on('disconnected', () => {
      this.#browser = null;
    });
    return browser;
  }
}

/** What the browser gets of our environment: what it needs to start, and nothing that may be secret. */
function handedOn(): Record<string, string> {
  const wanted = (name: string) =>
    process.platform === 'win32'
      ? !name.startsWith('DOLOMITE_')
      : ['PATH', 'HOME', 'LANG', 'TZ'].includes(name);
  return Object.fromEntries(
    Object.entries(process.env).flatMap(([name, value]) =>
      value !== undefined && wanted(name) ? [[name, value]] : [],
    ),
  );
}
