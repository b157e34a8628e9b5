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
import { pull } from '../lib/pull';
import { eventually } from '../lib/relay-process';
import { silences } from '../lib/sound-files';
import { goLive, goTo, SHOW, StudioFixture } from '../lib/studio-fixture';
import { linkFor, programAt } from '../lib/visit';

const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-evening-'));
let fixture: StudioFixture;
let page: Page;
beforeAll(async () => {
  fixture = await StudioFixture.start();
  await fixture.quiet();
  await fixture.edit('Flash and beep', records(await fixture.records()));
}, 120_000);
afterAll(async () => {
  await fixture?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const SECONDS = 3;
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

function records(before: AnyRecord[]): AnyRecord[] {
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
      ...{ sceneId: i % 2 === 0 ? 'sc-dark' : 'sc-bright', plannedSeconds: SECONDS, end, sound: [] },
      presses: end.type === 'poll' ? [{ command: 'poll', params: { pollId: 'po-short' } }] : [],
    })),
    {
      ...{ kind: 'poll', id: 'po-short', ...own, name: 'Which way?', position: 1, seconds: SECONDS },
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

test('twelve segments walk by themselves where they say so; light and sound change together', async () => {
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
  const pulled = pull(fixture.standIn('larch').playUrl, file, 12 * SECONDS + 20);
  // The hand has three things to do this evening.
  await eventually(async () => (await onAirPart()).startsWith('Part 3'), 60_000);
  await page.waitForTimeout(SECONDS * 1000);
  await enter();
  await eventually(async () => (await onAirPart()).startsWith('Part 8'), 90_000);
  await page.waitForTimeout(SECONDS * 1000);
  expect((await program.send('/press', { command: 'take', params: {} })).status).toBe(200);
  await eventually(async () => (await onAirPart()).startsWith('Part 12'), 90_000);
  await pulled;
  expect(decodesCleanly(file).clean).toBe(true);
  // Of the dark parts the first had begun before the pull did; it may have come too late to see its end.
  const nights = dark(file).filter(({ to, from }) => to - from < 3 * SECONDS);
  const quiet = silences(file, 0.5);
  const inner = nights.filter(({ from }) => from > 0.5);
  expect(inner.length).toBeGreaterThanOrEqual(5);
  for (const { from, to } of inner) {
    const near = quiet.find((one) => Math.abs(one.from - from) < 1);
    expect(near).toBeDefined();
    // Two pictures of fifteen a second, of which one may be left out, and what AAC rings on. How exact a take is, is judged
    // on driven time.
    expect(Math.abs(near!.from - from)).toBeLessThan(0.16);
    expect(Math.abs(near!.from + near!.length - to)).toBeLessThan(0.16);
  }
  // Those that their length ended were as long as planned, to a look at the clock and a picture.
  const lengths = inner.map(({ from, to }) => to - from);
  expect(lengths.filter((length) => Math.abs(length - SECONDS) < 0.6).length).toBeGreaterThanOrEqual(3);
});
