/** Both frames on air at once, playlists without gaps, and what a large show and many switches cost the page. */
import { spawn, spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { PLAIN_PLAN } from '../../core/delivery/settings';
import { fullPlacement, PLAIN_INPUT, type AnyRecord, type PlanRecord } from '../../core/show/records';
import { sampleLayer, sampleScene } from '../../core/show/sample-show';
import { analyse, decodesCleanly, pullArguments } from '../../scripts/lib/analyse.mjs';
import { eventually } from '../lib/relay-process';
import { goLive, goTo, SHOW, showDestinations, stopLive, StudioFixture } from '../lib/studio-fixture';

/** Two hundred by `npm run soak`. */
const SWITCHES = process.env.DOLOMITE_SOAK ? 200 : 60;

let fixture: StudioFixture;
let page: Page;

const plan: PlanRecord = {
  kind: 'plan',
  id: 'plan-home',
  showId: SHOW,
  name: 'Both',
  position: 0,
  frames: {
    wide: { width: 320, height: 180, videoKbps: 600 },
    tall: { width: 180, height: 320, videoKbps: 500 },
  },
  ...PLAIN_PLAN,
  audioKbps: 96,
};

beforeAll(async () => {
  fixture = await StudioFixture.start({}, { tall: true });
  await fixture.edit('Both frames', [plan]);
  page = await fixture.open('delivery');
  await showDestinations(page);
});
afterAll(async () => {
  await fixture?.stop();
});

const ours = (record: AnyRecord): AnyRecord => ({ ...record, showId: SHOW });
const destinations = async () => (await fixture.health()).relay?.session.destinations ?? [];
const framesOf = async (name: string) => (await destinations()).find((d) => d.name === name)?.framesSent ?? 0;
const pull = (name: string, file: string, seconds: number) => {
  const { playUrl } = fixture.studio.platforms().find((p: { name: string }) => p.name === name)!;
  return new Promise((resolve) =>
    spawn('ffmpeg', pullArguments(playUrl, file, seconds), { stdio: 'ignore' }).on('exit', resolve),
  );
};

test('the tall frame is encoded when a destination takes it, also while live; the wide one does not notice', async () => {
  const marmot = page.getByRole('switch', { name: 'Send to Marmot' });
  await marmot.click();
  await goLive(page);
  await eventually(async () => (await framesOf('Larch')) > 30, 60_000);
  expect((await fixture.health()).desk!.encodes.map((e) => e.encode)).toEqual(['wide']);
  await marmot.click();
  await eventually(async () => (await framesOf('Marmot')) > 30, 60_000);
  expect((await fixture.health()).desk!.encodes.map((e) => e.encode)).toEqual(['wide', 'tall']);
  const [wide, tall] = ['larch', 'marmot'].map((name) => path.join(fixture.data, `${name}.flv`));
  await Promise.all([pull('larch', wide, 5), pull('marmot', tall, 5)]);
  await stopLive(page);
  for (const [file, width, height] of [
    [wide, 320, 180],
    [tall, 180, 320],
  ] as const) {
    const got = analyse(file);
    expect(got.video).toMatchObject({ codec: 'h264', width, height });
    expect(got.audio).toMatchObject({ codec: 'aac' });
    expect(got.stampsRise).toBe(true);
    expect(decodesCleanly(file).clean).toBe(true);
  }
  // Each frame has a recording of its own.
  await eventually(() => Promise.resolve(readdirSync(path.join(fixture.data, 'recordings')).length >= 2));
  const names = readdirSync(path.join(fixture.data, 'recordings'));
  expect(names.filter((n) => n.includes('tall'))).toHaveLength(1);
});

/** One colour for a second, as VP9 or H.264. */
function colourClip(file: string, colour: string): void {
  const args = `-v error -y -f lavfi -i color=${colour}:size=320x180:rate=30 -t 1 -c:v libx264 -preset ultrafast -pix_fmt yuv420p`;
  const { status, stderr } = spawnSync('ffmpeg', [...args.split(' '), file]);
  if (status !== 0) throw new Error(String(stderr));
}

/** The mean colour of every picture of a file. */
function colours(file: string): string[] {
  const args = `-v error -i ${file} -vf scale=1:1:flags=area -pix_fmt rgb24 -f rawvideo -`;
  const { stdout } = spawnSync('ffmpeg', args.split(' '), { maxBuffer: 1 << 26 });
  return Array.from({ length: Math.floor(stdout.length / 3) }, (_, i) => {
    const [r, g, b] = stdout.subarray(i * 3, i * 3 + 3);
    if (r > 150 && g < 90 && b < 90) return 'red';
    if (b > 150 && r < 90 && g < 90) return 'blue';
    return `${r},${g},${b}`;
  });
}

test('a playlist runs without a gap, and brings on the next scene at its end', async () => {
  const files: { assetId: string; name: string }[] = [];
  for (const colour of ['red', 'blue']) {
    const file = path.join(fixture.data, `${colour}.mp4`);
    colourClip(file, colour);
    const response = await fetch(`${fixture.api}/assets`, {
      method: 'POST',
      headers: { 'x-file-name': `${colour}.mp4`, 'content-type': 'application/octet-stream' },
      body: readFileSync(file),
    });
    files.push({ assetId: ((await response.json()) as { id: string }).id, name: `${colour}.mp4` });
  }
  const list = (id: string, atEnd: 'loop' | 'next', position: number): AnyRecord[] => [
    ours({
      kind: 'input',
      id: `in-${id}`,
      showId: SHOW,
      name: id,
      position: 20 + position,
      source: { type: 'clips', files, order: 'listed', atEnd, start: 'on-air' },
      ...PLAIN_INPUT,
    }),
    ours(sampleScene(`sc-${id}`, { position: 20 + position, name: id })),
    ours({
      ...sampleLayer(`ly-${id}`, `sc-${id}`, 0, {
        content: { type: 'input', inputId: `in-${id}`, fit: 'fill' },
      }),
      placements: { wide: fullPlacement({ width: 1920, height: 1080 }) },
    }),
  ];
  await fixture.edit(
    'Playlists',
    [
      ...list('Round', 'loop', 0),
      ...list('Once', 'next', 1),
      ours(sampleScene('sc-after', { position: 22, name: 'After' })),
    ],
    ['ly-badge', 'ly-alert', 'dest-marmot'],
  );
  await page.reload();
  await goTo(page, 'On air');
  const bring = (name: string) =>
    page
      .getByRole('region', { name: 'Scenes to bring on' })
      .getByRole('button', { name: new RegExp(`^${name}`) })
      .click();
  await bring('Round');
  await goLive(page);
  await eventually(async () => (await framesOf('Larch')) > 20, 60_000);
  const file = path.join(fixture.data, 'round.flv');
  await pull('larch', file, 7);
  const seen = colours(file);
  const odd = seen.filter((c) => c !== 'red' && c !== 'blue');
  expect(odd).toEqual([]);
  // Runs of one colour last a second each; the first and last are cut off by the pulling.
  const runs: number[] = [];
  for (let i = 0; i < seen.length; i++) {
    if (i > 0 && seen[i] === seen[i - 1]) runs[runs.length - 1] += 1;
    else runs.push(1);
  }
  expect(runs.length).toBeGreaterThan(4);
  // A busy machine may repeat or skip pictures; the clips' own lengths never drift.
  const whole = runs.slice(1, -1);
  const mean = whole.reduce((sum, n) => sum + n, 0) / whole.length;
  expect(Math.abs(mean - 30)).toBeLessThan(2);
  await bring('Once');
  await eventually(async () => (await fixture.health()).desk!.onAirSceneId === 'sc-after', 30_000);
  await stopLive(page);
  expect(fixture.pageErrors).toEqual([]);
});

test('a show of 200 layers is edited without holding up the page, and many switches leave nothing open', async () => {
  const scenes = Array.from({ length: 20 }, (_, i) =>
    ours(sampleScene(`sc-l${i}`, { position: 40 + i, name: `Large ${i}` })),
  );
  const layers = scenes.flatMap((scene) =>
    Array.from({ length: 10 }, (_, i) =>
      ours(
        sampleLayer(`${scene.id}-${i}`, scene.id, i, {
          content: { type: 'shape', shape: 'rectangle', colour: '#26324f' },
          wide: { cx: 200 + i * 160, cy: 540, width: 140, height: 140 },
          tall: { cx: 540, cy: 150 + i * 180, width: 140, height: 140 },
        }),
      ),
    ),
  );
  await fixture.edit('Large show', [...scenes, ...layers]);
  await page.goto(`${fixture.api}/stage`);
  await page.getByRole('button', { name: 'Edit Large 3 off air' }).click();
  await page
    .getByTestId('layer-sc-l3-4')
    .getByRole('button', { name: /^sc-l3-4/ })
    .first()
    .click();
  await page.evaluate(() => {
    const seen: number[] = [];
    (globalThis as unknown as { tasks: number[] }).tasks = seen;
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) seen.push(entry.duration);
    }).observe({ type: 'longtask' });
  });
  const frame = page.getByTestId('frame');
  await frame.focus();
  for (let i = 0; i < 30; i++) await page.keyboard.press('ArrowRight');
  const box = (await frame.boundingBox())!;
  const x = box.x + ((200 + 4 * 160 + 30) / 1920) * box.width;
  await page.mouse.move(x, box.y + box.height / 2);
  await page.mouse.down();
  for (let i = 1; i <= 40; i++) await page.mouse.move(x + i * 2, box.y + box.height / 2 + i);
  await page.mouse.up();
  const longest = await page.evaluate(() =>
    Math.max(0, ...(globalThis as unknown as { tasks: number[] }).tasks),
  );
  console.log(`longest task while editing a show of 200 layers: ${Math.round(longest)} ms`);
  // The bound of 50 ms is the bench's; a shared machine may add to any single task.
  expect(longest).toBeLessThan(150);

  const memory = () =>
    page.evaluate(async () => {
      const measure = (
        performance as unknown as { measureUserAgentSpecificMemory(): Promise<{ bytes: number }> }
      ).measureUserAgentSpecificMemory.bind(performance);
      return (await measure()).bytes;
    });
  const switches = async (count: number) => {
    for (let i = 0; i < count; i++) {
      await page.keyboard.press(`Shift+${(i % 6) + 1}`);
      await page.waitForTimeout(25);
    }
  };
  await frame.focus();
  await switches(40);
  const before = await memory();
  await switches(SWITCHES);
  const after = await memory();
  console.log(
    `memory before ${Math.round(before / 1e5) / 10} MB, after ${SWITCHES} switches ${Math.round(after / 1e5) / 10} MB`,
  );
  expect(after).toBeLessThan(before * 1.05 + 1e6);
  expect(fixture.pageErrors).toEqual([]);
});
