/** A disk that becomes full under a running recording: a small file system of its own in memory (needs root). */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { describe, expect, test } from 'vitest';
import { analyse } from '../../scripts/lib/analyse.mjs';
import { NginxRtmp } from '../lib/nginx-rtmp';
import { eventually, FakeDesk, RelayProcess } from '../lib/relay-process';
import { makeSampleStream } from '../lib/sample-stream';

function smallDisk(folder: string): boolean {
  return spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=320k', 'tmpfs', folder]).status === 0;
}

function mayMount(): boolean {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-mount-'));
  const may = smallDisk(folder);
  if (may) spawnSync('umount', [folder]);
  rmSync(folder, { recursive: true, force: true });
  return may;
}

describe.skipIf(!mayMount())('a full disk', () => {
  test('costs the end of the recording, is said, and costs viewers nothing; what was written can be read', async () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-full-'));
    const sample = await makeSampleStream(12, { kbps: 600 });
    const nginx = await NginxRtmp.start();
    const relay = await RelayProcess.start();
    smallDisk(folder);
    try {
      const desk = new FakeDesk(
        relay,
        await relay.begin({
          recordingFolder: folder,
          destinations: [{ id: 'a', name: 'Larch', frame: 'wide', url: nginx.url, key: 'full' }],
        }),
      );
      await desk.welcome();
      for (const config of sample.configs) desk.send(config);
      const playing = desk.play(sample);
      await eventually(async () => (await relay.status()).recording?.message !== '', 15_000);
      const { recording, destinations, state } = await relay.status();
      expect(recording!.message).toMatch(/disk is full/i);
      expect(state).toBe('live');
      const { framesSent } = destinations[0];
      await eventually(async () => (await relay.status()).destinations[0].framesSent > framesSent + 30);
      expect((await relay.status()).destinations[0]).toMatchObject({ state: 'live', framesDropped: 0 });
      desk.socket.close();
      await playing;
      await relay.order('POST', '/end', {});
      const [file] = readdirSync(folder);
      const { seconds, stampsRise } = analyse(path.join(folder, file));
      expect(seconds).toBeGreaterThan(1);
      expect(stampsRise).toBe(true);
    } finally {
      await relay.stop();
      await nginx.stop();
      spawnSync('umount', [folder]);
      rmSync(folder, { recursive: true, force: true });
    }
  });
});
