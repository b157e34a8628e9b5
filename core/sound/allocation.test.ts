import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from 'vitest';
import { newProcessor, PROCESSOR_TYPES } from './chain/chain-settings';
import { RnnoiseModule } from './chain/rnnoise';
import { EffectPlayer } from './effect-player';
import { BLOCK_FRAMES } from './format';
import { Mixer } from './mixer';
import { PLAIN_STRIP } from './strip';

/** Warm enough for the compiler to have settled, and enough to be measured. */
const WARM_BLOCKS = 12_000;
const BLOCKS = 12_000;

test('processing makes no objects: every processor, ducking, tracks, monitor, compare, effects', () => {
  const module = new RnnoiseModule(
    readFileSync(path.resolve('node_modules/@jitsi/rnnoise-wasm/dist/rnnoise.wasm')),
  );
  const mixer = new Mixer(3, { denoiser: () => module.open() });
  const processors = PROCESSOR_TYPES.map((type) => newProcessor(type, type));
  mixer.setStrip(0, {
    ...PLAIN_STRIP,
    role: 'voice',
    chain: { bypassed: false, processors },
    monitor: 'with',
  });
  mixer.setStrip(1, {
    ...PLAIN_STRIP,
    tracks: [1, 2, 6],
    ducking: { depthDb: 9, thresholdDb: -40, attackMs: 40, holdMs: 100, releaseMs: 300, key: 0 },
  });
  mixer.setStrip(2, { ...PLAIN_STRIP, pan: 0.3, offsetMs: 20 });
  mixer.setCompare(0);
  const effects = new EffectPlayer();
  effects.load('a', new Float32Array(48_000).fill(0.1), new Float32Array(48_000).fill(0.1));
  const left = new Float32Array(BLOCK_FRAMES);
  const right = new Float32Array(BLOCK_FRAMES);
  let frame = 0;
  const run = (blocks: number) => {
    for (let b = 0; b < blocks; b++) {
      for (let i = 0; i < BLOCK_FRAMES; i++) left[i] = 0.4 * Math.sin(frame++ / 30) * ((frame >> 14) & 1);
      mixer.take(0, left, left, BLOCK_FRAMES);
      right.set(left);
      mixer.take(1, left, right, BLOCK_FRAMES);
      if (b % 400 === 0) effects.play('a', 0.5, false);
      effects.render(left, right, BLOCK_FRAMES);
      mixer.take(2, left, right, BLOCK_FRAMES);
      mixer.finish(BLOCK_FRAMES);
    }
  };
  run(WARM_BLOCKS);
  // A collection in between would make the heap smaller: the least growth of several runs counts.
  let least = Infinity;
  for (let round = 0; round < 4; round++) {
    const before = process.memoryUsage().heapUsed;
    run(BLOCKS / 4);
    const grown = process.memoryUsage().heapUsed - before;
    if (grown >= 0) least = Math.min(least, grown);
  }
  // No objects, arrays or closures are made. V8 keeps some of the numbers that steps hand on in boxes of 16 bytes: that is
  // what is left, under half a kilobyte a block for three channels. One view of an array per block would be 300 kB more.
  expect(least).toBeLessThan((BLOCKS / 4) * 500);
});
