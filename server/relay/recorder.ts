import { closeSync, fstatSync, mkdirSync, openSync, writeSync } from 'node:fs';
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
import { messageOf } from '../../core/fault';
import type { MediaPacket } from '../../core/media/interleaver';
import type { TrackOfFile } from './recording-tracks';
import type { AudioFacts, VideoFacts } from '../../protocol/uplink';

export interface RecordingTrack {
  facts: AudioFacts;
  codecConfig: Uint8Array;
}

export interface RecordingConfig {
  video: { facts: VideoFacts; codecConfig: Uint8Array };
  audio: RecordingTrack;
  /** Tracks beside the programme. */
  tracks: RecordingTrack[];
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
  /** By number of the track; 1 is the programme. */
  readonly #sound = new Map<
    number,
    { source: EncodedAudioPacketSource; of: RecordingTrack; begun: boolean }
  >();
  #work: Promise<void> = Promise.resolve();
  #descriptor: number | null = null;
  #firstUs: number | null = null;
  #begun = false;
  #closing = false;

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
    // With a rate the muxer moves pictures onto a grid from the file's beginning: they are on it, since it begins with one.
    this.#output.addVideoTrack(this.#video, { frameRate: rateOf(config.video.facts.fps) });
    for (const of of [config.audio, ...config.tracks]) {
      const source = new EncodedAudioPacketSource(of.facts.codec === 'opus' ? 'opus' : 'aac');
      this.#sound.set(of.facts.soundTrack, { source, of, begun: false });
      this.#output.addAudioTrack(source, { name: of.facts.name });
    }
    const output = this.#output;
    this.#then(() => output.start());
  }

  add(packet: MediaPacket): void {
    if (!this.#output || this.message !== '') return;
    if (this.#firstUs === null && packet.track !== 'video') return;
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
    if (packet.track === 'video') {
      const { facts, codecConfig } = this.config.video;
      const meta = this.#begun
        ? undefined
        : {
            decoderConfig: {
              codec: facts.codec,
              codedWidth: facts.width,
              codedHeight: facts.height,
              description: codecConfig,
            },
          };
      this.#begun = true;
      this.#then(() => this.#video.add(encoded, meta));
      return;
    }
    const sound = this.#sound.get(packet.soundTrack ?? 1);
    if (!sound) return;
    const { facts, codecConfig } = sound.of;
    const meta = sound.begun
      ? undefined
      : {
          decoderConfig: {
            codec: facts.codec,
            sampleRate: facts.sampleRate,
            numberOfChannels: facts.channels,
            description: codecConfig,
          },
        };
    sound.begun = true;
    this.#then(() => sound.source.add(encoded, meta));
  }

  /** Whether somebody deleted the file while it is written: what goes into it then is lost, and nothing says so. */
  get deleted(): boolean {
    return this.#descriptor !== null && fstatSync(this.#descriptor).nlink === 0;
  }

  /** The tracks beside the programme. */
  get tracks(): TrackOfFile[] {
    return this.config.tracks.map(({ facts }) => ({ track: facts.soundTrack, codec: facts.codec }));
  }

  /** Finishes the file; resolves when it is closed. */
  async close(): Promise<void> {
    const output = this.#output;
    if (output && this.message === '' && this.#begun && !this.#closing) this.#then(() => output.finalize());
    this.#closing = true;
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
    this.message = `Recording stopped: ${what}. The broadcast continues, and what was recorded so far is kept.`;
    this.#closeFile();
  }

  #closeFile(): void {
    if (this.#descriptor === null) return;
    closeSync(this.#descriptor);
    this.#descriptor = null;
  }
}
