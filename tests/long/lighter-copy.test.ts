/** Lighter copies of videos, judged by ffprobe and by their pictures. */
import { spawnSync } from 'node:child_process';
import { createReadStream, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openDatabase, type Database } from '../../server/db/database';
import { AssetStore, type AssetFacts } from '../../server/vault/asset-store';
import { lighterCopy, videoFacts, type CopyProgress } from '../../server/vault/lighter-copy';

const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-lighter-'));
let database: Database;
let assets: AssetStore;
let film: AssetFacts;
let clear: AssetFacts;

async function made(name: string, args: string[]): Promise<AssetFacts> {
  const file = path.join(folder, name);
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...args, file], { encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  return assets.add(name, createReadStream(file), 0);
}

beforeAll(async () => {
  database = openDatabase(
    path.join(folder, 'test.sqlite'),
    path.resolve(import.meta.dirname, '../../db/migrations'),
  );
  assets = new AssetStore(database, path.join(folder, 'assets'));
  film = await made('film.mp4', [
    ...['-f', 'lavfi', '-i', 'testsrc2=size=1280x720:rate=60', '-f', 'lavfi', '-i', 'sine=frequency=440'],
    ...['-t', '4', '-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', '-c:a', 'aac'],
  ]);
  clear = await made('clear.webm', [
    ...['-f', 'lavfi', '-i', 'color=c=red@0.5:size=320x180:rate=30,format=yuva420p'],
    ...['-t', '1', '-c:v', 'libvpx-vp9', '-pix_fmt', 'yuva420p', '-deadline', 'realtime', '-cpu-used', '8'],
  ]);
});
afterAll(() => {
  database.close();
  rmSync(folder, { recursive: true, force: true });
});

const target = { width: 640, height: 360, fps: 30 };
const whole = () => new AbortController().signal;

test('is smaller, slower, as long, and looks the same', async () => {
  const steps: CopyProgress[] = [];
  for await (const step of lighterCopy(assets, film.id, target, whole())) steps.push(step);
  const last = steps.at(-1)!;
  if (!('asset' in last)) throw new Error('no copy');
  expect(last.asset).toMatchObject({ mime: 'video/mp4', name: 'film 640×360.mp4' });
  const file = assets.pathOf(last.asset.id);
  const facts = await videoFacts(file);
  expect(facts).toMatchObject({ width: 640, height: 360, codec: 'h264', clear: false });
  expect(facts.fps).toBeCloseTo(30);
  expect(facts.seconds).toBeCloseTo(4, 0);
  // Against the original, made as small by somebody else's scaler.
  const { stderr } = spawnSync(
    'ffmpeg',
    [
      ...['-hide_banner', '-i', file, '-i', assets.pathOf(film.id)],
      ...['-lavfi', '[1]fps=30,scale=640:360[a];[0][a]ssim', '-f', 'null', '-'],
    ],
    { encoding: 'utf8' },
  );
  expect(Number(/All:([\d.]+)/.exec(stderr)![1])).toBeGreaterThan(0.95);
  const shares = steps.flatMap((s) => ('share' in s ? [s.share] : []));
  expect([...shares].sort((a, b) => a - b)).toEqual(shares);
});

test('keeps transparency', async () => {
  expect((await videoFacts(assets.pathOf(clear.id))).clear).toBe(true);
  let copy: AssetFacts | null = null;
  for await (const step of lighterCopy(assets, clear.id, { width: 160, height: 90, fps: 15 }, whole()))
    if ('asset' in step) copy = step.asset;
  expect(copy!.mime).toBe('video/webm');
  const facts = await videoFacts(assets.pathOf(copy!.id));
  expect(facts).toMatchObject({ clear: true, width: 160, height: 90 });
  const { stdout } = spawnSync('ffmpeg', [
    ...['-v', 'error', '-c:v', 'libvpx-vp9', '-i', assets.pathOf(copy!.id)],
    ...['-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'rgba', 'pipe:1'],
  ]);
  expect(Math.abs(stdout[(45 * 160 + 80) * 4 + 3] - 128)).toBeLessThan(8);
});

test('that is cancelled leaves nothing behind', async () => {
  const before = assets.list().length;
  const abort = new AbortController();
  const steps = lighterCopy(assets, film.id, { width: 1280, height: 720, fps: 60 }, abort.signal);
  await expect(
    (async () => {
      for await (const step of steps) if ('share' in step) abort.abort();
    })(),
  ).rejects.toThrow(/abort/i);
  expect(assets.list()).toHaveLength(before);
  expect(readdirSync(assets.folder).filter((name) => name.includes('.part'))).toEqual([]);
});

test('of what is gone or no video is refused in words', async () => {
  const all = async (id: string) => {
    for await (const step of lighterCopy(assets, id, target, whole())) expect(step).toBeDefined();
  };
  await expect(all('abc')).rejects.toThrow(/gone/);
});
