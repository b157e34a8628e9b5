import { closeSync, mkdirSync, openSync, writeSync } from 'node:fs';
import path from 'node:path';
import {
  EncodedAudioPacketSource,
  EncodedPacket,
  EncodedVideoPacketSource,
  MkvOutputFormat,
  Output,
  StreamTarget,
} from 'mediabunny';
import { messageOf } from '../../core/fault';
import type { MediaPacket } from '../../core/media/interleaver';
import type { AudioFacts, VideoFacts } from '../../protocol/uplink';

export interface RecordingConfig {
  video: { facts: VideoFacts; codecConfig: Uint8Array };
  audio: { facts: AudioFacts; codecConfig: Uint8Array };
}

/**
 * Writes Matroska as it goes: append only, each write goes to the file at once, so that whatever kills this process
 * costs the last cluster (about a second) and nothing else.
 */
export class Recorder {
  readonly file: string;
  bytes = 0;
  seconds = 0;
  /** Why the recording stopped, for the user; empty while it runs. */
  message = '';
  readonly #output: Output | null = null;
  readonly #video = new EncodedVideoPacketSource('avc');
  readonly #audio = new EncodedAudioPacketSource('aac');
  #work: Promise<void> = Promise.resolve();
  #descriptor: number | null = null;
  #firstUs: number | null = null;
  #sent = { video: false, audio: false };

  constructor(
    folder: string,
    name: string,
    readonly config: RecordingConfig,
  ) {
    this.file = path.join(folder, name);
    try {
      mkdirSync(folder, { recursive: true });
      this.#descriptor = openSync(this.file, 'wx', 0o600);
    } catch (error) {
      this.#stop(error);
      return;
    }
    const target = new StreamTarget(
      new WritableStream<{ data: Uint8Array; position: number }>({
        write: ({ data, position }) => this.#write(data, position),
      }),
    );
    this.#output = new Output({ format: new MkvOutputFormat({ appendOnly: true }), target });
    // No frame rate: with one the muxer would move pictures onto its own grid, away from their sound.
    this.#output.addVideoTrack(this.#video);
    this.#output.addAudioTrack(this.#audio);
    const output = this.#output;
    this.#then(() => output.start());
  }

  add(packet: MediaPacket): void {
    if (!this.#output || this.message !== '') return;
    this.#firstUs ??= packet.timestampUs;
    const at = (packet.timestampUs - this.#firstUs) / 1e6;
    if (at < 0) return;
    this.seconds = Math.max(this.seconds, at + packet.durationUs / 1e6);
    // The payload lives in the message it came in, which is gone by the time the muxer gets to it.
    const encoded = new EncodedPacket(
      packet.payload.slice(),
      packet.track === 'audio' || packet.keyframe ? 'key' : 'delta',
      at,
      packet.durationUs / 1e6,
    );
    const first = !this.#sent[packet.track];
    this.#sent[packet.track] = true;
    if (packet.track === 'video') {
      const { facts, codecConfig } = this.config.video;
      const meta = first
        ? {
            decoderConfig: {
              codec: facts.codec,
              codedWidth: facts.width,
              codedHeight: facts.height,
              description: codecConfig,
            },
          }
        : undefined;
      this.#then(() => this.#video.add(encoded, meta));
    } else {
      const { facts, codecConfig } = this.config.audio;
      const meta = first
        ? {
            decoderConfig: {
              codec: facts.codec,
              sampleRate: facts.sampleRate,
              numberOfChannels: facts.channels,
              description: codecConfig,
            },
          }
        : undefined;
      this.#then(() => this.#audio.add(encoded, meta));
    }
  }

  /** Finishes the file; resolves when it is closed. */
  async close(): Promise<void> {
    const output = this.#output;
    if (output && this.message === '' && this.#sent.video) this.#then(() => output.finalize());
    await this.#work;
    this.#closeFile();
  }

  #then(step: () => Promise<void>): void {
    this.#work = this.#work.then(async () => {
      if (this.message !== '') return;
      try {
        await step();
      } catch (error) {
        this.#stop(error);
      }
    });
  }

  #write(data: Uint8Array, position: number): void {
    if (this.#descriptor === null) return;
    try {
      let written = 0;
      while (written < data.length)
        written += writeSync(this.#descriptor, data, written, data.length - written, position + written);
      this.bytes = Math.max(this.bytes, position + data.length);
    } catch (error) {
      this.#stop(error);
    }
  }

  #stop(error: unknown): void {
    const code = (error as NodeJS.ErrnoException).code;
    const what =
      code === 'ENOSPC'
        ? 'the disk is full'
        : code === 'EACCES' || code === 'EROFS' || code === 'EPERM'
          ? 'the folder cannot be written'
          : messageOf(error);
    this.message = `Recording stopped: ${what}. The broadcast goes on, and what was recorded so far is kept.`;
    this.#closeFile();
  }

  #closeFile(): void {
    if (this.#descriptor === null) return;
    closeSync(this.#descriptor);
    this.#descriptor = null;
  }
}
