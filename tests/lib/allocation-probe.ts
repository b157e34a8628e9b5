/** Runs in a thread of its own: how many bytes the mixer's processing allocates a block, posted when it is known. */
import { readFileSync } from 'node:fs';
import { Session } from 'node:inspector';
import path from 'node:path';
import { parentPort } from 'node:worker_threads';
import { newProcessor, PROCESSOR_TYPES } from '../../core/sound/chain/chain-settings';
import { RnnoiseModule } from '../../core/sound/chain/rnnoise';
import { EffectPlayer } from '../../core/sound/effect-player';
import { BLOCK_FRAMES } from '../../core/sound/format';
import { Mixer } from '../../core/sound/mixer';
import { PLAIN_STRIP } from '../../core/sound/strip';

/** Warm enough for the compiler to have settled, and enough to be measured. */
const WARM_BLOCKS = 12_000;
const BLOCKS = 12_000;

function measure(): number {
  const module = new RnnoiseModule(
    readFileSync(path.resolve('node_modules/@shiguredo/rnnoise-wasm/dist/rnnoise_simd.wasm')),
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
  return sampledBytes(() => run(BLOCKS)) / BLOCKS;
}

interface ProfileNode {
  selfSize: number;
  children: ProfileNode[];
}

/** Bytes allocated while something runs, by V8's sampling profiler, what was collected meanwhile included. */
function sampledBytes(work: () => void): number {
  const session = new Session();
  session.connect();
  let bytes = 0;
  const size = (node: ProfileNode): number =>
    node.children.reduce((sum, child) => sum + size(child), node.selfSize);
  const options = {
    samplingInterval: 1024,
    includeObjectsCollectedByMajorGC: true,
    includeObjectsCollectedByMinorGC: true,
  };
  session.post('HeapProfiler.startSampling', options, () => {
    work();
    session.post('HeapProfiler.stopSampling', (_error, answer) => {
      bytes = size(answer.profile.head as ProfileNode);
    });
  });
  session.disconnect();
  return bytes;
}

parentPort!.postMessage(measure());
