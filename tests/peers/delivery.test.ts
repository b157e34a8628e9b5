/** What the relay does beside sending: looking back, delays and cuts, slow lines, filler, line tests; judged by ffprobe. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from 'vitest';
import type { KeptFile, RelayStatus } from '../../protocol/relay-orders';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { LineShaper } from '../../standins/platforms/line-shaper';
import { startIngest } from '../../standins/platforms/ingest';
import { freePort } from '../../scripts/lib/studio.mjs';
import { NginxRtmp } from '../lib/nginx-rtmp';
import { pull } from '../lib/pull';
import { eventually, FakeDesk, RelayProcess } from '../lib/relay-process';
import { makeSampleStream, type SampleStream } from '../lib/sample-stream';
import { pause } from '../lib/waits';

let sample: SampleStream;
let nginx: NginxRtmp;
let folder: string;
let relay: RelayProcess;

beforeAll(async () => {
  sample = await makeSampleStream(16);
  nginx = await NginxRtmp.start();
});
afterAll(() => nginx.stop());
beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-delivery-'));
  relay = await RelayProcess.start();
});
afterEach(async () => {
  await relay.stop();
  rmSync(folder, { recursive: true, force: true });
});

async function openDesk(
  order: Parameters<RelayProcess['begin']>[0],
  from: SampleStream = sample,
): Promise<FakeDesk> {
  const desk = new FakeDesk(
    relay,
    await relay.begin({ scratchFolder: path.join(folder, 'scratch'), ...order }),
  );
  await desk.welcome();
  for (const config of from.configs) desk.send(config);
  return desk;
}

const keep = (order: object) =>
  relay.order<{ files: KeptFile[]; message?: string }>('POST', '/keep', { folder, name: 'Clip', ...order });

test('the last seconds are kept as files of both frames that begin on a keyframe and decode', async () => {
  const desk = await openDesk({ lookbackSeconds: 30 });
  for (const config of sample.configs) if (config.track === 'video') desk.send({ ...config, encode: 'tall' });
  const playing = desk.play(sample, { frames: ['wide', 'tall'] });
  await eventually(async () => (await relay.status()).seconds > 9);
  const { status, body } = await keep({ fromSecondsAgo: 7, toSecondsAgo: 0, frames: ['wide', 'tall'] });
  expect(status, JSON.stringify(body)).toBe(200);
  expect(body.files.map((f) => f.frame)).toEqual(['wide', 'tall']);
  for (const { file, seconds, beganSecondsAgo } of body.files) {
    // It is dated by what was kept, not by what was asked for.
    expect(Math.abs(beganSecondsAgo - seconds)).toBeLessThan(0.1);
    const result = analyse(path.join(folder, file));
    // From the keyframe before.
    expect(seconds).toBeGreaterThanOrEqual(7);
    expect(seconds).toBeLessThan(9.1);
    expect(result.video).toMatchObject({ codec: 'h264', width: 320 });
    expect(result.keyframePictures[0]).toBe(60);
    expect(decodesCleanly(path.join(folder, file))).toEqual({ clean: true, complaints: '' });
  }
  const again = await keep({ fromSecondsAgo: 5, toSecondsAgo: 2, frames: ['wide'] });
  expect(again.body.files[0].file).toBe('Clip 2.mkv');
  expect(again.body.files[0].seconds).toBeLessThan(5.2);
  const whole = await keep({ fromSecondsAgo: 120, toSecondsAgo: 0, frames: ['wide'] });
  expect(whole.body.files[0].beganSecondsAgo).toBeLessThan(30);
  expect((await relay.status()).lookback).toMatchObject({ maxSeconds: 30, message: '' });
  // A folder that is gone costs the clip, not the broadcast.
  const lost = await keep({
    fromSecondsAgo: 5,
    toSecondsAgo: 0,
    frames: ['wide'],
    folder: '/nowhere/at/all',
  });
  expect(lost.status).toBe(409);
  expect(lost.body.message).toContain('could not be saved');
  expect((await keep({ fromSecondsAgo: 5, toSecondsAgo: 2, frames: ['wide'] })).status).toBe(200);
  desk.socket.close();
  await playing;
});

test('a pause and a split each begin a file of their own; every one decodes', async () => {
  const desk = await openDesk({
    recordingFolder: folder,
    record: { frames: ['wide'], splitMinutes: 0.1, splitMb: 0, pattern: '{date} Night {frame}' },
  });
  const playing = desk.play(sample);
  await eventually(async () => ((await relay.status()).recording?.files.length ?? 0) >= 2);
  await relay.order('POST', '/recording/pause', { paused: true });
  expect((await relay.status()).recording?.paused).toBe(true);
  await pause(2500);
  await relay.order('POST', '/recording/pause', { paused: false });
  await eventually(async () => ((await relay.status()).recording?.files.length ?? 0) >= 3);
  await pause(1000);
  desk.socket.close();
  await playing;
  await relay.order('POST', '/end', {});
  const files = readdirSync(folder).filter((n) => n.endsWith('.mkv'));
  expect(files.length).toBeGreaterThanOrEqual(3);
  for (const file of files) {
    expect(file).toMatch(/^\d{4}-\d\d-\d\d Night wide /);
    expect(decodesCleanly(path.join(folder, file))).toEqual({ clean: true, complaints: '' });
  }
});

test('a delayed destination is behind the others by its delay, and what is cut never goes out: the cover stands in', async () => {
  const cover = await makeSampleStream(2, { size: '160x90' });
  const desk = await openDesk({
    destinations: [
      { id: 'a', name: 'At once', frame: 'wide', url: nginx.url, key: 'at-once' },
      { id: 'd', name: 'Delayed', frame: 'wide', url: nginx.url, key: 'delayed', delaySeconds: 3 },
    ],
  });
  for (const config of cover.configs) desk.send({ ...config, cover: true });
  for (const packet of cover.packets)
    desk.send({ type: 'packet', sequence: 0, cover: true, encode: 'wide', packet });
  desk.send({ type: 'coverEnd', encode: 'wide' });
  const of = async (id: string) => (await relay.status()).destinations.find((d) => d.id === id);
  const sent = async (id: string) => (await of(id))?.framesSent ?? 0;
  // One that accepts after the first keyframe begins with the next, two seconds later.
  await eventually(async () => (await of('a'))?.state === 'live');
  const playing = desk.play(sample);
  const file = path.join(folder, 'delayed.flv');
  const viewer = pull(`${nginx.url}/delayed`, file, 11);
  await eventually(async () => (await sent('a')) > 60);
  expect(await sent('d')).toBe(0);
  await eventually(async () => (await sent('d')) > 100);
  const behind = (await sent('a')) - (await sent('d'));
  expect(behind).toBeGreaterThan(3 * 30 - 20);
  expect(behind).toBeLessThan(3 * 30 + 30);
  const cut = await relay.order<{ seconds: number }>('POST', '/cut', { id: 'd', seconds: 2.5 });
  expect(cut.body.seconds).toBeGreaterThan(2);
  expect(cut.body.seconds).toBeLessThan(2.6);
  expect((await relay.order<{ seconds: number }>('POST', '/cut', { id: 'a', seconds: 3 })).body.seconds).toBe(
    0,
  );
  await viewer;
  await playing;
  // The cover has another size: both are in what the viewer got.
  const sizes = spawnSync(
    'ffprobe',
    ['-v', 'error', '-select_streams', 'v', '-show_entries', 'frame=width', '-of', 'csv=p=0', file],
    { encoding: 'utf8' },
  );
  const widths = sizes.stdout
    .split('\n')
    .map((line) => Number.parseInt(line))
    .filter((n) => n > 0);
  const covered = widths.filter((w) => w === 160).length;
  expect(covered).toBeGreaterThan(60);
  expect(covered).toBeLessThan(160);
  // Before and after it the broadcast.
  expect(widths[0]).toBe(320);
  expect(widths.at(-1)).toBe(320);
});

test('at the end a delayed destination still gets what its viewers have not seen; the others and the recording are done', async () => {
  const desk = await openDesk({
    recordingFolder: folder,
    destinations: [
      { id: 'a', name: 'At once', frame: 'wide', url: nginx.url, key: 'ends-at-once' },
      { id: 'd', name: 'Delayed', frame: 'wide', url: nginx.url, key: 'ends-later', delaySeconds: 3 },
    ],
  });
  const playing = desk.play(sample);
  await eventually(async () => (await relay.status()).destinations.every((d) => d.framesSent > 30));
  const file = path.join(folder, 'late.flv');
  const viewer = pull(`${nginx.url}/ends-later`, file, 20);
  const { body } = await relay.order<{ session: RelayStatus['session'] }>('POST', '/finish', {});
  expect(body.session).toMatchObject({ state: 'finishing', destinations: [{ id: 'd', state: 'live' }] });
  expect(body.session!.secondsToFinish).toBeGreaterThan(2);
  expect(body.session!.secondsToFinish).toBeLessThan(3.1);
  await playing;
  // A desk that still sends changes nothing: the file is closed.
  const [name] = readdirSync(folder).filter((n) => n.endsWith('.mkv'));
  const recorded = analyse(path.join(folder, name));
  await eventually(async () => (await relay.status()).state === 'ended', 8000);
  await viewer;
  await viewer;
  const got = analyse(file);
  expect(got.stampsRise).toBe(true);
  // The last picture that was recorded is the last one that is seen, by its size in bytes.
  expect(lastPictures(file)).toEqual(lastPictures(path.join(folder, name)));
  expect(recorded.seconds).toBeGreaterThan(3);
});

/** Sizes of the last five pictures of a file, bytes. */
function lastPictures(file: string): string[] {
  const { stdout } = spawnSync(
    'ffprobe',
    ['-v', 'error', '-select_streams', 'v', '-show_entries', 'packet=size', '-of', 'csv=p=0', file],
    { encoding: 'utf8' },
  );
  return stdout.trim().split('\n').slice(-5);
}

test('two with one key: the second is told what is wrong, the first goes on', async () => {
  const desk = await openDesk({
    destinations: [{ id: 'a', name: 'First', frame: 'wide', url: nginx.url, key: 'one-key' }],
  });
  const playing = desk.play(sample, { toUs: 6e6 });
  await eventually(async () => (await relay.status()).destinations[0].framesSent > 10);
  await relay.order('POST', '/destination', {
    ...{ id: 'b', name: 'Second', frame: 'wide', url: nginx.url, key: 'one-key' },
  });
  await eventually(async () => (await relay.status()).destinations[1]?.state === 'refused');
  const [first, second] = (await relay.status()).destinations;
  expect(second.message).toContain('two destinations have the same key');
  expect(first).toMatchObject({ state: 'live', framesDropped: 0 });
  desk.socket.close();
  await playing;
});

test('filler makes the rate constant for the destination that wants it, and decodes', async () => {
  // Pictures of far less than the 400 kbps that are announced.
  const still = await makeSampleStream(12, { kbps: 120 });
  const desk = await openDesk(
    {
      destinations: [
        { id: 'p', name: 'Padded', frame: 'wide', url: nginx.url, key: 'padded', padded: true },
        { id: 'n', name: 'Plain', frame: 'wide', url: nginx.url, key: 'plain' },
      ],
    },
    still,
  );
  const playing = desk.play(still);
  await eventually(async () => (await relay.status()).destinations.every((d) => d.framesSent > 5));
  const files = ['padded', 'plain'].map((name) => path.join(folder, `${name}.flv`));
  await Promise.all([pull(`${nginx.url}/padded`, files[0], 6), pull(`${nginx.url}/plain`, files[1], 6)]);
  desk.socket.close();
  await playing;
  expect(decodesCleanly(files[0])).toEqual({ clean: true, complaints: '' });
  const [padded, plain] = files.map((file) => (statSync(file).size * 8) / 1000 / analyse(file).seconds);
  // 400 of pictures and about 96 of sound.
  expect(padded).toBeGreaterThan(450);
  expect(padded).toBeLessThan(570);
  expect(plain).toBeLessThan(350);
});

test('a line that becomes slow is found within two seconds, followed down, and the encoder is told', async () => {
  const heavy = await makeSampleStream(14, { kbps: 4000, size: '640x360' });
  for (const config of heavy.configs)
    if (config.track === 'video') config.facts = { ...config.facts, width: 640, height: 360, kbps: 4000 };
  const shaper = new LineShaper(nginx.port);
  const port = await shaper.listen(0, '127.0.0.1');
  const desk = await openDesk(
    {
      destinations: [
        { id: 's', name: 'Slow', frame: 'wide', url: `rtmp://127.0.0.1:${port}/live`, key: 'slow' },
      ],
    },
    heavy,
  );
  const playing = desk.play(heavy);
  await eventually(async () => (await relay.status()).destinations[0].framesSent > 90);
  expect((await relay.status()).line).toEqual({ cause: 'none', shares: { wide: 1 } });
  const from = Date.now();
  shaper.setLine({ kbps: 1000 });
  await eventually(async () => (await relay.status()).line.cause === 'line', 10_000);
  expect(Date.now() - from).toBeLessThan(4000);
  await desk.until((d) => d.said.some((m) => m.type === 'rates' && (m.shares.wide ?? 1) < 0.6));
  desk.socket.close();
  await playing;
  shaper.close();
});

test('a line test finds what a line carries, on two servers we did not write, without publishing', async () => {
  const port = await freePort();
  const ingest = await startIngest({
    rtmpPort: port,
    httpPort: await freePort(),
    folder,
    allowed: () => true,
  });
  try {
    for (const target of [nginx.port, port]) {
      const shaper = new LineShaper(target);
      const shaped = await shaper.listen(0, '127.0.0.1');
      shaper.setLine({ kbps: 4000, delayMs: 20 });
      const { status, body } = await relay.order<{
        message?: string;
        result: { kbps: number; sustainedKbps: number; idleRoundTripMs: number; verdict: string };
      }>('POST', '/line-test', { url: `rtmp://127.0.0.1:${shaped}/live`, seconds: 5 });
      shaper.close();
      expect(status, body.message).toBe(200);
      expect(body.result.kbps).toBeGreaterThan(3000);
      expect(body.result.kbps).toBeLessThan(5000);
      expect(body.result.idleRoundTripMs).toBeGreaterThan(18);
    }
    const nobody = await relay.order<{ message: string }>('POST', '/line-test', {
      url: `rtmp://127.0.0.1:${await freePort()}/live`,
      seconds: 2,
    });
    expect(nobody.status).toBe(409);
    expect(nobody.body.message).toContain('cannot be reached');
  } finally {
    await ingest.stop();
  }
});
