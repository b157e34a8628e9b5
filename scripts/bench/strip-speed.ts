/** Speed of a voice chain and of the loudness meter beside ffmpeg's, on the same file in one run; load of twelve channels. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { newProcessor, voiceChain, type Processor } from '../../core/sound/chain/chain-settings';
import { RnnoiseModule } from '../../core/sound/chain/rnnoise';
import { VoiceChain } from '../../core/sound/chain/voice-chain';
import { LoudnessMeter } from '../../core/sound/loudness-meter';
import { Mixer } from '../../core/sound/mixer';
import { PLAIN_STRIP } from '../../core/sound/strip';
import { TruePeakDetector } from '../../core/sound/true-peak';
import { waveFile } from '../../core/sound/wave-file';
import { VoiceSound } from '../../standins/inputs/sounds/generators';

const SECONDS = 300;
const ROUNDS = 5;
const BLOCK = 128;
const RATE = 48_000;
/** A block lasts this long. */
const BLOCK_MS = (BLOCK * 1000) / RATE;

function voice(): Float32Array {
  const out = new Float32Array(SECONDS * RATE);
  const generator = new VoiceSound();
  const left = new Float32Array(BLOCK);
  const right = new Float32Array(BLOCK);
  for (let at = 0; at < out.length; at += BLOCK) {
    generator.render(at, left, right, BLOCK);
    out.set(left, at);
  }
  return out;
}

/** Seconds of sound per second of processor. */
function speedOf(work: () => void): number {
  const start = process.cpuUsage();
  work();
  const { user, system } = process.cpuUsage(start);
  return SECONDS / ((user + system) / 1e6);
}

function ffmpegSpeed(file: string, filter: string): number {
  const { stderr } = spawnSync(
    'ffmpeg',
    ['-hide_banner', '-benchmark', '-threads', '1', '-i', file, '-af', filter, '-f', 'null', '-'],
    { encoding: 'utf8', maxBuffer: 1 << 26 },
  );
  const found = /utime=([\d.]+)s stime=([\d.]+)s/.exec(stderr);
  if (!found) throw new Error(`ffmpeg said nothing about its time: ${stderr.slice(-300)}`);
  return SECONDS / (Number(found[1]) + Number(found[2]));
}

const CHAIN: Processor[] = (['gate', 'compressor', 'equaliser', 'limiter'] as const).map((type) => {
  const processor = newProcessor(type, type);
  if (processor.type === 'equaliser') for (const band of processor.bands) band.gainDb = band.gainDb || 1.5;
  return processor;
});

export function stripSpeed(say: (line: object) => void): void {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-bench-'));
  const file = path.join(folder, 'voice.wav');
  const samples = voice();
  writeFileSync(file, waveFile([samples], RATE));
  const block = new Float32Array(BLOCK);
  const each = (work: (block: Float32Array) => void) => () => {
    for (let at = 0; at < samples.length; at += BLOCK) {
      block.set(samples.subarray(at, at + BLOCK));
      work(block);
    }
  };
  const chain = () => {
    const voiceChain = new VoiceChain({ denoiser: null, stagger: 0 });
    voiceChain.set({ bypassed: false, processors: CHAIN });
    return (b: Float32Array) => voiceChain.process(b, null, BLOCK);
  };
  const meter = (full: boolean) => {
    const loudness = new LoudnessMeter(1, 2);
    const peak = new TruePeakDetector();
    const peaks = new Float32Array(BLOCK);
    const one = [block];
    let known = 0;
    return (b: Float32Array) => {
      loudness.process(one, BLOCK);
      if (full) peak.scan(b, BLOCK, peaks, 0);
      else known = peak.maxOver(b, BLOCK, known);
    };
  };
  const whole = (full: boolean) => {
    const first = chain();
    const second = meter(full);
    return (b: Float32Array) => {
      first(b);
      second(b);
    };
  };
  const dynamics =
    'agate=threshold=0.008:release=250,acompressor=threshold=0.12:ratio=4:attack=1:release=60:makeup=2,highpass=f=80,bass=g=1.5:f=120,equalizer=f=1000:t=q:w=0.7:g=-2.5,equalizer=f=3000:t=q:w=1:g=1.5,treble=g=1.5:f=9000,alimiter=limit=0.89:level=disabled';
  const cases = [
    ['voice chain: gate, compressor, five bands, limiter', () => each(chain()), dynamics],
    ['loudness', () => each(meter(false)), 'ebur128=framelog=verbose'],
    ['loudness with full true peak', () => each(meter(true)), 'ebur128=peak=true:framelog=verbose'],
    [
      'whole strip, full true peak',
      () => each(whole(true)),
      `${dynamics},ebur128=peak=true:framelog=verbose`,
    ],
    [
      'whole strip, maximum true peak',
      () => each(whole(false)),
      `${dynamics},ebur128=peak=true:framelog=verbose`,
    ],
  ] as const;
  for (const [name, make, filter] of cases) {
    let ours = 0;
    let theirs = 0;
    // Interleaved, the best of each: both see the same load of the machine.
    for (let round = 0; round < ROUNDS; round++) {
      ours = Math.max(ours, speedOf(make()));
      theirs = Math.max(theirs, ffmpegSpeed(file, filter));
    }
    say({
      name,
      value: ours,
      unit: 'times real time',
      reference: theirs,
      ratio: ours / theirs,
      against: `ffmpeg ${filter
        .split(',')
        .map((f) => f.split('=')[0])
        .join(' + ')}`,
    });
  }
  rmSync(folder, { recursive: true, force: true });
  twelveChannels(samples, say);
}

/** Twelve channels with full chains, noise reduction on four: median and worst share of a block's time. */
function twelveChannels(samples: Float32Array, say: (line: object) => void): void {
  const module = new RnnoiseModule(
    readFileSync(path.resolve('node_modules/@shiguredo/rnnoise-wasm/dist/rnnoise_simd.wasm')),
  );
  const mixer = new Mixer(12, { denoiser: () => module.open() });
  for (let i = 0; i < 12; i++) {
    const chain = voiceChain(() => crypto.randomUUID());
    if (i >= 4) chain.processors = chain.processors.filter((p) => p.type !== 'noise');
    mixer.setStrip(i, {
      ...PLAIN_STRIP,
      gainDb: -12,
      tracks: [1, 1 + (i % 6)],
      role: i < 4 ? 'voice' : 'background',
      chain,
      ducking:
        i < 4 ? null : { depthDb: 9, thresholdDb: -32, attackMs: 40, holdMs: 400, releaseMs: 500, key: 0 },
    });
  }
  const block = new Float32Array(BLOCK);
  const times: number[] = [];
  for (let at = 0; at + BLOCK <= 60 * RATE; at += BLOCK) {
    block.set(samples.subarray(at, at + BLOCK));
    const start = performance.now();
    for (let i = 0; i < 12; i++) mixer.take(i, block, block, BLOCK);
    mixer.finish(BLOCK);
    // The first second compiles.
    if (at > RATE) times.push(performance.now() - start);
  }
  times.sort((a, b) => a - b);
  const share = (quantile: number) => (100 * times[Math.floor(times.length * quantile)]) / BLOCK_MS;
  say({
    name: 'twelve channels with full chains, four with noise reduction: share of a block, median',
    value: share(0.5),
    unit: '%',
    reference: 25,
    ratio: share(0.5) / 25,
    against: 'a quarter of the block',
    p95: share(0.95),
    p999: share(0.999),
  });
}
