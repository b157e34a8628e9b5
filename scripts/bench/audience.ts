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
    'INSERT INTO audience_entry (platform, event_id, type, viewer, at_ms, words, data) VALUES (?, ?, ?, ?, ?, ?, ?)',
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
      insert.run('larch', event.id, 'chat', viewer, event.atMs, said, JSON.stringify(event));
    }
  })();
  database.close();
}

/** A fast wheel. */
const WHEEL_PX_PER_SECOND = 2400;
const SCROLL_MS = 5000;

/**
 * Pictures of the page while the wheel is turned over the list towards older messages, which come in as they are
 * reached; or while nothing is done.
 */
async function pagePictures(page: Page, wheel: boolean) {
  const list = page.getByRole('log', { name: 'Chat and events' });
  const box = (await list.boundingBox())!;
  const firstRow = () =>
    list.evaluate((element) => {
      const top = element.getBoundingClientRect().top;
      const row = [...element.querySelectorAll<HTMLElement>('.entry')].find(
        (r) => r.getBoundingClientRect().bottom > top,
      );
      return Number(row?.dataset.seq);
    });
  const before = await firstRow();
  await page.evaluate(() => {
    const counted = {
      pictures: 0,
      begunMs: performance.now(),
      lastMs: performance.now(),
      longestMs: 0,
      on: true,
    };
    Object.assign(window, { counted });
    const next = () => {
      const now = performance.now();
      counted.pictures += 1;
      counted.longestMs = Math.max(counted.longestMs, now - counted.lastMs);
      counted.lastMs = now;
      if (counted.on) requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
  });
  if (wheel) {
    const session = await page.context().newCDPSession(page);
    await session.send('Input.synthesizeScrollGesture', {
      x: Math.round(box.x + box.width / 2),
      y: Math.round(box.y + box.height / 2),
      yDistance: (WHEEL_PX_PER_SECOND * SCROLL_MS) / 1000,
      speed: WHEEL_PX_PER_SECOND,
      gestureSourceType: 'mouse',
    });
    await session.detach();
  } else await wait(SCROLL_MS);
  const { perSecond, longestMs } = await page.evaluate(() => {
    const { counted } = window as unknown as {
      counted: { pictures: number; begunMs: number; lastMs: number; longestMs: number; on: boolean };
    };
    counted.on = false;
    return {
      perSecond: (counted.pictures * 1000) / (counted.lastMs - counted.begunMs),
      longestMs: counted.longestMs,
    };
  });
  return { perSecond, longestMs, rows: before - (await firstRow()) };
}

export async function audienceFigures(say: (line: object) => void): Promise<void> {
  const data = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const studio = await startStudio({ data, quiet: true });
  const browser = await launchBrowser();
  const api = `${studio.url}show/${SHOW}`;
  try {
    fill(path.join(data, 'dolomite.sqlite'));
    const times = async (query: string) => {
      const took: number[] = [];
      for (let i = 0; i < 15; i++) {
        const start = performance.now();
        const response = await fetch(`${api}/entries?${query}`);
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

    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${api}/stage`);
    await page.getByRole('navigation', { name: 'Places' }).waitFor();
    await wait(4000);
    // From the press to the newest message on the screen.
    const opened = await page.evaluate(async () => {
      const start = performance.now();
      document.querySelector<HTMLAnchorElement>('a[href$="/audience"]')!.click();
      while (!document.querySelector('.entry'))
        await new Promise((resolve) => requestAnimationFrame(resolve));
      return performance.now() - start;
    });
    bound('place Audience with 100,000 messages: press to list', opened, 300);

    await wait(2000);
    const still = await pagePictures(page, false);
    const scrolled = await pagePictures(page, true);
    say({
      name: 'list of 100,000 messages: pictures of the page while it is scrolled through',
      value: scrolled.perSecond,
      unit: 'a second',
      reference: still.perSecond,
      ratio: scrolled.perSecond / still.perSecond,
      against: 'the same list standing still',
      goal: '>= 0.95',
      longestGapMs: scrolled.longestMs,
      rowsPassed: scrolled.rows,
    });

    // Short alerts, so that the queue is empty for each.
    const { records } = (await (await fetch(`${api}/edits`)).json()) as { records: AnyRecord[] };
    const rule = records.find((r) => r.id === 'rule-follow')!;
    for (let baseRevision = 0; baseRevision < 50; baseRevision++) {
      const response = await fetch(`${api}/edits`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({
          id: 'short',
          name: 'Short alerts',
          put: [{ ...rule, seconds: 1, sound: null }],
          removed: [],
          baseRevision,
        }),
      });
      if (response.ok) break;
    }
    await page.reload();
    await page.getByRole('navigation', { name: 'Places' }).waitFor();
    await wait(5000);
    const lags: number[] = [];
    for (let i = 0; i < EVENTS; i++) {
      await fetch(`${api}/test-event`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ ruleId: 'rule-follow' }),
      });
      await wait(2600);
      const health = (await (await fetch(`${api}/health`)).json()) as { desk: { alertLagMs: number | null } };
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
