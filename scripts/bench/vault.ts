/** Copies in another container beside `ffmpeg -c copy`, and keeping the last two minutes. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import type { RingPacket } from '../../core/delivery/group-ring';
import { keepClip } from '../../server/relay/keep-clip';
import type { FromRewrap, RewrapWork } from '../../server/vault/rewrap-orders';
import { makeSampleStream } from '../../tests/lib/sample-stream';

const KBPS = 3000;
const TRIES = 3;
/** The copying is the first part of the progress; the rest is the proof. */
const COPIED = 0.6;

function run(args: string): void {
  const { status, stderr } = spawnSync('ffmpeg', args.split(' '));
  if (status !== 0) throw new Error(String(stderr));
}

/** Ten minutes at 3 Mb/s, Matroska. */
function source(file: string, seconds: number): void {
  run(
    `-v error -y -f lavfi -i testsrc2=size=640x360:rate=30 -f lavfi -i sine=frequency=440:sample_rate=48000 -t ${seconds} -c:v libx264 -preset ultrafast -bf 0 -g 60 -b:v ${KBPS}k -minrate ${KBPS}k -maxrate ${KBPS}k -bufsize ${KBPS}k -x264-params nal-hrd=cbr -c:a aac -b:a 128k ${file}`,
  );
}

interface Rewrapped {
  copiedMs: number;
  provenMs: number;
  peakMb: number;
}

function rewrap(work: RewrapWork, script: string): Promise<Rewrapped> {
  return new Promise((resolve, reject) => {
    const started = performance.now();
    let copiedMs = 0;
    let peakMb = 0;
    const timer = setInterval(() => (peakMb = Math.max(peakMb, process.memoryUsage().rss / 1e6)), 20);
    const worker = new Worker(script, { workerData: work });
    worker.on('message', (message: FromRewrap) => {
      if (message.type === 'progress' && message.share >= COPIED - 0.02 && copiedMs === 0)
        copiedMs = performance.now() - started;
      if (message.type === 'failed') reject(new Error(message.message));
      if (message.type !== 'done') return;
      clearInterval(timer);
      resolve({ copiedMs, provenMs: performance.now() - started, peakMb });
    });
    worker.on('error', reject);
  });
}

export async function vaultSpeed(say: (line: object) => void): Promise<void> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const script = path.resolve('build/server/rewrap.mjs');
  try {
    const from = path.join(folder, 'source.mkv');
    source(from, 600);
    const own: Rewrapped[] = [];
    const reference: number[] = [];
    for (let n = 0; n < TRIES; n++) {
      const work = {
        from,
        file: path.join(folder, `own${n}.mp4.part`),
        to: 'mp4' as const,
        fromSeconds: null,
        toSeconds: null,
      };
      own.push(await rewrap(work, script));
      const started = performance.now();
      run(`-v error -y -i ${from} -c copy -movflags +faststart ${path.join(folder, `ff${n}.mp4`)}`);
      reference.push(performance.now() - started);
    }
    const least = (values: number[]) => Math.min(...values);
    const ffmpeg = least(reference);
    say({
      name: 'vault: Matroska to MP4, 10 min at 3 Mb/s',
      value: least(own.map((o) => o.copiedMs)),
      unit: 'ms',
      reference: ffmpeg,
      ratio: least(own.map((o) => o.copiedMs)) / ffmpeg,
      goal: '<= 3',
      against: 'ffmpeg -c copy -movflags +faststart',
    });
    say({
      name: 'vault: the same with its proof',
      value: least(own.map((o) => o.provenMs)),
      unit: 'ms',
      reference: ffmpeg,
      ratio: least(own.map((o) => o.provenMs)) / ffmpeg,
    });
    say({
      name: 'vault: most memory while copying, the measuring process included',
      value: Math.max(...own.map((o) => o.peakMb)),
      unit: 'MB',
      reference: 300,
      ratio: Math.max(...own.map((o) => o.peakMb)) / 300,
      goal: '<= 1',
    });
    await lookback(say, folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

async function lookback(say: (line: object) => void, folder: string): Promise<void> {
  const sample = await makeSampleStream(10, { kbps: KBPS, size: '640x360' });
  const [video, audio] = sample.configs;
  if (video.track !== 'video' || audio.track !== 'audio') throw new Error('pictures first, then sound');
  function* twoMinutes(): Generator<RingPacket> {
    for (let turn = 0; turn < 12; turn++)
      for (const packet of sample.packets)
        if (packet.timestampUs < 10e6)
          yield { ...packet, timestampUs: packet.timestampUs + turn * 10e6, headers: 0 };
  }
  const started = performance.now();
  const { bytes } = await keepClip(
    { config: { video, audio, tracks: [] }, packets: twoMinutes() },
    { fromSecondsAgo: 120, toSecondsAgo: 0, frames: ['wide'], folder, name: 'clip' },
    'wide',
  );
  const ms = performance.now() - started;
  say({
    name: `vault: two minutes of look back kept (${(bytes / 1e6).toFixed(0)} MB)`,
    value: ms,
    unit: 'ms',
    reference: 1000,
    ratio: ms / 1000,
    goal: '<= 1',
  });
}
