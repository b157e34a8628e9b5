/** Copies in another container, judged by ffprobe and ffmpeg: the same samples at the same moments, whatever the file. */
import { spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { analyse, decodesCleanly } from '../../scripts/lib/analyse.mjs';
import { rewrap } from '../lib/rewrap';

let folder: string;
const at = (name: string) => path.join(folder, name);

function ffmpeg(args: string): string {
  const { status, stderr, stdout } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...args.split(' ')], {
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(stderr);
  return stdout;
}

/** A sum of every sample's bytes, and when it is shown, without decoding. */
function samples(file: string, stream: string): { sums: string[]; seconds: number[] } {
  const filter = stream.startsWith('0:v') ? '-bsf:v h264_mp4toannexb ' : '';
  const lines = ffmpeg(`-i ${file} -map ${stream} -c copy ${filter}-f framemd5 -`).split('\n');
  const base = Number(/#tb 0: 1\/(\d+)/.exec(lines.join('\n'))?.[1]);
  const rows = lines.filter((l) => l && !l.startsWith('#')).map((l) => l.split(',').map((f) => f.trim()));
  return { sums: rows.map((r) => r.at(-1)!), seconds: rows.map((r) => Number(r[2]) / base) };
}

beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-vault-'));
  const pictures = '-f lavfi -i testsrc2=size=320x180:rate=30';
  const sounds =
    '-f lavfi -i sine=frequency=440:sample_rate=48000 -f lavfi -i sine=frequency=880:sample_rate=44100';
  const encode = '-c:v libx264 -preset ultrafast -bf 0 -g 60 -c:a aac -b:a 96k';
  ffmpeg(
    `${pictures} ${sounds} -t 12 -map 0 -map 1 -map 2 ${encode} -metadata:s:a:0 title=Programme -metadata:s:a:1 title=Voices ${at('two.mkv')}`,
  );
  ffmpeg(`${pictures} -t 6 ${encode} ${at('mute.mkv')}`);
  ffmpeg(`${pictures} -t 4 -c:v libvpx -b:v 300k ${at('other.webm')}`);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function same(a: string, b: string, streams: readonly string[]): void {
  for (const stream of streams) {
    const [x, y] = [samples(a, stream), samples(b, stream)];
    expect(y.sums).toEqual(x.sums);
    const start = x.seconds[0] - y.seconds[0];
    for (const [i, second] of x.seconds.entries())
      expect(Math.abs(second - y.seconds[i] - start)).toBeLessThan(0.004);
  }
}

describe('a recording becomes an MP4', () => {
  test('with every track, sample by sample, at the same moments, and can be played while it is fetched', async () => {
    const file = at('two.mp4');
    expect(await rewrap({ from: at('two.mkv'), file, to: 'mp4' })).toMatchObject({ type: 'done' });
    same(at('two.mkv'), file, ['0:v:0', '0:a:0', '0:a:1']);
    expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
    const bytes = readFileSync(file).toString('latin1');
    expect(bytes.indexOf('moov')).toBeLessThan(bytes.indexOf('mdat'));
    const names = spawnSync(
      'ffprobe',
      [
        '-v',
        'error',
        '-show_entries',
        'stream=codec_type,sample_rate:stream_tags=handler_name',
        '-of',
        'csv=p=0',
        file,
      ],
      { encoding: 'utf8' },
    ).stdout;
    expect(names).toContain('Programme');
    expect(names).toContain('Voices');
    expect(names).toContain('44100');
  });

  test('also without sound', async () => {
    const file = at('mute.mp4');
    expect(await rewrap({ from: at('mute.mkv'), file, to: 'mp4' })).toMatchObject({ type: 'done' });
    same(at('mute.mkv'), file, ['0:v:0']);
  });

  test('cut out of the middle it begins with the keyframe before and keeps sound and picture together', async () => {
    const file = at('cut.mp4');
    const done = await rewrap({ from: at('two.mkv'), file, to: 'mp4', fromSeconds: 5, toSeconds: 9 });
    expect(done).toMatchObject({ type: 'done' });
    const { seconds, keyframePictures } = analyse(file);
    expect(seconds).toBeGreaterThan(4.9);
    expect(seconds).toBeLessThan(5.1);
    expect(keyframePictures[0]).toBe(60);
    expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
    const whole = samples(at('two.mkv'), '0:v:0').sums;
    expect(samples(file, '0:v:0').sums).toEqual(whole.slice(120, 270));
  });

  test('one that was cut off gives everything up to its last whole sample', async () => {
    const from = at('broken.mkv');
    writeFileSync(from, readFileSync(at('two.mkv')));
    truncateSync(from, Math.floor(statSync(from).size * 0.7));
    for (const to of ['mp4', 'mkv'] as const) {
      const file = at(`mended.${to}`);
      expect(await rewrap({ from, file, to })).toMatchObject({ type: 'done' });
      expect(decodesCleanly(file)).toEqual({ clean: true, complaints: '' });
      expect(analyse(file).seconds).toBeGreaterThan(6);
    }
  });
});

test('other kinds of files go another way, and back to Matroska as well', async () => {
  const vp8 = at('other.mkv');
  expect(await rewrap({ from: at('other.webm'), file: vp8, to: 'mkv' })).toMatchObject({ type: 'done' });
  const back = at('back.mkv');
  expect(await rewrap({ from: at('two.mp4'), file: back, to: 'mkv' })).toMatchObject({ type: 'done' });
  same(at('two.mkv'), back, ['0:v:0', '0:a:0']);
});

test('what is no recording is refused in words', async () => {
  writeFileSync(at('words.mkv'), 'This is a letter, not a film.');
  const failed = await rewrap({ from: at('words.mkv'), file: at('words.mp4'), to: 'mp4' });
  expect(failed.type).toBe('failed');
  expect(existsSync(at('words.mkv'))).toBe(true);
  writeFileSync(at('empty.mkv'), '');
  expect((await rewrap({ from: at('empty.mkv'), file: at('empty.mp4'), to: 'mp4' })).type).toBe('failed');
});
