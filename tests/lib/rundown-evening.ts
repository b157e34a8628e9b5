/** An evening of twelve segments by its rundown, pulled like a viewer pulls it: every change by flash and beep. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { documentOf, recordsOf } from '../../core/show/document';
import { CUT } from '../../core/show/motion-records';
import { PLAIN_CHANNEL, PLAIN_SCENE, type AnyRecord, type ChannelRecord } from '../../core/show/records';
import { PLAIN_SEGMENT, type SegmentRecord } from '../../core/show/rundown-records';
import { sampleLayer } from '../../core/show/sample-show';
import { decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { pull } from './pull';
import { eventually } from './relay-process';
import { silences } from './sound-files';
import { goLive, goTo, SHOW, StudioFixture } from './studio-fixture';
import { linkFor, programAt } from './visit';
import { en } from '../../app/words/en';

let fixture: StudioFixture;
let page: Page;

/** What moves each of them on; they are dark and bright by turns. */
const ENDS: readonly SegmentRecord['end'][] = [
  { type: 'length' },
  { type: 'length' },
  // By the keyboard.
  { type: 'hand' },
  { type: 'length' },
  { type: 'poll' },
  { type: 'length' },
  { type: 'length' },
  // By another program.
  { type: 'hand' },
  { type: 'length' },
  { type: 'length' },
  { type: 'length' },
  { type: 'hand' },
];

function records(before: AnyRecord[], seconds: number): AnyRecord[] {
  const own = { showId: SHOW };
  const scene = (id: string, position: number): AnyRecord => ({
    ...{ kind: 'scene', id, ...own, name: id, position, ...PLAIN_SCENE, transition: CUT },
    background: '#000000',
  });
  const silent = recordsOf(documentOf(before), 'channel').map((channel) => ({ ...channel, muted: true }));
  const beep: ChannelRecord = {
    ...PLAIN_CHANNEL,
    ...{ kind: 'channel', id: 'ch-beep', ...own, name: 'Beep', position: 90, gainDb: 0, fadeSeconds: 0 },
    ...{ source: { type: 'simulated', sound: 'night-music' }, heard: 'scenes', sceneIds: ['sc-bright'] },
  };
  // What stands above every scene would be in the dark ones too.
  const standing = recordsOf(documentOf(before), 'layer')
    .filter(({ sceneId }) => sceneId === null)
    .map((layer) => ({ ...layer, visible: false }));
  return [
    ...silent,
    ...standing,
    beep,
    scene('sc-dark', 90),
    scene('sc-bright', 91),
    {
      ...sampleLayer('ly-flash', 'sc-bright', 0, {
        content: { type: 'shape', shape: 'rectangle', colour: '#ffffff' },
        wide: {},
      }),
      ...own,
    },
    { kind: 'rundown', id: 'rd-evening', ...own, name: 'Evening', position: -1, startsAt: '' },
    ...ENDS.map((end, i): SegmentRecord => ({
      ...PLAIN_SEGMENT,
      ...{
        kind: 'segment',
        id: `sg-${i}`,
        ...own,
        name: `Part ${i + 1}`,
        position: i,
        rundownId: 'rd-evening',
      },
      ...{ sceneId: i % 2 === 0 ? 'sc-dark' : 'sc-bright', plannedSeconds: seconds, end, sound: [] },
      presses: end.type === 'poll' ? [{ command: 'poll', params: { pollId: 'po-short' } }] : [],
    })),
    {
      ...{ kind: 'poll', id: 'po-short', ...own, name: 'Which way?', position: 1, seconds },
      answers: [
        { label: 'Left', words: '' },
        { label: 'Right', words: '' },
      ],
    },
  ];
}

const onAirPart = () => page.locator('.air-segment[data-standing=on]').innerText();

/** Away from every control: the keyboard is the studio's. */
async function enter(): Promise<void> {
  await page.evaluate(() => (globalThis.document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('Enter');
}

/** Stretches without light, as ffmpeg sees them, seconds. */
function dark(file: string): { from: number; to: number }[] {
  const args = ['-hide_banner', '-i', file, '-an', '-vf', 'blackdetect=d=0.5:pic_th=0.98', '-f', 'null', '-'];
  const { stderr } = spawnSync('ffmpeg', args, { encoding: 'utf8', maxBuffer: 1 << 26 });
  return [...stderr.matchAll(/black_start:([\d.]+) black_end:([\d.]+)/g)].map(([, from, to]) => ({
    from: Number(from),
    to: Number(to),
  }));
}

/** When video frames are shown, seconds, by ffprobe. */
function shownAt(file: string): number[] {
  const args = ['-v', 'error', '-select_streams', 'v', '-show_entries', 'packet=pts_time', '-of', 'csv=p=0'];
  const { stdout } = spawnSync('ffprobe', [...args, file], { encoding: 'utf8', maxBuffer: 1 << 26 });
  return stdout
    .trim()
    .split('\n')
    .map(parseFloat)
    .sort((a, b) => a - b);
}

/** The longest that nothing new was shown around a moment: frames that a slow machine left out, seconds. */
function standstill(shown: number[], seconds: number): number {
  const near = shown.filter((at) => Math.abs(at - seconds) < 3);
  return Math.max(...near.slice(1).map((at, i) => at - near[i]), 0);
}

/** How bright the picture of a moment is in its middle, 0…255, when it has been drawn. */
async function brightness(): Promise<number> {
  const canvas = page.locator('.moment-picture canvas[data-drawn=true]');
  await canvas.waitFor({ timeout: 60_000 });
  return canvas.evaluate((of: HTMLCanvasElement) => {
    const { width, height } = of;
    return of.getContext('2d')!.getImageData(width / 2, height / 2, 1, 1).data[1];
  });
}

/** Walks through what was kept of it: how it stood at each change, and what was to be seen. */
async function lookBack(): Promise<void> {
  await goTo(page, 'Vault');
  await page.getByRole('radio', { name: 'Broadcasts' }).check({ force: true });
  await page.getByRole('button', { name: en.moments.open }).first().click();
  const how = page.getByRole('region', { name: en.moments.how });
  const next = page.getByRole('button', { name: en.moments.next });
  const seen: string[] = [];
  await how.waitFor();
  while (seen.length < 12) {
    await next.click();
    const rows = (await how.innerText()).split('\n');
    const part = rows[rows.indexOf(en.moments.segment) + 1];
    if (!/^Part \d+$/.test(part ?? '') || seen.includes(part)) continue;
    seen.push(part);
    expect(rows).toContain(seen.length % 2 === 1 ? 'sc-dark' : 'sc-bright');
    // Each picture takes a moment: the second and the third say enough.
    if (seen.length === 2) expect(await brightness()).toBeGreaterThan(240);
    if (seen.length === 3) expect(await brightness()).toBeLessThan(16);
  }
  expect(seen).toEqual(Array.from({ length: 12 }, (_, i) => `Part ${i + 1}`));
}

/** @param seconds each segment that has a length takes so long */
export function rundownEvening(seconds: number): void {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-evening-'));
  beforeAll(async () => {
    fixture = await StudioFixture.start();
    await fixture.quiet();
    await fixture.edit('Flash and beep', records(await fixture.records(), seconds));
  }, 120_000);
  afterAll(async () => {
    await fixture?.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test(
    'twelve segments walk by themselves where they say so; light and sound change together; any moment is there again',
    async () => {
      // A try before may have left it on air.
      await fixture.clear();
      page = await fixture.open('delivery');
      const program = await programAt(fixture, await linkFor(fixture, 'operator', 'Deck'));
      await goLive(page);
      await goTo(page, 'On air');
      const begin = { command: 'jump', params: { segmentId: 'sg-0' } };
      expect((await program.send('/press', begin)).status).toBe(200);
      await eventually(async () => (await onAirPart()).startsWith('Part 1'));
      const file = path.join(folder, 'evening.flv');
      const pulled = pull(fixture.standIn('larch').playUrl, file, 12 * seconds + 20);
      // The hand has three things to do this evening.
      await eventually(async () => (await onAirPart()).startsWith('Part 3'), 60_000);
      await page.waitForTimeout(seconds * 1000);
      await enter();
      await eventually(async () => (await onAirPart()).startsWith('Part 8'), 90_000);
      await page.waitForTimeout(seconds * 1000);
      expect((await program.send('/press', { command: 'take', params: {} })).status).toBe(200);
      await eventually(async () => (await onAirPart()).startsWith('Part 12'), 90_000);
      await pulled;
      expect(decodesCleanly(file).clean).toBe(true);
      // Of the dark parts the first had begun before the pull did; it may have come too late to see its end.
      const nights = dark(file).filter(({ to, from }) => to - from < 3 * seconds);
      const quiet = silences(file, 0.5);
      const inner = nights.filter(({ from }) => from > 0.5);
      expect(inner.length).toBeGreaterThanOrEqual(5);
      const shown = shownAt(file);
      // A picture of fifteen a second and what AAC rings on; where frames were left out the next one shows it. How exact a take
      // is, is judged on driven time.
      const slack = (seconds: number) => 0.09 + standstill(shown, seconds);
      for (const { from, to } of inner) {
        const near = quiet.find((one) => Math.abs(one.from - from) < 1 + standstill(shown, from));
        expect(near).toBeDefined();
        expect(Math.abs(near!.from - from)).toBeLessThan(slack(from));
        expect(Math.abs(near!.from + near!.length - to)).toBeLessThan(slack(to));
      }
      // Those that their length ended were as long as planned, to a look at the clock and a picture.
      const lengths = inner.map(({ from, to }) => to - from);
      expect(lengths.filter((length) => Math.abs(length - seconds) < 0.6).length).toBeGreaterThanOrEqual(3);
      await lookBack();
    },
    240_000 + 24_000 * seconds,
  );
}
