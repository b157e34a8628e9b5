// Judges streams and recordings with ffprobe and ffmpeg: programs that were not written here.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

function tool(name, args, options = {}) {
  const { status, stdout, stderr, error } = spawnSync(name, args, { maxBuffer: 1 << 30, ...options });
  if (error) throw error;
  if (status !== 0) throw new Error(`${name} ended with ${status}: ${String(stderr).slice(-400)}`);
  return stdout;
}

/** Packets of a file: stamps in seconds, sizes, keyframes. */
function packets(file, stream) {
  const text = tool('ffprobe', [
    '-v',
    'error',
    '-select_streams',
    stream,
    '-show_entries',
    'packet=pts_time,dts_time,size,flags',
    '-of',
    'csv=p=0',
    file,
  ]).toString();
  return text
    .trim()
    .split('\n')
    .filter(Boolean)
    .map((line) => {
      const [pts, dts, size, flags] = line.split(',');
      return { pts: Number(pts), dts: Number(dts), size: Number(size), key: flags.startsWith('K') };
    });
}

/** What can be said about a file with one H.264 and one AAC stream. */
export function analyse(file) {
  const { streams } = JSON.parse(
    tool('ffprobe', ['-v', 'error', '-show_streams', '-of', 'json', file]).toString(),
  );
  const v = streams.find((s) => s.codec_type === 'video');
  const a = streams.find((s) => s.codec_type === 'audio');
  const video = packets(file, 'v:0');
  const audio = packets(file, 'a:0');
  const keys = video.flatMap((p, i) => (p.key ? [i] : []));
  const seconds = video.length > 1 ? video.at(-1).pts - video[0].pts : 0;
  let worst = 0;
  let from = 0;
  let sum = 0;
  for (const packet of video) {
    sum += packet.size;
    while (packet.pts - video[from].pts > 1.999) sum -= video[from++].size;
    worst = Math.max(worst, sum);
  }
  const bytes = video.reduce((total, p) => total + p.size, 0);
  const rising = (list) => list.every((p, i) => i === 0 || p.dts > list[i - 1].dts);
  return {
    video: {
      codec: v?.codec_name,
      profile: v?.profile,
      width: v?.width,
      height: v?.height,
      pictures: video.length,
    },
    audio: {
      codec: a?.codec_name,
      profile: a?.profile,
      sampleRate: Number(a?.sample_rate),
      channels: a?.channels,
      frames: audio.length,
    },
    seconds,
    fps: seconds > 0 ? (video.length - 1) / seconds : 0,
    kbps: seconds > 0 ? (bytes * 8) / 1000 / seconds : 0,
    worstTwoSecondsKbps: (worst * 8) / 1000 / 2,
    keyframePictures: keys.slice(1).map((k, i) => k - keys[i]),
    keyframeSeconds: keys.slice(1).map((k, i) => video[k].pts - video[keys[i]].pts),
    stampsRise: rising(video) && rising(audio),
    largestGapSeconds: Math.max(0, ...video.slice(1).map((p, i) => p.pts - video[i].pts)),
  };
}

const RATE = 48_000;
const BEEP_HZ = 1000;
const WINDOW = 240; // 5 ms
const HOP = 48; // 1 ms

/** Starts of the sync clapper's beeps, seconds on the file's clock: 1 kHz rising above a quarter of full scale. */
export function beeps(file, track = 0) {
  const start = packets(file, `a:${track}`)[0]?.pts ?? 0;
  const raw = tool('ffmpeg', [
    '-v',
    'error',
    '-i',
    file,
    '-map',
    `0:a:${track}`,
    '-ac',
    '1',
    '-ar',
    String(RATE),
    '-f',
    'f32le',
    '-',
  ]);
  const samples = new Float32Array(raw.buffer, raw.byteOffset, Math.floor(raw.length / 4));
  const found = [];
  let above = 0;
  let onset = 0;
  for (let at = 0; at + WINDOW <= samples.length; at += HOP) {
    let re = 0;
    let im = 0;
    for (let i = 0; i < WINDOW; i++) {
      const phase = (2 * Math.PI * BEEP_HZ * (at + i)) / RATE;
      re += samples[at + i] * Math.cos(phase);
      im += samples[at + i] * Math.sin(phase);
    }
    const amplitude = (2 * Math.hypot(re, im)) / WINDOW;
    if (amplitude > 0.22) {
      if (above === 0) onset = at;
      above += 1;
      // Half full means the tone began in the middle of the window.
      if (above === 60) found.push(start + (onset + WINDOW / 2) / RATE);
    } else above = 0;
  }
  return found;
}

/** Starts of the flashes: pictures in which the clapper's board is bright after one in which it is not. */
function flashes(file) {
  const video = packets(file, 'v:0');
  const raw = tool('ffmpeg', [
    '-v',
    'error',
    '-i',
    file,
    '-map',
    '0:v:0',
    '-vf',
    'crop=iw/8:ih/6:iw/2-iw/8:ih/2-ih/5,scale=8:8,format=gray',
    '-fps_mode',
    'passthrough',
    '-f',
    'rawvideo',
    '-',
  ]);
  const found = [];
  let bright = true;
  for (let i = 0; (i + 1) * 64 <= raw.length && i < video.length; i++) {
    let sum = 0;
    for (let k = 0; k < 64; k++) sum += raw[i * 64 + k];
    const now = sum / 64 > 190;
    if (now && !bright) found.push(video[i].pts);
    bright = now;
  }
  return found;
}

/**
 * Sound against picture from flashes and beeps that lie within half a second; positive: sound is late.
 * @param track of the sound, from 0
 * @returns {{ at: number, ms: number }[]}
 */
export function syncOffsets(file, track = 0) {
  const sounds = beeps(file, track);
  return flashes(file).flatMap((flash) => {
    const beep = sounds.find((s) => Math.abs(s - flash) < 0.5);
    return beep === undefined ? [] : [{ at: flash, ms: (beep - flash) * 1000 }];
  });
}

/**
 * The same for a part of a long file. Over the whole of it a gap in the sound would move all beeps after it, since samples
 * carry no stamps.
 */
export function syncOffsetsIn(file, fromSeconds, seconds) {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-part-'));
  try {
    const part = path.join(folder, 'part.mkv');
    tool('ffmpeg', [
      '-v',
      'error',
      '-ss',
      String(fromSeconds),
      '-i',
      file,
      '-t',
      String(seconds),
      '-c',
      'copy',
      part,
    ]);
    return syncOffsets(part).map(({ at, ms }) => ({ at: at + fromSeconds, ms }));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Whether every picture and sample decodes without a complaint. */
export function decodesCleanly(file) {
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-xerror', '-i', file, '-f', 'null', '-'], {
    maxBuffer: 1 << 26,
  });
  // The null muxer rounds to a rate it guesses and complains of its own rounding; stamps are judged by `analyse`.
  const complaints = String(stderr)
    .split('\n')
    .filter(
      (line) => line.trim() !== '' && !/^\[null @.*non monotonically increasing dts to muxer/.test(line),
    )
    .join('\n')
    .slice(0, 400);
  return { clean: status === 0 && complaints === '', complaints };
}

/** Pulls a stream into a file as it is; stops by itself after `seconds`. */
export function pullArguments(url, file, seconds) {
  return [
    '-v',
    'error',
    '-y',
    '-rw_timeout',
    '8000000',
    '-i',
    url,
    '-t',
    String(seconds),
    '-c',
    'copy',
    file,
  ];
}
