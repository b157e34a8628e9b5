/** Pictures made anew on the server for one destination: judged by ffprobe at nginx, beside what the others get. */
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { DestinationOrder } from '../../protocol/relay-orders';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { NginxRtmp } from '../lib/nginx-rtmp';
import { pull } from '../lib/pull';
import { eventually, FakeDesk, RelayProcess } from '../lib/relay-process';
import { makeSampleStream, type SampleStream } from '../lib/sample-stream';

const REENCODE = { width: 160, height: 90, videoKbps: 120, careful: false };

let sample: SampleStream;
let nginx: NginxRtmp;
let folder: string;

beforeAll(async () => {
  sample = await makeSampleStream(24);
  nginx = await NginxRtmp.start();
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-reencode-'));
});
afterAll(async () => {
  await nginx.stop();
  rmSync(folder, { recursive: true, force: true });
});

const from = (key: string) => `${nginx.url}/${key}`;

async function broadcast(
  relay: RelayProcess,
  destinations: DestinationOrder[],
): Promise<{ desk: FakeDesk; playing: Promise<void> }> {
  const desk = new FakeDesk(relay, await relay.begin({ destinations }));
  await desk.welcome();
  for (const config of sample.configs) desk.send(config);
  return { desk, playing: desk.play(sample) };
}

const destination = (id: string, more: Partial<DestinationOrder> = {}): DestinationOrder => ({
  id,
  name: id,
  frame: 'wide',
  url: nginx.url,
  key: id,
  ...more,
});

/** Processes below this one whose program is ffmpeg. */
function encodersOf(pid: number): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number)
    .filter((p) => {
      try {
        const stat = readFileSync(`/proc/${p}/stat`, 'utf8');
        const parent = Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]);
        return parent === pid && stat.includes('(ffmpeg)');
      } catch {
        return false;
      }
    });
}

test('one destination gets smaller pictures with the same sound, stamps and keyframes; the others are as before', async () => {
  const relay = await RelayProcess.start();
  try {
    const { desk, playing } = await broadcast(relay, [
      destination('whole'),
      destination('less', { reencode: REENCODE }),
    ]);
    await eventually(async () => (await relay.status()).destinations.every((d) => d.framesSent > 10));
    const files = ['whole', 'less'].map((name) => path.join(folder, `${name}.flv`));
    await Promise.all([pull(from('whole'), files[0], 6), pull(from('less'), files[1], 6)]);
    const { destinations } = await relay.status();
    expect(destinations.map((d) => [d.name, d.state, d.message, d.framesDropped])).toEqual([
      ['whole', 'live', '', 0],
      ['less', 'live', '', 0],
    ]);
    const [whole, less] = files.map((file) => analyse(file));
    expect(whole.video).toMatchObject({ width: 320, height: 180 });
    expect(less.video).toMatchObject({ codec: 'h264', width: 160, height: 90 });
    expect(less.stampsRise).toBe(true);
    expect(less.keyframePictures).not.toHaveLength(0);
    expect(new Set(less.keyframePictures)).toEqual(new Set([60]));
    expect(less.audio).toEqual(whole.audio);
    // 120 of pictures, 96 of sound.
    expect(less.kbps).toBeLessThan(160);
    expect(less.kbps).toBeGreaterThan(60);
    for (const file of files) expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });

    // A killed encoder costs that destination a moment, the others nothing; it gets the desk's pictures meanwhile.
    const [encoder] = encodersOf(relay.child.pid!);
    process.kill(encoder, 'SIGKILL');
    await eventually(async () =>
      (await relay.status()).destinations[1].message.includes('gets the encode of the desk'),
    );
    const before = (await relay.status()).destinations[0].framesDropped;
    await eventually(async () => encodersOf(relay.child.pid!).length === 1, 12_000);
    await eventually(async () => (await relay.status()).destinations[1].message === '');
    expect((await relay.status()).destinations[0].framesDropped).toBe(before);
    desk.socket.close();
    await playing;
    // The encoder ends with its broadcast.
    await relay.order('POST', '/end', {});
    await eventually(() => encodersOf(relay.child.pid!).length === 0);
  } finally {
    await relay.stop();
  }
}, 60_000);

test('without the program the destination gets what the desk makes, and it is said', async () => {
  const relay = await RelayProcess.start({ PATH: '/nowhere' });
  try {
    const { desk, playing } = await broadcast(relay, [destination('alone', { reencode: REENCODE })]);
    await eventually(async () => (await relay.status()).destinations[0].framesSent > 60);
    const [{ state, message }] = (await relay.status()).destinations;
    expect(state).toBe('live');
    expect(message).toContain('ffmpeg is not installed');
    const file = path.join(folder, 'alone.flv');
    await pull(from('alone'), file, 3);
    expect(analyse(file).video).toMatchObject({ width: 320, height: 180 });
    desk.socket.close();
    await playing;
  } finally {
    await relay.stop();
  }
}, 60_000);
