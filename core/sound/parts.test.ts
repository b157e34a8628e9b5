/** The small parts of the sound path: delay, effects, ducking set-up, balance, downmix, WAV. */
import { describe, expect, test } from 'vitest';
import { PLAIN_CHANNEL, type ChannelRecord } from '../show/records';
import { amplitudeOfDb } from './decibel';
import { DelayLine } from './delay-line';
import { stereoOf } from './downmix';
import { EffectPlayer } from './effect-player';
import { keepAbove } from './keep-above';
import { LoudnessMeter } from './loudness-meter';
import { balanceVerdict, VoiceBalance } from './voice-balance';
import { waveFile } from './wave-file';

const RATE = 48_000;

describe('loudness range, EBU Tech 3342', () => {
  test.each([
    ['1', [-20, -30], 10],
    ['2', [-20, -15], 5],
    ['3', [-40, -20], 20],
    ['4', [-50, -35, -20, -35, -50], 15],
  ])('case %s', (_case, levels, expected) => {
    const meter = new LoudnessMeter(2);
    const block = new Float32Array(480);
    let frame = 0;
    for (const level of levels)
      for (let hop = 0; hop < 2000; hop++) {
        for (let i = 0; i < 480; i++)
          block[i] = amplitudeOfDb(level) * Math.sin((2 * Math.PI * 1000 * frame++) / RATE);
        meter.process([block, block], 480);
      }
    expect(Math.abs(meter.range() - expected)).toBeLessThan(1);
  });

  test('one channel heard on both sides counts as two, and a gain as its decibels', () => {
    const tone = new Float32Array(RATE).map((_, i) => 0.1 * Math.sin((2 * Math.PI * 1000 * i) / RATE));
    const both = new LoudnessMeter(2);
    both.process([tone, tone], tone.length);
    const one = new LoudnessMeter(1, 2);
    one.process([tone], tone.length, amplitudeOfDb(-6));
    expect(both.momentary - one.momentary).toBeCloseTo(6, 6);
  });
});

test('a delay line gives back what it got, and moves without a jump', () => {
  const line = new DelayLine(5000);
  line.setDelay(1000, true);
  const wave = new Float32Array(20_000).map((_, i) => Math.sin(i / 40));
  const out = wave.slice();
  for (let at = 0; at < 10_000; at += 125)
    line.process(out.subarray(at, at + 125), out.subarray(at, at + 125), 125);
  expect(out[5000]).toBe(wave[4000]);
  line.setDelay(1777);
  for (let at = 10_000; at < 20_000; at += 125)
    line.process(out.subarray(at, at + 125), out.subarray(at, at + 125), 125);
  expect(out[19_000]).toBe(wave[19_000 - 1777]);
  for (let i = 10_000; i < 20_000; i++) expect(Math.abs(out[i] - out[i - 1])).toBeLessThan(0.04);
});

describe('effects', () => {
  const clip = new Float32Array(1000).fill(0.25);
  const render = (player: EffectPlayer, blocks = 1) => {
    const left = new Float32Array(128);
    const right = new Float32Array(128);
    for (let i = 0; i < blocks; i++) player.render(left, right, 128);
    return left[127];
  };
  const loaded = () => {
    const player = new EffectPlayer();
    player.load('a', clip, clip);
    return player;
  };

  test('overlap or begin anew, end by themselves, fade when stopped', () => {
    const player = loaded();
    expect(player.play('unknown', 1, false)).toBe(false);
    player.play('a', 1, false);
    player.play('a', 0.5, false);
    expect(render(player)).toBeCloseTo(0.375);
    player.play('a', 1, true);
    expect(render(player, 3)).toBeCloseTo(0.25);
    player.stop(null, 256);
    expect(render(player)).toBeLessThan(0.25);
    expect(render(player, 2)).toBe(0);
    player.play('a', 1, false);
    expect(render(player, 9)).toBe(0);
  });

  test('one that waits begins in the middle of a block, to the sample; stopped before, it never does', () => {
    const player = loaded();
    const left = new Float32Array(128);
    const right = new Float32Array(128);
    player.play('a', 1, false, 200);
    player.render(left, right, 128);
    expect(left.every((v) => v === 0)).toBe(true);
    player.render(left, right, 128);
    expect(left.findIndex((v) => v !== 0)).toBe(72);
    player.stop(null, 64);
    player.render(left, right, 128);
    player.play('a', 1, false, 200);
    player.stop('a', 64);
    for (let i = 0; i < 4; i++) player.render(left, right, 128);
    expect(left.every((v) => v === 0)).toBe(true);
  });

  test('of too many at once the oldest gives way; an unloaded one is silent', () => {
    const player = loaded();
    for (let i = 0; i < 40; i++) player.play('a', 1, false);
    expect(render(player)).toBeCloseTo(16 * 0.25);
    player.unload('a');
    expect(render(player)).toBe(0);
  });
});

describe('a voice above the rest', () => {
  const channel = (id: string, part: Partial<ChannelRecord> = {}): ChannelRecord => ({
    kind: 'channel',
    id,
    showId: 's',
    name: id,
    position: 0,
    source: { type: 'effects' },
    ...PLAIN_CHANNEL,
    gainDb: 0,
    ...part,
  });
  const voice = channel('v', { role: 'voice' });
  const all = [
    voice,
    channel('game'),
    channel('friend', { role: 'voice' }),
    channel('aside', { tracks: [3] }),
  ];

  test('only background that viewers hear goes down, by what is missing and one more', () => {
    const { changed, depthDb } = keepAbove(voice, all, 12, { voiceLufs: -16, restLufs: -22, duckDb: 0 });
    expect(depthDb).toBe(7);
    expect(changed.map((c) => [c.id, c.ducking?.byChannelId, c.ducking?.depthDb])).toEqual([
      ['game', 'v', 7],
    ]);
  });

  test('what is ducked already is counted; without a measurement a usual depth is taken', () => {
    expect(keepAbove(voice, all, 12, { voiceLufs: -16, restLufs: -28, duckDb: -6 }).depthDb).toBe(7);
    expect(keepAbove(voice, all, 12, { voiceLufs: -Infinity, restLufs: -20, duckDb: 0 }).depthDb).toBe(9);
    expect(keepAbove(voice, all, 12, { voiceLufs: NaN, restLufs: NaN, duckDb: 0 }).depthDb).toBe(9);
  });

  test('pauses do not count, and verdicts are plain', () => {
    const balance = new VoiceBalance();
    for (let i = 0; i < 400; i++) balance.take(i % 100 < 60 ? 0.01 : 1e-9, 0.001);
    expect(balance.ratioLu()).toBeGreaterThan(9);
    expect(balance.ratioLu()).toBeLessThan(10.1);
    expect(balanceVerdict(2).fine).toBe(false);
    expect(balanceVerdict(-3).text).toContain('below');
    expect(balanceVerdict(15).text).toBe('voice 15 dB above the rest: clear');
    expect(balanceVerdict(60).text).toBe('voice alone');
  });
});

test('six channels are mixed down by BS.775, one serves both sides', () => {
  const plane = (v: number) => new Float32Array(4).fill(v);
  const [left, right] = stereoOf([plane(0.1), plane(0.2), plane(0.4), plane(0.9), plane(0.01), plane(0.02)]);
  expect(left[0]).toBeCloseTo(0.1 + Math.SQRT1_2 * 0.41, 6);
  expect(right[0]).toBeCloseTo(0.2 + Math.SQRT1_2 * 0.42, 6);
  const one = plane(0.3);
  expect(stereoOf([one])).toEqual([one, one]);
});

test('a WAV file says what it holds', () => {
  const bytes = waveFile([new Float32Array([0.5, -0.5]), new Float32Array([0, 1])], RATE);
  const view = new DataView(bytes.buffer);
  expect(bytes.length).toBe(44 + 16);
  expect([view.getUint16(20, true), view.getUint16(22, true), view.getUint32(24, true)]).toEqual([
    3,
    2,
    RATE,
  ]);
  expect([44, 48, 52, 56].map((at) => view.getFloat32(at, true))).toEqual([0.5, 0, -0.5, 1]);
});
