import { closeSync, existsSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import path from 'node:path';
import {
  EncodedAudioPacketSource,
  EncodedPacket,
  EncodedVideoPacketSource,
  MkvOutputFormat,
  Output,
  StreamTarget,
} from 'mediabunny';
import { rateOf } from '../../core/delivery/picture-grid';
import { Fault, messageOf } from '../../core/fault';
import type { RingPacket } from '../../core/delivery/group-ring';
import type { FrameName } from '../../core/show/records';
import type { KeepOrder } from '../../protocol/relay-orders';
import type { RecordingConfig } from './recorder';

/** So many packets, then others get a turn: keeping minutes must not hold up what is being sent. */
const TURN = 400;

/**
 * Saves a stretch of the past as a Matroska file of its own, with length and index, beginning on a keyframe. The file has
 * its name only when it is whole.
 * @throws Fault `lookback.write`
 */
export async function keepClip(
  past: { config: RecordingConfig; packets: Generator<RingPacket> },
  order: KeepOrder,
  frame: FrameName,
): Promise<{ file: string; seconds: number; bytes: number; firstUs: number }> {
  const file = freeName(order.folder, frame === 'wide' ? order.name : `${order.name} ${frame}`);
  const unfinished = `${file}.part`;
  let descriptor: number | null = null;
  let bytes = 0;
  let seconds = 0;
  try {
    const fd = openSync(unfinished, 'w', 0o600);
    descriptor = fd;
    const target = new StreamTarget(
      new WritableStream<{ data: Uint8Array; position: number }>({
        write: ({ data, position }) => {
          let written = 0;
          while (written < data.length)
            written += writeSync(fd, data, written, data.length - written, position + written);
          bytes = Math.max(bytes, position + data.length);
        },
      }),
      { chunked: true },
    );
    const output = new Output({ format: new MkvOutputFormat(), target });
    const video = new EncodedVideoPacketSource('avc');
    const audio = new EncodedAudioPacketSource('aac');
    output.addVideoTrack(video, { frameRate: rateOf(past.config.video.facts.fps) });
    output.addAudioTrack(audio);
    await output.start();
    const { facts: v, codecConfig } = past.config.video;
    const { facts: a, codecConfig: sound } = past.config.audio;
    let firstUs: number | null = null;
    let begun = { video: false, audio: false };
    let turn = 0;
    for (const packet of past.packets) {
      firstUs ??= packet.timestampUs;
      const at = (packet.timestampUs - firstUs) / 1e6;
      seconds = Math.max(seconds, at + packet.durationUs / 1e6);
      const encoded = new EncodedPacket(
        packet.payload,
        packet.track === 'audio' || packet.keyframe ? 'key' : 'delta',
        at,
        packet.durationUs / 1e6,
      );
      if (packet.track === 'video')
        await video.add(
          encoded,
          begun.video
            ? undefined
            : {
                decoderConfig: {
                  codec: v.codec,
                  codedWidth: v.width,
                  codedHeight: v.height,
                  description: codecConfig,
                },
              },
        );
      else
        await audio.add(
          encoded,
          begun.audio
            ? undefined
            : {
                decoderConfig: {
                  codec: a.codec,
                  sampleRate: a.sampleRate,
                  numberOfChannels: a.channels,
                  description: sound,
                },
              },
        );
      begun = { ...begun, [packet.track]: true };
      turn += 1;
      if (turn % TURN === 0) await new Promise((resolve) => setImmediate(resolve));
    }
    await output.finalize();
    closeSync(fd);
    descriptor = null;
    renameSync(unfinished, file);
    return { file: path.basename(file), seconds, bytes, firstUs: firstUs ?? 0 };
  } catch (error) {
    if (descriptor !== null) closeSync(descriptor);
    rmSync(unfinished, { force: true });
    throw new Fault(
      'lookback.write',
      `The clip could not be saved: ${messageOf(error)}. What can be looked back on is still there: make room and keep it again.`,
    );
  }
}

/** A name that no file has yet. */
function freeName(folder: string, name: string): string {
  for (let n = 1; ; n++) {
    const file = path.join(folder, `${name}${n === 1 ? '' : ` ${n}`}.mkv`);
    if (!existsSync(file)) return file;
  }
}
