/** Copies of videos that cost less to show, by ffmpeg: smaller, slower, and quick to begin anywhere. */
import { randomUUID } from 'node:crypto';
import { execFile } from 'node:child_process';
import { createReadStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { promisify } from 'node:util';
import { Fault } from '../../core/fault';
import type { Size } from '../../core/geometry/rect';
import type { MediaFacts } from '../../core/media/media-cost';
import type { AssetFacts, AssetStore } from './asset-store';
import { runFfmpeg } from './run-ffmpeg';

const run = promisify(execFile);

export interface VideoFacts extends MediaFacts {
  kind: 'clips';
  seconds: number;
  codec: string;
  /** It has transparency, which only some codecs carry. */
  clear: boolean;
}

export type CopyProgress = { share: number } | { asset: AssetFacts };

/** @throws Fault `copy.noProgram`, `copy.unreadable` */
export async function videoFacts(file: string): Promise<VideoFacts> {
  let stdout: string;
  try {
    ({ stdout } = await run(
      'ffprobe',
      [
        ...['-v', 'error', '-select_streams', 'v:0', '-of', 'json', '-show_entries'],
        'stream=width,height,avg_frame_rate,codec_name,pix_fmt:stream_tags:format=duration',
        file,
      ],
      { timeout: 20_000 },
    ));
  } catch (error) {
    throw (error as NodeJS.ErrnoException).code === 'ENOENT'
      ? new Fault('copy.noProgram', 'lighter copies need ffmpeg on the server: install it', { cause: error })
      : new Fault('copy.unreadable', 'this file cannot be read: bring it in again', { cause: error });
  }
  const { streams, format } = JSON.parse(stdout) as {
    streams: {
      width: number;
      height: number;
      avg_frame_rate: string;
      codec_name: string;
      pix_fmt?: string;
      tags?: Record<string, string>;
    }[];
    format: { duration?: string };
  };
  const stream = streams[0];
  if (!stream) throw new Fault('copy.unreadable', 'there is no picture in this file');
  const [pictures, seconds] = stream.avg_frame_rate.split('/').map(Number);
  return {
    kind: 'clips',
    width: stream.width,
    height: stream.height,
    fps: seconds > 0 ? pictures / seconds : 0,
    seconds: Number(format.duration ?? 0),
    codec: stream.codec_name,
    // Matroska's names of tags come in both cases.
    clear:
      Object.entries(stream.tags ?? {}).some(([k, v]) => k.toLowerCase() === 'alpha_mode' && v === '1') ||
      (stream.pix_fmt ?? '').startsWith('yuva'),
  };
}

/** What ffmpeg's own VP8 and VP9 leave out: the transparency. */
const CLEAR_DECODERS: Record<string, string> = { vp8: 'libvpx', vp9: 'libvpx-vp9' };

/**
 * Makes the copy, telling how far it is; the last word is the new file.
 * @param signal ends it; nothing is left behind then
 * @throws Fault `copy.*`
 */
export async function* lighterCopy(
  assets: AssetStore,
  assetId: string,
  target: Size & { fps: number },
  signal: AbortSignal,
): AsyncGenerator<CopyProgress> {
  const asset = assets.find(assetId);
  if (!asset) throw new Fault('copy.missing', 'this file is gone');
  const from = assets.pathOf(assetId);
  const facts = await videoFacts(from);
  const file = path.join(assets.folder, `${randomUUID()}.part.${facts.clear ? 'webm' : 'mp4'}`);
  try {
    const args = [
      ...(facts.clear && CLEAR_DECODERS[facts.codec] ? ['-c:v', CLEAR_DECODERS[facts.codec]] : []),
      ...['-i', from, '-map', '0:v:0', '-map', '0:a:0?'],
      ...['-vf', `fps=${target.fps},scale=${target.width}:${target.height}:flags=lanczos`],
      // A keyframe each second: a clip that begins again, or in the middle, need not decode its past.
      ...['-g', String(Math.max(1, Math.round(target.fps)))],
      ...(facts.clear
        ? [
            ...['-c:v', 'libvpx-vp9', '-pix_fmt', 'yuva420p', '-crf', '24', '-b:v', '0'],
            ...['-deadline', 'realtime', '-cpu-used', '6', '-auto-alt-ref', '0', '-c:a', 'libopus'],
          ]
        : [
            ...['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-pix_fmt', 'yuv420p', '-bf', '0'],
            ...['-c:a', 'aac', '-b:a', '160k', '-movflags', '+faststart'],
          ]),
      file,
    ];
    for await (const share of runFfmpeg(args, { seconds: facts.seconds, signal })) yield { share };
    const name = asset.name.replace(
      /(\.\w+)?$/,
      ` ${target.width}×${target.height}.${facts.clear ? 'webm' : 'mp4'}`,
    );
    const { size } = await stat(file);
    yield { asset: await assets.add(name, createReadStream(file), Date.now(), size) };
  } finally {
    await rm(file, { force: true });
  }
}
