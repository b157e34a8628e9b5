/** Cost of one further destination: our relay against one `ffmpeg -c copy` each, same stream, same server, same run. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { usage } from '../lib/process-usage.mjs';
import { NginxRtmp } from '../../tests/lib/nginx-rtmp';
import { FakeDesk, RelayProcess } from '../../tests/lib/relay-process';
import { makeSampleStream } from '../../tests/lib/sample-stream';

const SECONDS = 20;
const MANY = 21;
/** As many as the relay is meant to carry here. */
const MOST = 50;
const wait = (seconds: number) => new Promise((resolve) => setTimeout(resolve, seconds * 1000));

/** Memory that belongs to a process alone, its share of shared pages included (proc(5), smaps_rollup). */
function pssMb(pid: number): number {
  return Number(/^Pss:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8'))?.[1] ?? 0) / 1024;
}

async function relayCost(
  sample: Awaited<ReturnType<typeof makeSampleStream>>,
  nginx: NginxRtmp,
  count: number,
) {
  const relay = await RelayProcess.start();
  try {
    const order = await relay.begin({
      destinations: Array.from({ length: count }, (_, i) => ({
        id: `d${i}`,
        name: `d${i}`,
        frame: 'wide' as const,
        url: nginx.url,
        key: `relay-${count}-${i}`,
      })),
    });
    const desk = new FakeDesk(relay, order);
    await desk.welcome();
    for (const config of sample.configs) desk.send(config);
    const playing = desk.play(sample);
    await wait(5);
    const before = usage(relay.child.pid!).cpuSeconds;
    await wait(SECONDS - 8);
    const cpu = usage(relay.child.pid!).cpuSeconds - before;
    const memory = pssMb(relay.child.pid!);
    const status = await relay.status();
    if (status.destinations.some((d) => d.state !== 'live' || d.framesDropped > 0))
      throw new Error('not every destination was live');
    desk.socket.close();
    await playing;
    return { cpuPerSecond: cpu / (SECONDS - 8), memory };
  } finally {
    await relay.stop();
  }
}

async function ffmpegCost(nginx: NginxRtmp, source: string, count: number) {
  const children: ChildProcess[] = Array.from({ length: count }, (_, i) =>
    spawn(
      'ffmpeg',
      ['-v', 'error', '-re', '-i', source, '-c', 'copy', '-f', 'flv', `${nginx.url}/ff-${count}-${i}`],
      { stdio: 'ignore' },
    ),
  );
  try {
    await wait(5);
    const cpuOf = () => children.reduce((sum, c) => sum + usage(c.pid!).cpuSeconds, 0);
    const before = cpuOf();
    await wait(SECONDS - 10);
    return {
      cpuPerSecond: (cpuOf() - before) / (SECONDS - 10),
      memory: children.reduce((sum, c) => sum + pssMb(c.pid!), 0),
    };
  } finally {
    for (const child of children) child.kill('SIGKILL');
  }
}

export async function relayLoad(say: (line: object) => void): Promise<void> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const nginx = await NginxRtmp.start();
  try {
    const file = path.join(folder, 'source.mp4');
    const sample = await makeSampleStream(SECONDS, { file, kbps: 3000, size: '640x360' });
    const one = await relayCost(sample, nginx, 1);
    const many = await relayCost(sample, nginx, MANY);
    const most = await relayCost(sample, nginx, MOST);
    say({
      name: `relay: processor with ${MOST} destinations, none of which lost a picture`,
      value: most.cpuPerSecond,
      unit: 's/s',
      reference: one.cpuPerSecond,
      ratio: most.cpuPerSecond / one.cpuPerSecond,
      against: 'one destination',
    });
    const f1 = await ffmpegCost(nginx, file, 1);
    const f6 = await ffmpegCost(nginx, file, 6);
    const further = {
      cpu: (many.cpuPerSecond - one.cpuPerSecond) / (MANY - 1),
      memory: (many.memory - one.memory) / (MANY - 1),
    };
    const reference = { cpu: (f6.cpuPerSecond - f1.cpuPerSecond) / 5, memory: (f6.memory - f1.memory) / 5 };
    say({
      name: 'relay: processor per further destination',
      value: further.cpu,
      unit: 's/s',
      reference: reference.cpu,
      ratio: further.cpu / reference.cpu,
      goal: '<= 0.25',
      against: 'one ffmpeg -c copy',
    });
    say({
      name: 'relay: memory per further destination',
      value: further.memory,
      unit: 'MB',
      reference: reference.memory,
      ratio: further.memory / reference.memory,
      goal: '<= 0.01',
      against: 'one ffmpeg -c copy',
    });
  } finally {
    await nginx.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
