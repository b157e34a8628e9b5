import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { ALL_FORMATS, EncodedPacketSink, FilePathSource, Input } from 'mediabunny';
import type { MediaPacket } from '../../core/media/interleaver';
import type { ConfigMessage } from '../../protocol/uplink';

export interface SampleStream {
  configs: ConfigMessage[];
  /** In the order of their stamps. */
  packets: MediaPacket[];
}

/** A real H.264 and AAC stream made by ffmpeg's test sources: 30 pictures a second, a keyframe every 2 s. */
export async function makeSampleStream(
  seconds: number,
  options: { file?: string; kbps?: number; size?: string } = {},
): Promise<SampleStream> {
  const { kbps = 400, size = '320x180' } = options;
  const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-sample-'));
  const file = options.file ?? path.join(folder, 'sample.mp4');
  try {
    const { status, stderr } = spawnSync('ffmpeg', [
      ...[
        '-v',
        'error',
        '-f',
        'lavfi',
        '-i',
        `testsrc2=size=${size}:rate=30`,
        '-f',
        'lavfi',
        '-i',
        'sine=frequency=440:sample_rate=48000',
      ],
      ...[
        '-t',
        String(seconds),
        '-c:v',
        'libx264',
        '-bf',
        '0',
        '-g',
        '60',
        '-keyint_min',
        '60',
        '-sc_threshold',
        '0',
        '-b:v',
        `${kbps}k`,
        '-pix_fmt',
        'yuv420p',
      ],
      ...['-c:a', 'aac', '-ac', '2', '-b:a', '96k', file],
    ]);
    if (status !== 0) throw new Error(String(stderr));
    const input = new Input({ source: new FilePathSource(file), formats: ALL_FORMATS });
    const video = (await input.getPrimaryVideoTrack())!;
    const audio = (await input.getPrimaryAudioTrack())!;
    const description = async (track: typeof video | typeof audio) =>
      new Uint8Array((await track.getDecoderConfig())!.description as ArrayBuffer);
    const packets: MediaPacket[] = [];
    for (const [track, name] of [
      [video, 'video'],
      [audio, 'audio'],
    ] as const)
      for await (const packet of new EncodedPacketSink(track).packets())
        if (packet.timestamp >= 0)
          packets.push({
            track: name,
            timestampUs: Math.round(packet.timestamp * 1e6),
            durationUs: Math.round(packet.duration * 1e6),
            keyframe: packet.type === 'key',
            payload: packet.data,
          });
    packets.sort((a, b) => a.timestampUs - b.timestampUs || (a.track === 'video' ? -1 : 1));
    return {
      configs: [
        {
          type: 'config',
          cover: false,
          track: 'video',
          encode: 'wide',
          facts: { codec: 'avc1.64000d', width: 320, height: 180, fps: 30, kbps: 400 },
          codecConfig: await description(video),
        },
        {
          type: 'config',
          cover: false,
          track: 'audio',
          facts: {
            codec: 'mp4a.40.2',
            sampleRate: 48_000,
            channels: 2,
            kbps: 96,
            soundTrack: 1,
            name: 'Programme',
            tracksBeside: 0,
          },
          codecConfig: await description(audio),
        },
      ],
      packets,
    };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
