import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { build } from 'esbuild';
import { expect, test } from 'vitest';

const PROBE = path.resolve(import.meta.dirname, '../../tests/lib/allocation-probe.ts');
/** Threads that are tried: each has a V8 of its own. */
const TRIES = 5;
/**
 * No objects, arrays or closures are made. V8 keeps some of the numbers that steps hand on in boxes of 16 bytes: about half
 * a kilobyte a block here. A number boxed for every sample of one channel would be two kilobytes more.
 */
const MOST_BYTES = 1200;

test('processing makes no objects: every processor, ducking, tracks, monitor, compare, effects', async () => {
  const { outputFiles } = await build({
    ...{
      entryPoints: [PROBE],
      bundle: true,
      platform: 'node',
      format: 'cjs',
      write: false,
      logLevel: 'error',
    },
  });
  // One V8 in a few gives up compiling some function and boxes all its numbers for good, more often beside other work. Code
  // that really makes something makes it in every one.
  let least = Infinity;
  for (let n = 0; n < TRIES && least >= MOST_BYTES; n++) {
    const worker = new Worker(outputFiles[0].text, { eval: true });
    const bytes = await new Promise<number>((resolve, reject) => {
      worker.once('message', resolve);
      worker.once('error', reject);
    });
    await worker.terminate();
    least = Math.min(least, bytes);
  }
  expect(least).toBeGreaterThan(0);
  expect(least).toBeLessThan(MOST_BYTES);
  // Each thread renders more than a minute of sound twice, on a machine that others may use.
}, 300_000);
