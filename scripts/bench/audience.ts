/** From an event to its first picture; the host's list with 100,000 messages, opened and searched. Bounds are the references. */
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import Sqlite from 'better-sqlite3';
import type { Page } from 'playwright-core';
import type { AnyRecord } from '../../core/show/records';
import { seededRandom } from '../../standins/inputs/random';
import { launchBrowser } from '../lib/browser.mjs';
import { startStudio } from '../lib/studio.mjs';

const SHOW = 'night-signal-box';
const MESSAGES = 100_000;
const EVENTS = 60;
const PRESSES = 5;
const WORDS =
  'snow pass lever signal freight express roof hut nine lantern bell tea left right spur brake van night switchback steam'.split(
    ' ',
  );
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const quantile = (list: readonly number[], share: number) =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))];

function fill(file: string): void {
  const database = new Sqlite(file);
  const insert = database.prepare(
    'INSERT INTO audience_entry (show_id, platform, event_id, type, viewer, at_ms, words, data) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
  );
  const random = seededRandom(5);
  const now = Date.now() - MESSAGES * 100;
  database.transaction(() => {
    for (let i = 0; i < MESSAGES; i++) {
      const text = Array.from({ length: 8 }, () => WORDS[Math.floor(random() * WORDS.length)]).join(' ');
      const said = i % 997 === 0 ? `${text} copper kettle` : text;
      const viewer = `viewer_${Math.floor(random() * 3000)}`;
      const event = {
        type: 'chat',
        id: `b${i}`,
        seq: 0,
        platform: 'larch',
        channel: '',
        viewer,
        colour: null,
        badges: [],
        emotes: [],
        text: said,
        atMs: now + i * 100,
      };
      insert.run(SHOW, 'larch', event.id, 'chat', viewer, event.atMs, said, JSON.stringify(event));
    }
  })();
  database.close();
}

/** A fast wheel. */
const WHEEL_PX_PER_SECOND = 2400;
const SCROLL_MS = 5000;

/** When the browser put a new picture of the page on the screen, ms; traced by the browser itself. */
async function whileTraced(page: Page, act: () => Promise<unknown>): Promise<number[]> {
  const session = await page.context().browser()!.newBrowserCDPSession();
  const shownMs: number[] = [];
  session.on('Tracing.dataCollected', ({ value }) => {
    for (const event of value as unknown as { name: string; ts: number }[])
      if (event.name === 'Display::DrawAndSwap') shownMs.push(event.ts / 1000);
  });
  await session.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: { includedCategories: ['viz'] },
  });
  await act();
  const complete = new Promise((resolve) => session.once('Tracing.tracingComplete', resolve));
  await session.send('Tracing.end');
  await complete;
  await session.detach();
  return shownMs.sort((x, y) => x - y);
}

/** Turns the wheel over the list towards older messages, which come in as they are reached. */
async function turnWheel(page: Page): Promise<void> {
  const box = (await page.getByRole('log', { name: 'Chat and events' }).boundingBox())!;
  const session = await page.context().newCDPSession(page);
  await session.send('Input.synthesizeScrollGesture', {
    x: Math.round(box.x + box.width / 2),
    y: Math.round(box.y + box.height / 2),
    yDistance: (WHEEL_PX_PER_SECOND * SCROLL_MS) / 1000,
    speed: WHEEL_PX_PER_SECOND,
    gestureSourceType: 'mouse',
  });
  await session.detach();
}

/** Pictures that scripts of the page could draw for, and that were shown, while something is done. */
async function pagePictures(page: Page, act: () => Promise<unknown>) {
  const list = page.getByRole('log', { name: 'Chat and events' });
  const firstRow = () =>
    list.evaluate((element) => {
      const top = element.getBoundingClientRect().top;
      const row = [...element.querySelectorAll<HTMLElement>('.entry')].find(
        (r) => r.getBoundingClientRect().bottom > top,
      );
      return Number(row?.dataset.seq);
    });
  const before = await firstRow();
  await list.evaluate((element) => {
    const counted = { pictures: 0, begunMs: performance.now(), lastMs: 0, leastPx: Infinity, on: true };
    Object.assign(window, { counted });
    const next = () => {
      counted.pictures += 1;
      counted.lastMs = performance.now();
      counted.leastPx = Math.min(counted.leastPx, element.scrollTop);
      if (counted.on) requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
  });
  const shownMs = await whileTraced(page, act);
  const { scripted, leastPx } = await page.evaluate(() => {
    const { counted } = window as unknown as {
      counted: { pictures: number; begunMs: number; lastMs: number; leastPx: number; on: boolean };
    };
    counted.on = false;
    return {
      scripted: (counted.pictures * 1000) / (counted.lastMs - counted.begunMs),
      leastPx: counted.leastPx,
    };
  });
  return {
    scripted,
    shown: ((shownMs.length - 1) * 1000) / (shownMs.at(-1)! - shownMs[0]),
    longestMs: Math.max(...shownMs.slice(1).map((at, i) => at - shownMs[i])),
    rows: before - (await firstRow()),
    /** Zero: the end of what was loaded was seen before more had come. */
    leastPx,
  };
}

export async function audienceFigures(say: (line: object) => void): Promise<void> {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const studio = await startStudio({ data, quiet: true });
  const browser = await launchBrowser();
  const api = `${studio.url}show/${SHOW}`;
  const client = await studio.owner(`/show/${SHOW}`);
  try {
    fill(path.join(data, 'dolomite.sqlite'));
    const times = async (query: string) => {
      const took: number[] = [];
      for (let i = 0; i < 15; i++) {
        const start = performance.now();
        const response = await client.ask(`/entries?${query}`);
        await response.json();
        took.push(performance.now() - start);
      }
      return quantile(took, 0.5);
    };
    const bound = (name: string, value: number, reference: number, more = {}) =>
      say({ name, value, unit: 'ms', reference, ratio: value / reference, goal: '< 1', ...more });
    bound('list of 100,000 messages: a page of it', await times(''), 300);
    bound('search in 100,000: a rare word', await times('search=kettle'), 100);
    bound('search in 100,000: two words that are everywhere', await times('search=snow%20lever'), 100);
    bound('search in 100,000: the beginning of a word', await times('search=sn'), 100);

    const page = await studio.page(browser, { viewport: { width: 1280, height: 800 } });
    // From the press to the newest message on the screen; each time the studio has just been opened in Stage.
    const presses: number[] = [];
    for (let i = 0; i < PRESSES; i++) {
      await page.goto(`${api}/stage`);
      await page.getByRole('navigation', { name: 'Places' }).waitFor();
      await wait(4000);
      presses.push(
        await page.evaluate(async () => {
          const start = performance.now();
          document.querySelector<HTMLAnchorElement>('a[href$="/audience"]')!.click();
          while (!document.querySelector('.entry'))
            await new Promise((resolve) => requestAnimationFrame(resolve));
          return performance.now() - start;
        }),
      );
    }
    bound('place Audience with 100,000 messages: press to list', quantile(presses, 0.5), 300, {
      first: presses[0],
      worst: quantile(presses, 1),
    });

    await wait(2000);
    const still = await pagePictures(page, () => wait(SCROLL_MS));
    const scrolled = await pagePictures(page, () => turnWheel(page));
    say({
      name: 'list of 100,000 messages: pictures shown while it is scrolled through',
      value: scrolled.shown,
      unit: 'a second',
      reference: still.scripted,
      ratio: scrolled.shown / still.scripted,
      against: 'the rate of the display, as scripts of the same page standing still are called',
      goal: '>= 0.95',
      longestGapMs: scrolled.longestMs,
      rowsPassed: scrolled.rows,
      nearestToTheEndOfWhatIsLoadedPx: scrolled.leastPx,
      scriptsCalledPerSecond: scrolled.scripted,
    });

    // Short alerts, so that the queue is empty for each.
    const { records } = (await client.json('/edits')) as { records: AnyRecord[] };
    const rule = records.find((r) => r.id === 'rule-follow')!;
    await client.edit({
      name: 'Short alerts',
      put: [{ ...rule, seconds: 1, sound: null } as AnyRecord],
      removed: [],
    });
    await page.reload();
    await page.getByRole('navigation', { name: 'Places' }).waitFor();
    await wait(5000);
    const lags: number[] = [];
    for (let i = 0; i < EVENTS; i++) {
      await client.send('/test-event', { ruleId: 'rule-follow' });
      await wait(2600);
      const health = (await client.json('/health')) as { desk: { alertLagMs: number | null } };
      if (health.desk.alertLagMs !== null) lags.push(health.desk.alertLagMs);
    }
    bound(`event to first picture, p95 of ${lags.length}`, quantile(lags, 0.95), 100, {
      median: quantile(lags, 0.5),
      worst: quantile(lags, 1),
    });
  } finally {
    await browser.close();
    await studio.stop();
    rmSync(data, { recursive: true, force: true });
  }
}
