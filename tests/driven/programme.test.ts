/** Whole programmes on driven time: both frames, six tracks, clips, sync, and what the relay makes of a desk that goes away. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Browser } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { PLAIN_PLAN } from '../../core/delivery/settings';
import { PLAIN_INPUT, type AnyRecord, type ChannelRecord, PLAIN_CHANNEL } from '../../core/show/records';
import { sampleInput, sampleLayer, sampleScene, sampleShow } from '../../core/show/sample-show';
import { analyse, beeps, decodesCleanly, syncOffsets } from '../../scripts/lib/analyse.mjs';
import { launchBrowser } from '../../scripts/lib/browser.mjs';
import { Driven, DrivenRelay, SMALL_PLAN } from '../lib/driven';
import { marksOf } from '../lib/moving-mark';
import { rewrap } from '../lib/rewrap';
import { ffmpeg, meanDb } from '../lib/sound-files';

const FPS = 15;

let browser: Browser;
let driven: Driven;
let folder: string;
beforeAll(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-programme-'));
  browser = await launchBrowser();
  driven = await Driven.open(browser);
});
afterAll(async () => {
  await driven?.close();
  await browser?.close();
  rmSync(folder, { recursive: true, force: true });
});

const channel = (
  id: string,
  sound: ChannelRecord['source'],
  more: Partial<ChannelRecord>,
): ChannelRecord => ({
  ...{ kind: 'channel', id, showId: 'show', name: id, position: 0, source: sound },
  ...PLAIN_CHANNEL,
  gainDb: 0,
  ...more,
});
const red: AnyRecord[] = [
  sampleScene('talk', { background: '#000000' }),
  sampleLayer('red', 'talk', 0, {
    content: { type: 'shape', shape: 'rectangle', colour: '#ff0000' },
    tall: {},
  }),
];

const ffprobe = (file: string, entries: string) =>
  String(spawnSync('ffprobe', ['-v', 'error', '-of', 'csv=p=0', '-show_entries', entries, file]).stdout);
const soundsIn = (file: string) => ffprobe(file, 'stream=codec_type').match(/audio/g)?.length;

/** What a file counts its pictures' time in, and how far they are apart. */
function stepsOf(file: string): [timeBase: string, steps: Set<number>] {
  const [base] = ffprobe(file, 'stream=time_base').split('\n');
  const entries = ['-select_streams', 'v', '-show_entries', 'packet=pts', '-of', 'csv=p=0', file];
  const pts = String(spawnSync('ffprobe', ['-v', 'error', ...entries]).stdout)
    .trim()
    .split('\n')
    .map(parseFloat);
  return [base, new Set(pts.slice(1).map((at, i) => at - pts[i]))];
}

test('six named tracks lie whole in one recording; sound and picture of the clapper come together', async () => {
  const names = ['Voices', 'Game', 'Music', 'Call', 'Effects'];
  const { files, report } = await driven.record({
    records: [
      sampleShow,
      sampleInput('clapper', { source: { type: 'simulated', picture: 'sync-clapper' } }),
      sampleScene('check', { background: '#000000' }),
      sampleLayer('board', 'check', 0, { content: { type: 'input', inputId: 'clapper', fit: 'fill' } }),
      channel('ch-clapper', { type: 'simulated', sound: 'sync-clapper' }, { tracks: [1, 3] }),
      channel('ch-music', { type: 'simulated', sound: 'night-music' }, { tracks: [2, 6] }),
    ],
    sceneId: 'check',
    plan: { ...SMALL_PLAN, tracks: names.map((name, i) => ({ track: i + 2, name })) },
    seconds: 9,
  });
  expect(report).toMatchObject({ skipped: 0, leftOut: 0, encoderBusy: 0, clockSlips: 0 });
  const probe = spawnSync(
    'ffprobe',
    '-v error -select_streams a -show_streams -count_packets -of json'.split(' ').concat(files.wide!),
  );
  const { streams } = JSON.parse(String(probe.stdout)) as {
    streams: { codec_name: string; tags?: { title?: string }; nb_read_packets: string }[];
  };
  expect(streams.map((s) => s.tags?.title)).toEqual(['Programme', ...names]);
  expect(streams.map((s) => s.codec_name)).toEqual(['aac', ...names.map(() => 'opus')]);
  const seconds = streams.map(({ codec_name, nb_read_packets }) =>
    codec_name === 'opus' ? Number(nb_read_packets) * 0.06 : (Number(nb_read_packets) * 1024) / 48_000,
  );
  expect(seconds[0]).toBeGreaterThan(8.5);
  for (const length of seconds) expect(Math.abs(seconds[0] - length)).toBeLessThan(0.15);
  expect(meanDb(files.wide!, { track: 1 })).toBeGreaterThan(-45);
  expect(meanDb(files.wide!, { track: 5 })).toBeGreaterThan(-45);
  expect(meanDb(files.wide!, { track: 3 })).toBeLessThan(-85);
  // A flash can be as late as one frame: the beep is on the sample, the picture on the grid.
  for (const track of [0, 2]) {
    const offsets = syncOffsets(files.wide!, track).map(({ ms }) => ms);
    expect(offsets.length).toBeGreaterThan(2);
    for (const ms of offsets) expect(Math.abs(ms + 500 / FPS)).toBeLessThan(500 / FPS + 5);
  }
  // The same sound lies at the same sample, whoever encoded it.
  const [programme, voices] = [0, 2].map((track) => beeps(files.wide!, track));
  expect(voices).toHaveLength(programme.length);
  for (const [i, at] of programme.entries()) expect(Math.abs(at - voices[i])).toBeLessThan(0.003);

  // The file says what it is, so that editors take it for even.
  expect(ffprobe(files.wide!, 'stream=r_frame_rate,avg_frame_rate').split('\n')[0]).toBe(`${FPS}/1,${FPS}/1`);

  // Editors want AAC: the copy has it on every track, and everything lies where it did.
  const copies = path.join(folder, 'editors');
  mkdirSync(copies);
  for (const [name, range, from, length] of [
    ['whole.mp4', {}, 0, analyse(files.wide!).seconds],
    ['part.mp4', { fromSeconds: 3, toSeconds: 7 }, 2, 5],
  ] as const) {
    const file = path.join(copies, name);
    expect(await rewrap({ from: files.wide!, file, to: 'mp4', ...range })).toMatchObject({ type: 'done' });
    const facts = ffprobe(file, 'stream=codec_name:stream_tags=handler_name');
    expect(facts.match(/h264|aac|opus/g)).toEqual(['h264', ...Array<string>(6).fill('aac')]);
    for (const track of ['Programme', ...names]) expect(facts).toContain(track);
    expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
    expect(stepsOf(file)).toEqual([`1/${FPS * 1000}`, new Set([1000])]);
    expect(Math.abs(analyse(file).seconds - length)).toBeLessThan(0.1);
    for (const track of [0, 2]) {
      const wanted = programme.map((at) => at - from).filter((at) => at > 0.1 && at < length - 0.2);
      const got = beeps(file, track);
      expect(wanted.length).toBeGreaterThan(1);
      for (const at of wanted)
        expect([name, track, at, got.some((s) => Math.abs(s - at) < 0.004)]).toEqual([name, track, at, true]);
    }
  }
  // Nothing is left of the way to it.
  expect(readdirSync(copies).sort()).toEqual(['part.mp4', 'whole.mp4']);
});

test('both frames are made of the same moments, with the same sound, on the grid', async () => {
  const { wide } = SMALL_PLAN.frames;
  const { files } = await driven.record({
    records: [sampleShow, ...red],
    sceneId: 'talk',
    plan: {
      ...SMALL_PLAN,
      tracks: [{ track: 2, name: 'Voices' }],
      frames: { wide, tall: { ...wide!, width: 180, height: 320 } },
    },
    seconds: 5,
  });
  // Tracks are the same whatever the picture: they lie in one of the recordings.
  expect([files.wide!, files.tall!].map((file) => soundsIn(file))).toEqual([2, 1]);
  for (const [file, width, height] of [
    [files.wide!, 320, 180],
    [files.tall!, 180, 320],
  ] as const) {
    const got = analyse(file);
    expect(got.video).toMatchObject({ codec: 'h264', width, height });
    expect(got.stampsRise).toBe(true);
    expect(Math.abs(got.video.pictures - 5 * FPS)).toBeLessThanOrEqual(1);
    expect(got.keyframePictures).toEqual([2 * FPS, 2 * FPS]);
    expect(got.largestGapSeconds).toBeLessThan(1.02 / FPS);
    expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
    expect(marksOf(file, [255, 0, 0]).every((mark) => (mark?.share ?? 0) > 0.95)).toBe(true);
  }
});

test('black is black to other programs: the stream says how its planes are to be read', async () => {
  const bars = ['#000000', '#ffffff', '#ff0000', '#00ff00', '#0000ff', '#808080'];
  const width = 1920 / bars.length;
  const { files } = await driven.record({
    records: [
      sampleShow,
      sampleScene('bars', { background: '#000000' }),
      ...bars.map((colour, i) =>
        sampleLayer(`bar-${i}`, 'bars', i, {
          content: { type: 'shape', shape: 'rectangle', colour },
          wide: { cx: (i + 0.5) * width, width },
        }),
      ),
    ],
    sceneId: 'bars',
    plan: { ...SMALL_PLAN, tracks: [] },
    seconds: 3,
  });
  expect(ffprobe(files.wide!, 'stream=color_range,color_space,color_primaries')).toMatch(
    /^(tv|pc),bt709,bt709/,
  );
  const picture = spawnSync('ffmpeg', [
    ...['-v', 'error', '-ss', '2', '-i', files.wide!, '-frames:v', '1'],
    ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
  ]).stdout;
  bars.forEach((bar, i) => {
    const at = (90 * 320 + Math.round(((i + 0.5) * 320) / bars.length)) * 3;
    const wanted = [1, 3, 5].map((from) => parseInt(bar.slice(from, from + 2), 16));
    wanted.forEach((value, c) => expect(Math.abs(picture[at + c] - value), `${bar}, ${c}`).toBeLessThan(9));
  });
});

test('a machine that stands still: keyframes stay on their grid, and the rest is a gap', async () => {
  const { messages, report } = await driven.run({
    records: [sampleShow, ...red],
    sceneId: 'talk',
    // Over two keyframes of the grid, and over none.
    orders: [
      [3, { type: 'stall', seconds: 3.4 }],
      [8.4, { type: 'stall', seconds: 0.8 }],
    ],
    seconds: 13,
  });
  expect(report.skipped).toBeGreaterThan(3.5 * FPS);
  const stamps = messages.flatMap(({ of, message }) =>
    of === 'wide' && message.type === 'packet' && !message.cover ? [message.packet] : [],
  );
  const seconds = (of: { timestampUs: number }) => (of.timestampUs - stamps[0].timestampUs) / 1e6;
  expect(stamps.filter((p) => p.keyframe).map((p) => Math.round(seconds(p) * 1000) / 1000)).toEqual([
    0, 2, 4, 6, 8, 10, 12,
  ]);
  const steps = stamps.slice(1).map((p, i) => Math.round((seconds(p) - seconds(stamps[i])) * FPS));
  expect(Math.min(...steps)).toBe(1);
  expect(steps.filter((step) => step > 1)).toEqual([expect.any(Number), 2 * FPS, expect.any(Number), 12]);
});

test('a computer that is short of time makes evenly fewer pictures, every keyframe, and all of them again after it', async () => {
  const { wide } = SMALL_PLAN.frames;
  const { messages, report } = await driven.run({
    records: [sampleShow, ...red],
    sceneId: 'talk',
    plan: { ...SMALL_PLAN, frames: { wide: { ...wide!, fps: 30 } } },
    orders: [
      [2, { type: 'slow', seconds: 0.055 }],
      [12, { type: 'slow', seconds: 0 }],
    ],
    seconds: 25,
  });
  const packets = messages.flatMap(({ of, message }) =>
    of === 'wide' && message.type === 'packet' && !message.cover ? [message.packet] : [],
  );
  const at = packets.map(({ timestampUs }) => (timestampUs - packets[0].timestampUs) / 1e6);
  const keyframes = at.filter((_, i) => packets[i].keyframe).map((s) => Math.round(s * 1000) / 1000);
  expect(keyframes).toEqual([0, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24]);
  const steps = (from: number, to: number) =>
    at.slice(1).flatMap((s, i) => (s > from && s <= to ? [Math.round((s - at[i]) * 30)] : []));
  const short = steps(5, 12);
  // Driven time stands still while a picture is made: it looks as if there were room, and more is tried than on a real one.
  expect(short.filter((step) => step === 2).length / short.length).toBeGreaterThan(0.7);
  expect(new Set(steps(22, 25))).toEqual(new Set([1]));
  expect(report.pace).toBe(30);
  // What was left out on purpose is told apart from what was missed.
  expect(report.gaveWay).toBeGreaterThan(60);
  expect(report.due).toBeGreaterThanOrEqual(report.composed + report.gaveWay + report.skipped);
});

test('where the frame rate is to stay, a computer that is short of time draws smaller: the stream keeps its size', async () => {
  const { wide } = SMALL_PLAN.frames;
  const plan: AnyRecord = {
    ...{ kind: 'plan', id: 'plan', showId: 'show', name: 'Plan', position: 0 },
    ...{ ...PLAIN_PLAN, keep: 'rate', frames: { wide: { width: 320, height: 180, videoKbps: 600 } } },
  };
  const { files, scales } = await driven.record({
    records: [sampleShow, plan, ...red],
    sceneId: 'talk',
    plan: { ...SMALL_PLAN, frames: { wide: { ...wide!, fps: 30 } } },
    orders: [
      [2, { type: 'slow', seconds: 0.04 }],
      [10, { type: 'slow', seconds: 0 }],
    ],
    seconds: 24,
  });
  const between = (from: number, to: number) =>
    scales.filter(({ at }) => at > from && at < to).map(({ scale }) => scale);
  expect(new Set(between(0, 2))).toEqual(new Set([1]));
  expect(between(2, 12)).toContain(0.75);
  expect(Math.min(...between(2, 12))).toBe(0.5);
  expect(between(22, 24).at(-1)).toBe(1);
  const got = analyse(files.wide!);
  expect(got.video).toMatchObject({ codec: 'h264', width: 320, height: 180 });
  expect(
    got.keyframePictures.every((pictures) => pictures <= 60) && got.keyframePictures.length,
  ).toBeGreaterThan(9);
  expect(decodesCleanly(files.wide!)).toEqual({ clean: true, complaints: '' });
  // Every picture is the whole one, however it was drawn.
  expect(marksOf(files.wide!, [255, 0, 0]).every((mark) => (mark?.share ?? 0) > 0.95)).toBe(true);
});

test('another size and rate are sent from the next keyframe on: one stream, without a gap, and a file for each', async () => {
  const { wide } = SMALL_PLAN.frames;
  const small = { ...wide!, width: 160, height: 90, kbps: 250 };
  const { messages } = await driven.run({
    records: [sampleShow, ...red],
    sceneId: 'talk',
    orders: [
      [3, { type: 'plan', frames: { wide: small } }],
      [7.3, { type: 'plan', frames: { wide: { ...small, fps: 30 } } }],
      // Another rate alone.
      [10.5, { type: 'plan', frames: { wide: { ...small, fps: 30, kbps: 400 } } }],
    ],
    seconds: 15,
  });
  const packets = messages.flatMap(({ of, message }) =>
    of === 'wide' && message.type === 'packet' && !message.cover ? [message.packet] : [],
  );
  const seconds = packets.map(({ timestampUs }) => (timestampUs - packets[0].timestampUs) / 1e6);
  const keyframes = seconds.filter((_, i) => packets[i].keyframe).map((s) => Math.round(s * 1000) / 1000);
  expect(keyframes).toEqual([0, 2, 4, 6, 8, 10, 12, 14]);
  const steps = seconds.slice(1).map((at, i) => Math.round((at - seconds[i]) * 1000) / 1000);
  const [before, after] = [steps.slice(0, 8 * FPS), steps.slice(8 * FPS)];
  expect(before.every((step) => Math.abs(step - 1 / FPS) < 0.002)).toBe(true);
  expect(after.every((step) => Math.abs(step - 1 / 30) < 0.002)).toBe(true);

  const relay = new DrivenRelay(path.join(folder, 'changed'));
  relay.play(messages);
  await relay.end();
  const files = relay.fileNames
    .map((name) => path.join(folder, 'changed', name))
    .map((file) => ({
      file,
      ...analyse(file),
    }));
  expect(files.map(({ video }) => video.width)).toEqual([320, 160, 160]);
  for (const { file, stampsRise, largestGapSeconds } of files) {
    expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
    expect(stampsRise).toBe(true);
    expect(largestGapSeconds).toBeLessThan(1.1 / FPS);
    // What is composed is whole at every size.
    expect(marksOf(file, [255, 0, 0]).every((mark) => (mark?.share ?? 0) > 0.95)).toBe(true);
  }
  const all = files.reduce((sum, file) => sum + file.seconds, 0);
  expect(Math.abs(all - 15)).toBeLessThan(0.5);
});

test('a view of the page goes on showing movement after the frame rate was lowered', async () => {
  const { viewed } = await driven.run({
    records: [
      sampleShow,
      sampleInput('clapper', { source: { type: 'simulated', picture: 'sync-clapper' } }),
      sampleScene('check', { background: '#000000' }),
      sampleLayer('board', 'check', 0, { content: { type: 'input', inputId: 'clapper', fit: 'fill' } }),
    ],
    sceneId: 'check',
    viewedAtFps: 60,
    seconds: 3,
  });
  const steps = viewed.map((at, i) => at - (viewed[i - 1] ?? 0));
  expect(steps.length).toBeGreaterThan(20);
  expect(Math.max(...steps)).toBeLessThan(0.5);
});

test('a playlist runs without a gap, and tells its end', async () => {
  const clips = ['red', 'blue'].map((colour) => {
    const file = path.join(folder, `${colour}.mp4`);
    ffmpeg(
      `-f lavfi -i color=${colour}:size=320x180:rate=30 -t 1 -c:v libx264 -preset ultrafast -pix_fmt yuv420p ${file}`.split(
        ' ',
      ),
    );
    return { assetId: driven.asset(file, 'video/mp4'), name: `${colour}.mp4` };
  });
  const list = (id: string, atEnd: 'loop' | 'next'): AnyRecord[] => [
    {
      ...{ kind: 'input', id: `in-${id}`, showId: 'show', name: id, position: 0, ...PLAIN_INPUT },
      source: { type: 'clips', files: clips, order: 'listed', atEnd, start: 'on-air' },
    },
    sampleScene(id, { background: '#000000' }),
    sampleLayer(`ly-${id}`, id, 0, { content: { type: 'input', inputId: `in-${id}`, fit: 'fill' } }),
  ];
  const round = await driven.record({
    records: [sampleShow, ...list('round', 'loop')],
    sceneId: 'round',
    seconds: 6,
  });
  const is = (colour: [number, number, number]) =>
    marksOf(round.files.wide!, colour).map((mark) => (mark?.share ?? 0) > 0.9);
  const [reds, blues] = [is([255, 0, 0]), is([0, 0, 255])];
  expect(reds.every((yes, i) => yes !== blues[i])).toBe(true);
  const runs: number[] = [];
  reds.forEach((yes, i) => {
    if (i > 0 && yes === reds[i - 1]) runs[runs.length - 1] += 1;
    else runs.push(1);
  });
  // A second each, to the frame.
  expect(runs.length).toBeGreaterThan(4);
  for (const run of runs.slice(1, -1)) expect(run).toBe(FPS);

  const once = await driven.run({
    records: [sampleShow, sampleScene('before', { position: -1 }), ...list('once', 'next')],
    sceneId: 'before',
    orders: [
      [
        1,
        {
          type: 'take',
          stop: { sceneId: 'once', poseId: null },
          transition: {
            type: 'cut',
            seconds: 0,
            easing: 'linear',
            side: 'left',
            colour: '#000000',
            stinger: null,
          },
        },
      ],
    ],
    seconds: 5,
  });
  const ended = once.told.filter(({ message }) => message.type === 'clipsEnded');
  expect(ended).toHaveLength(1);
  // Two clips of a second, begun a moment after the press.
  expect(Math.abs(ended[0].at - 3.15)).toBeLessThan(2 / FPS);
});

test('a desk that goes away: the cover stands in, and it comes back where time has got to', async () => {
  const { messages } = await driven.run({ records: [sampleShow, ...red], sceneId: 'talk', seconds: 12 });
  const firstPicture = messages.find(
    ({ of, message }) => of === 'wide' && message.type === 'packet' && !message.cover,
  )!.atMs;
  const relay = new DrivenRelay(path.join(folder, 'away'));
  relay.play(messages, -Infinity, firstPicture + 4000);
  // Nothing comes for four seconds.
  relay.clock.advanceTo(firstPicture + 8000);
  expect(relay.session.state).toBe('covered');
  relay.play(messages, firstPicture + 8000);
  expect(relay.session.state).toBe('live');
  const files = await relay.end();
  const all = Object.values(files);
  expect(all.length).toBeGreaterThan(0);
  const names = relay.fileNames;
  let seconds = 0;
  let covered = 0;
  for (const name of names) {
    const file = path.join(folder, 'away', name);
    const { stampsRise, largestGapSeconds } = analyse(file);
    expect(stampsRise).toBe(true);
    expect(largestGapSeconds).toBeLessThan(1.5);
    expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
    seconds += analyse(file).seconds;
    covered += marksOf(file, [0x14, 0x18, 0x1d]).filter((mark) => (mark?.share ?? 0) > 0.5).length / FPS;
  }
  expect(Math.abs(seconds - 12)).toBeLessThan(2);
  // From where it stands in, 1.2 s after the last packet and a look later at most, to the keyframe at ten seconds.
  expect(covered).toBeGreaterThan(4.6);
  expect(covered).toBeLessThan(4.9);
  // Its headers are those of the pictures before and after it: they all lie in one file.
  expect(names).toHaveLength(1);
});
